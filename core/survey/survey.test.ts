import { Matrix, SVD } from 'ml-matrix';
import PerspT from 'perspective-transform';
import { describe, expect, test } from 'vitest';
import { seededDraw } from '../../demo/synthetic.ts';
import type { Point } from '../anatomy/index.ts';
import {
  atDepth,
  below,
  cameraOver,
  cornersOfBody,
  crossing,
  fittedLine,
  guessedEdges,
  homographyOf,
  inverse,
  laidLine,
  mapped,
  NoSurvey,
  parallax,
  product,
  residuals,
  seenFrom,
  straightened,
  surveyByEdges,
  surveyByPoints,
  SURVEY,
  worstCorner,
  type Edges,
  type Picture,
} from './index.ts';

const BODY = { width: 71.2, height: 147.6 };

/** A pinhole over the body, written out in its own terms: what a survey has to find again. */
function pinhole(tilt: number, towards: number, height: number, focal: number, size: Point) {
  const [t, a] = [(tilt * Math.PI) / 180, (towards * Math.PI) / 180];
  const middle: Point = [BODY.width / 2, BODY.height / 2];
  const foot: Point = [middle[0] - height * Math.tan(t) * Math.cos(a), middle[1] - height * Math.tan(t) * Math.sin(a)];
  const project = ([x, y]: Point, depth = 0): Point => {
    const [px, py, pz] = [x - foot[0], y - foot[1], height + depth];
    const along = px * Math.cos(a) + py * Math.sin(a);
    const beside = -px * Math.sin(a) + py * Math.cos(a);
    const far = along * Math.cos(t) - pz * Math.sin(t);
    const deep = along * Math.sin(t) + pz * Math.cos(t);
    return [
      size[0] / 2 + (focal * (far * Math.cos(a) - beside * Math.sin(a))) / deep,
      size[1] / 2 + (focal * (far * Math.sin(a) + beside * Math.cos(a))) / deep,
    ];
  };
  return { foot, project };
}

function edgesSeen(project: (mm: Point) => Point): [Point, Point][] {
  const [tl, tr, br, bl] = cornersOfBody(BODY, 'front').map((p) => project(p)) as [Point, Point, Point, Point];
  return [
    [tl, tr],
    [tr, br],
    [bl, br],
    [tl, bl],
  ];
}

const random = (seed: number) => {
  const draw = seededDraw(seed);
  const real = (low: number, high: number) => low + ((high - low) * draw(1_000_000)) / 1_000_000;
  // Box and Muller.
  const normal = () => Math.sqrt(-2 * Math.log(real(1e-9, 1))) * Math.cos(2 * Math.PI * real(0, 1));
  return { real, normal };
};

const SQUARE: Point[] = [
  [0, 0],
  [71.2, 0],
  [71.2, 147.6],
  [0, 147.6],
];

