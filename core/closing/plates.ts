/**
 * Stiffness and strength of what is pressed. Origin: glass 70 GPa and 0.22 (Incropera & DeWitt do not give them; common
 * tables, from memory). `stress`: 16.6 MPa is what edges of annealed float glass are let bear for seconds (ASTM E1300,
 * edge stress, from memory); a device's glass bears more while it is whole, and a scratched one may not.
 */
export const GLASS = { modulus: 70_000, poisson: 0.22, stress: 16.6 } as const;

/**
 * A force on a beam on two supports, so far from one of them: under it M = F a (L − a) / L and
 * δ = F a² (L − a)² / (3 E I L), which in the middle is F L³ / 48 E I (Roark's Formulas, table 8.1, from memory).
 * @returns N·mm and mm
 */
export function offsetLoad(
  newtons: number,
  span: number,
  at: number,
  modulus: number,
  inertia: number,
): { moment: number; deflection: number } {
  const rest = span - at;
  return {
    moment: (newtons * at * rest) / span,
    deflection: (newtons * (at * rest) ** 2) / (3 * modulus * inertia * span),
  };
}

/** Bending stress of a rectangular section, MPa: σ = 6 M / (b t²). */
export const bendingStress = (moment: number, breadth: number, thickness: number): number =>
  (6 * moment) / (breadth * thickness ** 2);

/** Second moment of area of a rectangular section, mm⁴: b t³ / 12. */
export const inertiaOf = (breadth: number, thickness: number): number => (breadth * thickness ** 3) / 12;

/** a/b, β and α of a simply supported rectangular plate under even pressure (Roark's Formulas, table 11.4, case 1a, ν = 0.3, from memory). */
const PLATE: readonly [ratio: number, beta: number, alpha: number][] = [
  [1, 0.2874, 0.0444],
  [1.2, 0.3762, 0.0616],
  [1.4, 0.453, 0.077],
  [1.6, 0.5172, 0.0906],
  [1.8, 0.5688, 0.1017],
  [2, 0.6102, 0.111],
  [3, 0.7134, 0.1335],
  [4, 0.741, 0.14],
  [5, 0.7476, 0.1417],
];
const LONG = { beta: 0.75, alpha: 0.1421 } as const;

/**
 * A rectangular plate held all round its rim, under even pressure: σ = β q b² / t² and y = α q b⁴ / (E t³), at its middle.
 * @param pressure MPa
 * @param sides mm, in any order
 * @returns stress in MPa and deflection in mm
 */
export function evenPressure(
  pressure: number,
  sides: readonly [number, number],
  thickness: number,
  modulus: number,
): { stress: number; deflection: number } {
  const [b, a] = sides[0] < sides[1] ? sides : [sides[1], sides[0]];
  const ratio = a / b;
  let { beta, alpha }: { beta: number; alpha: number } = LONG;
  for (let i = 0; i + 1 < PLATE.length; i++) {
    const [r0, b0, a0] = PLATE[i]!;
    const [r1, b1, a1] = PLATE[i + 1]!;
    if (ratio > r1) continue;
    const t = Math.max(0, (ratio - r0) / (r1 - r0));
    [beta, alpha] = [b0 + t * (b1 - b0), a0 + t * (a1 - a0)];
    break;
  }
  return {
    stress: (beta * pressure * b * b) / thickness ** 2,
    deflection: (alpha * pressure * b ** 4) / (modulus * thickness ** 3),
  };
}

/** λ of a beam on an elastic bed, mm: √[4](4 E I / k); k in N/mm for each mm (Hetényi 1946, from memory). */
export const bedLength = (modulus: number, inertia: number, bed: number): number =>
  ((4 * modulus * inertia) / bed) ** 0.25;

/** What a load on a beam on an elastic bed presses at z = x/λ beside it, 1 beneath it: e^−z (cos z + sin z) (Hetényi 1946, from memory). */
export const bedShape = (z: number): number => (z > 30 ? 0 : Math.exp(-z) * (Math.cos(z) + Math.sin(z)));

/**
 * The pressure midway between equal loads on a beam on an elastic bed, as a share of the mean: the sum of what every load
 * presses there, φ = e^−z (cos z + sin z) with z = x/λ (Hetényi 1946, from memory). Loads that stand apart lift it: below 0.
 * @param spacing mm between two loads
 */
export function midwayShare(spacing: number, lambda: number): number {
  const half = spacing / (2 * lambda);
  let sum = 0;
  for (let j = 0; j < 60; j++) {
    const z = half * (2 * j + 1);
    if (z > 30) break;
    sum += 2 * bedShape(z);
  }
  return half * sum;
}
