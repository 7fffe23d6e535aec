import { expose } from 'comlink';
import type { ActFile } from '../../core/explore/index.ts';
import { learn, leftOf, questionsOf, wayBackOf, type Question } from '../../core/learn/index.ts';
import { changeBetween, type Change, type Plate } from '../../core/survey/index.ts';

/** What the way back comes to from where the dive stands. */
export interface Outlook {
  steps: number;
  /** s, from here to the signature. */
  seconds: number;
  /** Why no way back can be planned; `null` when it can. */
  problem: string | null;
}

/** Scale at which plates are fetched for the change between them, px a mm. */
const PX_PER_MM = 4;

async function plateAt(address: string, pxPerMm: number): Promise<Plate> {
  const response = await fetch(address);
  if (!response.ok) throw new Error('the photograph cannot be read now');
  const bitmap = await createImageBitmap(await response.blob());
  const scale = Math.min(1, PX_PER_MM / pxPerMm);
  const [width, height] = [Math.round(bitmap.width * scale), Math.round(bitmap.height * scale)];
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0, width, height);
  const { data } = context.getImageData(0, 0, width, height);
  return { width, height, channels: 4, data, pxPerMm: pxPerMm * scale } as unknown as Plate;
}

const field = {
  /** The way back from here, in brief. */
  outlook(files: ActFile[]): Outlook {
    try {
      return { ...leftOf(wayBackOf(learn(files), {}, { budget: 0, heat: 'usual' })), problem: null };
    } catch (error) {
      return { steps: 0, seconds: 0, problem: error instanceof Error ? error.message : String(error) };
    }
  },

  /** The one question worth asking now, or `null`. */
  question(files: ActFile[]): Question | null {
    return questionsOf(files, undefined, QUESTIONS)[0] ?? null;
  },

  /** What left between two photographs of one face. */
  async change(before: string, after: string, pxPerMm: number): Promise<Change[]> {
    const [a, b] = await Promise.all([plateAt(before, pxPerMm), plateAt(after, pxPerMm)]);
    return changeBetween(a, b);
  },
};

/** Questions that are weighed at a quiet moment. Origin: measured, some hundred ms each. */
const QUESTIONS = 6;

export type Field = typeof field;
expose(field);