describe('homography', () => {
  test('four points agree with perspective-transform', () => {
    const { real } = random(3);
    for (let i = 0; i < 200; i++) {
      const to = SQUARE.map(([x, y]): Point => [200 + x * 10 + real(-90, 90), 300 + y * 10 + real(-90, 90)]);
      const theirs = PerspT(SQUARE.flat(), to.flat());
      const ours = homographyOf(SQUARE, to);
      for (let k = 0; k < 20; k++) {
        const p: Point = [real(0, 71), real(0, 147)];
        const [x, y] = theirs.transform(...p);
        expect(mapped(ours, p)[0]).toBeCloseTo(x!, 3);
        expect(mapped(ours, p)[1]).toBeCloseTo(y!, 3);
      }
    }
  });

  test('many points agree with the singular vectors of ml-matrix, before least squares', () => {
    const { real } = random(5);
    const from = Array.from({ length: 4 }, (): Point => [real(0, 70), real(0, 140)]);
    const to = from.map(([x, y]): Point => {
      const w = 1 + 0.0004 * x - 0.0002 * y;
      return [(12 * x + 0.4 * y + 100) / w, (-0.3 * x + 11.8 * y + 80) / w];
    });
    const rows = from.flatMap(([x, y], i) => {
      const [u, v] = to[i]!;
      return [
        [-x, -y, -1, 0, 0, 0, u * x, u * y, u],
        [0, 0, 0, -x, -y, -1, v * x, v * y, v],
      ];
    });
    // The null vector stands in the last column of V when the matrix is made square.
    const svd = new SVD(new Matrix([...rows, new Array(9).fill(0)]), { autoTranspose: true });
    const h = svd.rightSingularVectors.getColumn(8);
    const ours = homographyOf(from, to);
    h.forEach((v, i) => expect(ours[i]!).toBeCloseTo(v / h[8]!, 4));
  });

  test('noise over twelve points is spread: least squares is no worse than the truth itself', () => {
    const { real, normal } = random(11);
    const truth = homographyOf(SQUARE, [
      [210, 190],
      [980, 240],
      [960, 1810],
      [180, 1760],
    ]);
    for (let i = 0; i < 30; i++) {
      const from = Array.from({ length: 12 }, (): Point => [real(0, 71), real(0, 147)]);
      const to = from.map((p): Point => {
        const [x, y] = mapped(truth, p);
        return [x + normal(), y + normal()];
      });
      const squares = (h: typeof truth) => residuals(h, from, to).reduce((s, r) => s + r * r, 0);
      expect(squares(homographyOf(from, to))).toBeLessThanOrEqual(squares(truth));
    }
  });

  test('there and back is where it was', () => {
    const h = homographyOf(SQUARE, [
      [210, 190],
      [980, 240],
      [960, 1810],
      [180, 1760],
    ]);
    const none = product(inverse(h), h);
    [1, 0, 0, 0, 1, 0, 0, 0, 1].forEach((v, i) => expect(none[i]!).toBeCloseTo(v, 9));
  });

  test.each([
    ['three points', SQUARE.slice(0, 3), SQUARE.slice(0, 3)],
    [
      'points on one line',
      [
        [0, 0],
        [1, 1],
        [2, 2],
        [3, 3],
      ] as Point[],
      SQUARE,
    ],
    [
      'one spot',
      [
        [1, 1],
        [1, 1],
        [1, 1],
        [1, 1],
      ] as Point[],
      SQUARE,
    ],
    [
      'no number',
      [
        [Number.NaN, 1],
        [5, 1],
        [5, 9],
        [1, 9],
      ] as Point[],
      SQUARE,
    ],
  ])('%s are refused with what to do', (_, from, to) => {
    expect(() => homographyOf(from, to)).toThrow(NoSurvey);
  });
});

describe('lines', () => {
  test('a robust line passes by what lies on something else', () => {
    const { normal, real } = random(21);
    const line = { a: [0, 0] as Point, b: [400, 0] as Point };
    const offsets = Array.from({ length: 120 }, (_, i) => ({
      along: i * 3.3,
      across: i % 4 === 0 ? real(-12, 12) : 2 + 0.01 * i * 3.3 + 0.3 * normal(),
      weight: 1,
    }));
    const { line: fitted } = fittedLine(line, offsets, 0)!;
    // Across is to the left of the way, which is up in a picture.
    expect(-fitted.a[1]).toBeCloseTo(2, 0);
    expect(Math.abs(-fitted.b[1] - 6)).toBeLessThan(0.2);
  });
  test('edges that run side by side have no corner', () => {
    expect(() => crossing(laidLine([0, 0], [9, 0], 1), laidLine([0, 5], [9, 5], 1))).toThrow(/side by side/);
  });
});

