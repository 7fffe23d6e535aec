import { readFile } from 'node:fs/promises';
import Joi from 'joi';
import sharp from 'sharp';
import { faultsOfJoi, parseJson } from '../core/anatomy/index.ts';
import {
  atDepth,
  cameraOver,
  guessedEdges,
  NoSurvey,
  proposedOutlines,
  proposedScrews,
  straightened,
  surveyByEdges,
  SURVEY,
  worstCorner,
  type Body2,
  type Camera,
  type Edges,
  type Picture,
  type Survey,
} from '../core/survey/index.ts';
import { pictureOf } from '../server/pictures/plate.ts';
import { openCv } from './opencv.ts';
import { numberOf, Stop, USAGE, type Values } from './usage.ts';

const point = Joi.array().ordered(Joi.number().required(), Joi.number().required());
const edgesSchema = Joi.array().items(Joi.array().items(point).length(2)).length(4).label('edges');

/** Pixels of a photograph, turned upright by what its camera noted. */
async function pictureAt(path: string): Promise<Picture> {
  try {
    return await pictureOf(await readFile(path));
  } catch (cause) {
    throw new Stop(1, `${path}: this is no picture that can be read (${(cause as Error).message.split('\n')[0]})`);
  }
}

function bodyOf(values: Values): Body2 {
  const size = /^(\d+(?:\.\d+)?)x(\d+(?:\.\d+)?)$/.exec(values.body ?? '');
  const [width, height] = [Number(size?.[1]), Number(size?.[2])];
  if (!size || !(width > 0) || !(height > 0) || width > 600 || height > 600)
    throw new Stop(2, `--body is width x height of the device in mm, such as 71.2x147.6\n${USAGE}`);
  return { width, height };
}

/** Four lines from a file, or from the argument itself; `null` when none are given. */
async function edgesOf(given: string | undefined): Promise<Edges | null> {
  if (given === undefined) return null;
  const text = given.trim().startsWith('[')
    ? given
    : await readFile(given, 'utf8').catch((cause: Error) => {
        throw new Stop(2, `cannot read ${given}: ${cause.message}`);
      });
  const parsed = parseJson(text);
  if (!parsed.ok) throw new Stop(1, parsed.faults.map((f) => `edges: ${f.path}: ${f.message}`).join('\n'));
  const { error, value } = edgesSchema.validate(parsed.value, { convert: false });
  if (error) {
    const faults = faultsOfJoi(error).map((f) => `edges${f.path}: ${f.message}`);
    throw new Stop(
      1,
      `${faults.join('\n')}\nfour lines [[x1,y1],[x2,y2]] in px are expected: top, right, bottom, left`,
    );
  }
  return value as unknown as Edges;
}

interface Measured {
  picture: Picture;
  body: Body2;
  survey: Survey;
  camera: Camera;
  depth: number;
  edges: Edges;
}

async function measured(path: string, values: Values): Promise<Measured> {
  const body = bodyOf(values);
  const face = values.face ?? 'front';
  if (face !== 'front' && face !== 'back') throw new Stop(2, `--face is front or back\n${USAGE}`);
  const height = numberOf('height', values.height, SURVEY.heightMm, 50, 3000);
  const depth = numberOf('depth', values.depth, 0, -30, 60);
  const picture = await pictureAt(path);
  const edges = (await edgesOf(values.edges)) ?? guessedEdges(picture, body);
  if (!edges) throw new Stop(1, `${path}: no body stands out from its ground; lay its edges with --edges`);
  try {
    const survey = surveyByEdges(edges, body, { face, picture: values['no-snap'] ? null : picture });
    return { picture, body, survey, camera: cameraOver(survey.toPicture, picture, height), depth, edges };
  } catch (error) {
    if (error instanceof NoSurvey) throw new Stop(1, `${path}: ${error.message}`);
    throw error;
  }
}

const rounded = (value: number, digits = 3): number => Number(value.toFixed(digits));

