declare module 'perspective-transform' {
  export default function transform(
    from: number[],
    to: number[],
  ): { transform(x: number, y: number): [number, number] };
}
