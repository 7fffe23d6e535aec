declare module 'jstat' {
  export const jStat: {
    studentt: { cdf(t: number, freedom: number): number; inv(share: number, freedom: number): number };
    ibeta(x: number, a: number, b: number): number | false;
    gammaln(x: number): number;
  };
}