describe('a body by its four edges', () => {
  test.each([
    ['upright from the front', 'front' as const, [0, 0] as Point],
    ['mirrored from the back', 'back' as const, [71.2, 0] as Point],
  ])('%s', (_, face, origin) => {
    const { project } = pinhole(9, 30, 280, 2600, [1500, 2000]);
    const survey = surveyByEdges(edgesSeen((p) => project(p)) as unknown as Edges, BODY, { face });
    const [x, y] = mapped(survey.toBody, project([0, 0]));
    expect(Math.hypot(x - origin[0], y - origin[1])).toBeLessThan(1e-6);
  });

  test('the stated error covers the truth at its level, by Monte Carlo: tilt to 15°, 200 to 400 mm, hands 0.3 mm off', () => {
    const { real, normal } = random(77);
    let [within95, all, within] = [0, 0, 0];
    for (let i = 0; i < 400; i++) {
      const height = real(200, 400);
      const { project } = pinhole(real(0, 15), real(0, 360), height, (1500 * height) / 190, [1500, 2000]);
      const scale = 1500 / 190;
      const laid = edgesSeen((p) => project(p)).map(([a, b]): [Point, Point] => {
        const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
        const [nx, ny] = [(b[1] - a[1]) / length, -(b[0] - a[0]) / length];
        const off = (p: Point): Point => {
          const d = normal() * SURVEY.handMm * scale;
          return [p[0] + nx * d, p[1] + ny * d];
        };
        return [off(a), off(b)];
      }) as unknown as Edges;
      const survey = surveyByEdges(laid, BODY);
      for (const corner of SQUARE) {
        const [x, y] = mapped(survey.toBody, project(corner));
        const off = Math.hypot(x - corner[0], y - corner[1]);
        all++;
        if (off <= survey.errorAt(corner).radius95) within95++;
        if (off <= 0.3) within++;
      }
    }
    // Without the picture's own edges a hand is as good as a hand: told, not hidden.
    expect(within95 / all).toBeGreaterThan(0.93);
    expect(within95 / all).toBeLessThan(0.975);
    expect(within / all).toBeLessThan(0.7);
  });

  test.each([
    ['left and right changed places', [0, 3, 2, 1], /wrong way round|do not run around/],
    ['top twice', [0, 1, 0, 3], /side by side|do not run around/],
  ])('%s: refused', (_, order, message) => {
    const seen = edgesSeen((p) => [p[0] * 9 + 50, p[1] * 9 + 60]);
    expect(() => surveyByEdges(order.map((i) => seen[i]!) as unknown as Edges, BODY)).toThrow(message);
  });
});

describe('a body by points', () => {
  test('six points: residuals are told, and the error covers the truth', () => {
    const { real, normal } = random(5);
    let [held, all] = [0, 0];
    for (let i = 0; i < 300; i++) {
      const { project } = pinhole(real(0, 12), real(0, 360), 300, 2500, [1500, 2000]);
      const pairs = [
        [5, 5],
        [66, 4],
        [68, 140],
        [4, 143],
        [35, 70],
        [20, 100],
      ].map((mm) => {
        const [x, y] = project(mm as Point);
        const s = SURVEY.tapMm * (2500 / 300);
        return { mm: mm as Point, px: [x + normal() * s, y + normal() * s] as Point };
      });
      const survey = surveyByPoints(pairs, BODY);
      expect(survey.residuals).toHaveLength(6);
      const [x, y] = mapped(survey.toBody, project([60, 130]));
      all++;
      if (Math.hypot(x - 60, y - 130) <= survey.errorAt([60, 130]).radius95) held++;
    }
    expect(held / all).toBeGreaterThan(0.88);
  });
  test('the worst corner is named', () => {
    const { project } = pinhole(3, 0, 300, 2500, [1500, 2000]);
    const survey = surveyByPoints(
      (
        [
          [5, 5],
          [40, 5],
          [40, 60],
          [5, 60],
        ] as Point[]
      ).map((mm) => ({ mm, px: project(mm) })),
      BODY,
    );
    expect(worstCorner(survey, BODY).at).toEqual([BODY.width, BODY.height]);
  });
});

describe('parallax', () => {
  test('offset × depth ÷ height: 60 mm off, 4 mm deep, 300 mm over it is 0.8 mm', () => {
    expect(parallax(60, 4, 300)).toBeCloseTo(0.8, 9);
  });
  test('deep things are put where they are, for cameras that are tilted and high and low', () => {
    const { real } = random(9);
    for (let i = 0; i < 100; i++) {
      const height = real(200, 400);
      const { project, foot } = pinhole(real(0, 15), real(0, 360), height, real(1800, 3200), [1500, 2000]);
      const survey = surveyByEdges(edgesSeen((p) => project(p)) as unknown as Edges, BODY);
      const camera = cameraOver(survey.toPicture, { width: 1500, height: 2000 }, height);
      expect(Math.hypot(camera.foot[0] - foot[0], camera.foot[1] - foot[1])).toBeLessThan(0.5);
      const [depth, at] = [real(0, 6), [real(0, 71), real(0, 147)] as Point];
      const seen = mapped(survey.toBody, project(at, depth));
      const found = below(seen, depth, camera);
      expect(Math.hypot(found[0] - at[0], found[1] - at[1])).toBeLessThan(0.02);
      const [px, py] = mapped(atDepth(survey.toPicture, depth, camera), at);
      const [tx, ty] = project(at, depth);
      expect(Math.hypot(px - tx, py - ty)).toBeLessThan(0.2);
      expect(seenFrom(found, depth, camera)[0]).toBeCloseTo(seen[0], 9);
    }
  });
});

