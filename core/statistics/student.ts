/** Natural logarithm of the gamma function, x > 0 (Lanczos 1964, g = 7, from memory; checked against jstat). */
export function logGamma(x: number): number {
  const c = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ];
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const z = x - 1;
  const sum = c.slice(1).reduce((total, ci, i) => total + ci / (z + i + 1), c[0]!);
  const t = z + 7.5;
  return 0.5 * Math.log(2 * Math.PI) + (z + 0.5) * Math.log(t) - t + Math.log(sum);
}

/** The regularized incomplete beta function, by its continued fraction (Lentz; Numerical Recipes, ch. 6, from memory). */
export function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x));
  return x < (a + 1) / (a + b + 2) ? (front * fraction(x, a, b)) / a : 1 - (front * fraction(1 - x, b, a)) / b;
}

const TINY = 1e-300;

function fraction(x: number, a: number, b: number): number {
  let c = 1;
  let d = 1 / nonZero(1 - ((a + b) * x) / (a + 1));
  let h = d;
  for (let m = 1; m <= 300; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / nonZero(1 + even * d);
    c = nonZero(1 + even / c);
    h *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / nonZero(1 + odd * d);
    c = nonZero(1 + odd / c);
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < 1e-14) break;
  }
  return h;
}

const nonZero = (v: number): number => (Math.abs(v) < TINY ? TINY : v);

/** Student's distribution: the probability of at most t, with `freedom` degrees of freedom. */
export function studentCdf(t: number, freedom: number): number {
  const tail = 0.5 * incompleteBeta(freedom / (freedom + t * t), freedom / 2, 0.5);
  return t > 0 ? 1 - tail : tail;
}

/**
 * Student's distribution: the t that is passed with a probability of 1 − `share`, by halving.
 * @param share 0 to 1, apart from both ends
 */
export function studentQuantile(share: number, freedom: number): number {
  let [low, high] = [-1, 1];
  while (studentCdf(low, freedom) > share) low *= 2;
  while (studentCdf(high, freedom) < share) high *= 2;
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (studentCdf(middle, freedom) < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
