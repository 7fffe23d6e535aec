import opencv from '@techstark/opencv-js';
import { expose } from 'comlink';
import {
  proposedOutlines,
  proposedScrews,
  shrunk,
  type OpenCv,
  type Plate,
  type ProposedOutline,
  type ProposedScrew,
} from '../../core/survey/index.ts';

export interface Proposals {
  screws: ProposedScrew[];
  holes: ProposedScrew[];
  outlines: ProposedOutline[];
}

const cv = opencv as unknown as OpenCv & { onRuntimeInitialized?: () => void };
const ready = new Promise<void>((resolve) => {
  if (cv.Mat) resolve();
  else cv.onRuntimeInitialized = () => resolve();
});

/** Scale at which a plate is looked at, px a mm: a recess of half a millimetre is eight of them. */
const LOOK_PX_PER_MM = 14;

async function plateAt(address: string, pxPerMm: number): Promise<Plate> {
  const response = await fetch(address);
  if (!response.ok) throw new Error('the photograph cannot be read now');
  const bitmap = await createImageBitmap(await response.blob());
  const scale = Math.min(1, LOOK_PX_PER_MM / pxPerMm);
  const [width, height] = [Math.round(bitmap.width * scale), Math.round(bitmap.height * scale)];
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 0, 0, width, height);
  const { data } = context.getImageData(0, 0, width, height);
  return { ...shrunk({ width, height, channels: 4, data }, 1), pxPerMm: pxPerMm * scale };
}

const vision = {
  /** What looks like a screw, a hole or a part on a plate. */
  async propose(address: string, pxPerMm: number): Promise<Proposals> {
    await ready;
    const plate = await plateAt(address, pxPerMm);
    return { ...proposedScrews(cv, plate), outlines: proposedOutlines(cv, plate) };
  },
};

export type Vision = typeof vision;
expose(vision);
