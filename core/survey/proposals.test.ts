import sharp from 'sharp';
import { beforeAll, describe, expect, test } from 'vitest';
import { openCv } from '../../cli/opencv.ts';
import { demoModel } from '../../demo/models.ts';
import { photograph, type Photograph } from '../../demo/photograph.ts';
import { boundsOf, type Point } from '../anatomy/index.ts';
import {
  atDepth,
  bilinear,
  cameraOver,
  mapped,
  proposedOutlines,
  proposedScrews,
  straightened,
  surveyByEdges,
  SURVEY,
  warpWith,
  type Edges,
  type OpenCv,
  type Picture,
} from './index.ts';

/** Rendered photographs know what is in them; the renderer shares nothing with the finder. `harshness` is the difficulty. */
const PICTURES = [
  { id: 'velmora-quill-5', face: 'front', opened: 3, tilt: 9, harshness: 0.4, out: 0.2 },
  { id: 'tannbrook-field-3', face: 'back', opened: 1, tilt: 14, harshness: 0.8, out: 0.2 },
  { id: 'pellworth-nacre-2', face: 'back', opened: 3, tilt: 6, harshness: 0.4, out: 0 },
  { id: 'karnhold-mule-4', face: 'back', opened: 3, tilt: 11, harshness: 0.8, out: 0.1 },
] as const;

interface Taken {
  photo: Photograph;
  picture: Picture;
  asked: (typeof PICTURES)[number];
}

let cv: OpenCv;
const taken: Taken[] = [];
beforeAll(async () => {
  cv = await openCv();
  for (const [i, asked] of PICTURES.entries()) {
    const photo = await photograph({ ...asked, model: demoModel(asked.id), seed: 40 + i, towards: i * 67, side: 1400 });
    const { data, info } = await sharp(photo.jpeg).raw().toBuffer({ resolveWithObject: true });
    taken.push({ photo, asked, picture: { width: info.width, height: info.height, channels: 3, data } });
  }
}, 120_000);

/** The edges as a hand lays them: each end 0.3 mm off, to one side or the other. */
function handLaid(edges: Photograph['edges'], scale: number, seed: number): Edges {
  return edges.map(([a, b], i): [Point, Point] => {
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const [nx, ny] = [(b[1] - a[1]) / length, -(b[0] - a[0]) / length];
    const off = (p: Point, k: number): Point => {
      const d = SURVEY.handMm * scale * (((seed + 3 * i + k) % 2) * 2 - 1);
      return [p[0] + nx * d, p[1] + ny * d];
    };
    return [off(a, 0), off(b, i)];
  }) as unknown as Edges;
}

const bodyOf = (asked: Taken['asked']) => demoModel(asked.id).anatomy.body;

describe('photographs of open devices', () => {
  test('hand-laid edges, snapped: every corner within 0.3 mm, and within what is stated', () => {
    for (const { photo, picture, asked } of taken) {
      const body = bodyOf(asked);
      const scale =
        Math.hypot(photo.edges[1][1][0] - photo.edges[1][0][0], photo.edges[1][1][1] - photo.edges[1][0][1]) /
        body.height;
      const survey = surveyByEdges(handLaid(photo.edges, scale, photo.width), body, { face: asked.face, picture });
      for (const corner of [
        [0, 0],
        [body.width, 0],
        [body.width, body.height],
        [0, body.height],
      ] as Point[]) {
        const [x, y] = mapped(survey.toBody, photo.project(corner));
        const off = Math.hypot(x - corner[0], y - corner[1]);
        expect(off, `${asked.id} ${corner}`).toBeLessThan(0.3);
        expect(off, `${asked.id} ${corner}`).toBeLessThan(2 * survey.errorAt(corner).radius95);
      }
    }
  });

  test('screw heads: 95 in 100 are found, at most one in five is wrong; holes are not called heads', () => {
    let [there, found, wrong] = [0, 0, 0];
    for (const { photo, picture, asked } of taken) {
      const body = bodyOf(asked);
      const survey = surveyByEdges(photo.edges as Edges, body, { face: asked.face, picture });
      const camera = cameraOver(survey.toPicture, picture, 300);
      const plate = straightened(picture, atDepth(survey.toPicture, 0.4, camera), body, { pxPerMm: 14 });
      const { screws } = proposedScrews(cv, plate);
      const left = [...screws];
      for (const { at, diameter } of photo.screws) {
        there++;
        const hit = left.findIndex((s) => Math.hypot(s.at[0] - at[0], s.at[1] - at[1]) < Math.max(0.8, 0.4 * diameter));
        if (hit < 0) continue;
        found++;
        left.splice(hit, 1);
      }
      wrong += left.length;
    }
    expect(there).toBeGreaterThan(50);
    expect(found / there).toBeGreaterThanOrEqual(0.95);
    expect(wrong / there).toBeLessThanOrEqual(0.2);
  });

  test('outlines of the parts on top: most are offered, within 0.6 mm', () => {
    let [there, found] = [0, 0];
    for (const { picture, photo, asked } of taken) {
      const model = demoModel(asked.id);
      const { body } = model.anatomy;
      const survey = surveyByEdges(photo.edges as Edges, body, { face: asked.face, picture });
      const camera = cameraOver(survey.toPicture, picture, 300);
      const plate = straightened(picture, atDepth(survey.toPicture, 0.35, camera), body, { pxPerMm: 10 });
      const outlines = proposedOutlines(cv, plate);
      for (const part of model.anatomy.parts) {
        if (part.fixed || part.within || part.face !== asked.face || part.layer !== asked.opened) continue;
        const [x, y, w, h] = boundsOf(part.outline);
        there++;
        const near = outlines.some(({ outline }) => {
          const [u, v, s, t] = boundsOf(outline);
          return [x - u, y - v, x + w - u - s, y + h - v - t].every((d) => Math.abs(d) < 0.6);
        });
        if (near) found++;
      }
    }
    expect(found / there).toBeGreaterThan(0.7);
  });

  test("the warp of OpenCV is the plate's own, to a level of lightness", () => {
    const { picture, photo, asked } = taken[0]!;
    const body = bodyOf(asked);
    const survey = surveyByEdges(photo.edges as Edges, body, { face: asked.face });
    const [ours, theirs] = [bilinear, warpWith(cv)].map((warp) =>
      straightened(picture, survey.toPicture, body, { pxPerMm: 6, warp }),
    );
    let sum = 0;
    for (let i = 0; i < ours!.data.length; i++) sum += Math.abs(ours!.data[i]! - theirs!.data[i]!);
    expect(sum / ours!.data.length).toBeLessThan(1);
  });
});
