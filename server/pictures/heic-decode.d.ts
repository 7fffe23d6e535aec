declare module 'heic-decode' {
  interface HeicPicture {
    width: number;
    height: number;
    /** Pixels, RGBA. @throws Error when it is damaged */
    decode(): Promise<{ width: number; height: number; data: Uint8ClampedArray }>;
  }
  const decode: {
    /** The pictures of a file, none of them decoded yet. @throws Error when it holds none */
    all(input: { buffer: Uint8Array }): Promise<HeicPicture[] & { dispose(): void }>;
  };
  export default decode;
}
