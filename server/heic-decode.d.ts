declare module 'heic-decode' {
  /** Pixels of the first picture, RGBA. @throws Error when it is none */
  export default function decode(input: {
    buffer: Uint8Array;
  }): Promise<{ width: number; height: number; data: Uint8ClampedArray }>;
}
