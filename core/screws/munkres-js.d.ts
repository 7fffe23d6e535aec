/** The part of npm `munkres-js` that the checks use: a minimum-cost assignment as [row, column] pairs. */
declare module 'munkres-js' {
  export default function munkres(costs: number[][]): [row: number, column: number][];
}