function reportOf({ survey, camera, body, depth, edges }: Measured) {
  const worst = worstCorner(survey, body);
  return {
    corners: survey.corners.map((p) => p.map((v) => rounded(v, 2))),
    edges: edges.map((line) => line.map((p) => p.map((v: number) => rounded(v, 2)))),
    snapped: survey.snapped,
    residuals: survey.residuals.map((r) => rounded(r)),
    expectedError: { corner: worst.at, sd: rounded(worst.sd), radius95: rounded(worst.radius95) },
    camera: { foot: camera.foot.map((v) => rounded(v, 2)), height: camera.height },
    depth,
  };
}

function reportText(m: Measured): string[] {
  const worst = worstCorner(m.survey, m.body);
  const hand = m.survey.snapped.length < 4 ? '; the other edges stand as they were laid' : '';
  return [
    `edges found in the picture: ${m.survey.snapped.join(', ') || 'none'}${hand}`,
    `expected error at the farthest corner ${worst.at.join(', ')} mm: ${worst.radius95.toFixed(2)} mm (95 %)`,
    `what lies 1 mm deeper and 60 mm from the foot of the camera is put ${(60 / m.camera.height).toFixed(2)} mm aside`,
  ];
}

/** `straighten`: a photograph as a plate, exactly the body. */
export async function straighten(path: string, values: Values): Promise<string> {
  if (!values.out) throw new Stop(2, `straighten needs --out\n${USAGE}`);
  const pxPerMm = numberOf('scale', values.scale, SURVEY.pxPerMm, 1, 60);
  const m = await measured(path, values);
  const plate = straightened(m.picture, atDepth(m.survey.toPicture, m.depth, m.camera), m.body, { pxPerMm });
  const { width, height, channels, data } = plate;
  await sharp(data, { raw: { width, height, channels } })
    .toFile(values.out)
    .catch((cause: Error) => {
      throw new Stop(2, `cannot write ${values.out}: ${cause.message}`);
    });
  const report = { out: values.out, pxPerMm, width, height, ...reportOf(m) };
  if (values.json) return JSON.stringify(report, null, 2);
  return [`${values.out}: ${width} × ${height} px, ${pxPerMm} px a mm`, ...reportText(m)].join('\n');
}

/** px a millimetre of the photograph itself. */
export function ownScale({ toPicture }: Survey, body: Body2): number {
  const [a, b, c, d, e, f, g, h] = toPicture;
  const at = (x: number, y: number) => {
    const w = g * x + h * y + 1;
    return [(a * x + b * y + c) / w, (d * x + e * y + f) / w] as const;
  };
  const [x, y] = [body.width / 2, body.height / 2];
  const [o, p, q] = [at(x, y), at(x + 1, y), at(x, y + 1)];
  return Math.sqrt(Math.hypot(p[0] - o[0], p[1] - o[1]) * Math.hypot(q[0] - o[0], q[1] - o[1]));
}

/** `propose`: what looks like a screw, a hole or a part, in mm of the body. */
export async function propose(path: string, values: Values): Promise<string> {
  const m = await measured(path, values);
  const cv = await openCv();
  const pxPerMm = Math.min(16, Math.max(8, 1.3 * ownScale(m.survey, m.body)));
  const plate = straightened(m.picture, atDepth(m.survey.toPicture, m.depth, m.camera), m.body, { pxPerMm });
  const { screws, holes } = proposedScrews(cv, plate);
  const outlines = proposedOutlines(cv, plate);
  const plain = (found: typeof screws) =>
    found.map((s) => ({
      at: s.at.map((v) => rounded(v, 2)),
      diameter: rounded(s.diameter, 2),
      score: rounded(s.score, 2),
    }));
  const report = { screws: plain(screws), holes: plain(holes), outlines, ...reportOf(m) };
  if (values.json) return JSON.stringify(report, null, 2);
  const line = (what: string) => (s: (typeof report.screws)[number]) =>
    `${what}  ${s.at.map((v) => v.toFixed(1)).join(', ')} mm  ⌀ ${s.diameter.toFixed(2)}  ${s.score.toFixed(2)}`;
  return [
    ...report.screws.map(line('head')),
    ...report.holes.map(line('hole')),
    ...outlines.map((o) => `part  ${JSON.stringify(o.outline)}  ${o.score.toFixed(2)}`),
    ...reportText(m),
  ].join('\n');
}