/** A grey body on a lighter mat, with a cross at one place. */
function drawnBody(project: (mm: Point) => Point, size: Point, cross: Point): Picture {
  const [width, height] = size;
  const toBody = inverse(
    homographyOf(
      SQUARE,
      SQUARE.map((p) => project(p)),
    ),
  );
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [mx, my] = mapped(toBody, [x + 0.5, y + 0.5]);
      const inside = mx > 0 && my > 0 && mx < BODY.width && my < BODY.height;
      const mark = Math.abs(mx - cross[0]) < 0.6 && Math.abs(my - cross[1]) < 0.6;
      data.fill(mark ? 250 : inside ? 70 : 168, (y * width + x) * 3, (y * width + x) * 3 + 3);
    }
  return { width, height, channels: 3, data };
}

describe('pixels', () => {
  const { project } = pinhole(8, 60, 300, 1500, [900, 1100]);
  const picture = drawnBody((p) => project(p), [900, 1100], [52, 30]);
  const truth = edgesSeen((p) => project(p));

  test('lines that a hand laid 0.6 mm off are snapped to the edge of the body', () => {
    const scale = 1500 / 300;
    const laid = truth.map(([a, b], i): [Point, Point] => {
      const d = (i % 2 ? 0.6 : -0.5) * scale;
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      const [nx, ny] = [((b[1] - a[1]) / length) * d, (-(b[0] - a[0]) / length) * d];
      return [
        [a[0] + nx, a[1] + ny],
        [b[0] + nx, b[1] + ny],
      ];
    }) as unknown as Edges;
    const survey = surveyByEdges(laid, BODY, { picture });
    expect(survey.snapped).toEqual(['top', 'right', 'bottom', 'left']);
    for (const corner of SQUARE) {
      const [x, y] = mapped(survey.toBody, project(corner));
      expect(Math.hypot(x - corner[0], y - corner[1])).toBeLessThan(0.1);
    }
    expect(worstCorner(survey, BODY).radius95).toBeLessThan(0.3);
  });

  test('the edges are guessed well enough to be snapped', () => {
    const guess = guessedEdges(picture, BODY)!;
    const survey = surveyByEdges(guess, BODY, { picture });
    for (const corner of SQUARE) {
      const [x, y] = mapped(survey.toBody, project(corner));
      expect(Math.hypot(x - corner[0], y - corner[1])).toBeLessThan(0.15);
    }
  });

  test('an empty mat is no body', () => {
    const data = new Uint8Array(300 * 200 * 3).fill(140);
    expect(guessedEdges({ width: 300, height: 200, channels: 3, data }, BODY)).toBeNull();
  });

  test('a plate is the body to scale, a mark where it is', () => {
    const survey = surveyByEdges(truth as unknown as Edges, BODY);
    const plate = straightened(picture, survey.toPicture, BODY, { pxPerMm: 5 });
    expect([plate.width, plate.height]).toEqual([356, 738]);
    let [sx, sy, n] = [0, 0, 0];
    for (let y = 0; y < plate.height; y++)
      for (let x = 0; x < plate.width; x++)
        if (plate.data[(y * plate.width + x) * 3]! > 205) {
          sx += x + 0.5;
          sy += y + 0.5;
          n++;
        }
    expect(Math.abs(sx / n / 5 - 52)).toBeLessThan(0.15);
    expect(Math.abs(sy / n / 5 - 30)).toBeLessThan(0.15);
  });

  test('pixels that are not as many as the size says are refused', () => {
    expect(() => straightened({ ...picture, width: 7 }, [1, 0, 0, 0, 1, 0, 0, 0, 1], BODY)).toThrow(/were expected/);
  });
});
