import type { Body2 } from '../../core/survey/index.ts';
import { headerOf, smallOf, upright } from './encode.ts';
import { PictureFault } from './fault.ts';
import type { PlateAsked } from './plate.ts';

/** Everything that reads pixels that somebody sent. What goes in and comes out is plain data; what few ask for is loaded with them. */
const WORK = {
  upright: ({ bytes, whole }: { bytes: Uint8Array; whole: boolean }) => upright(bytes, whole),

  small: ({ full }: { full: Uint8Array }) => smallOf(full),

  header: ({ bytes }: { bytes: Uint8Array }) => headerOf(bytes),

  /** Codes in a picture of a label. */
  codes: async ({ bytes }: { bytes: Uint8Array }) => (await import('./codes.ts')).codesIn(bytes),

  /** A photograph straightened to millimetres, from its full size. */
  plate: async ({
    bytes,
    body,
    face,
    asked,
  }: {
    bytes: Uint8Array;
    body: Body2;
    face: 'front' | 'back';
    asked: PlateAsked;
  }) => (await import('./plate.ts')).makePlate(bytes, body, face, asked),

  /** Where the body seems to lie in a photograph; `null` where nothing stands out. */
  guessEdges: async ({ bytes, body }: { bytes: Uint8Array; body: Body2 }) =>
    (await import('./plate.ts')).edgesIn(bytes, body),
};

export type PictureWork = typeof WORK;
export type PictureWorkName = keyof PictureWork;
export type PictureAnswer<N extends PictureWorkName> = Awaited<ReturnType<PictureWork[N]>>;

/** What comes of it: an error loses its kind between processes. */
export type Answer<T> = { ok: T } | { problem: { status: 415 | 422; body: { error: string } } } | { failed: string };

/** Does one piece of work; what it refuses goes out as data. */
export async function workOn<N extends PictureWorkName>(
  name: N,
  input: Parameters<PictureWork[N]>[0],
): Promise<Answer<PictureAnswer<N>>> {
  try {
    const work = WORK[name] as (given: unknown) => Promise<PictureAnswer<N>>;
    return { ok: await work(input) };
  } catch (error) {
    if (error instanceof PictureFault) return { problem: { status: error.status, body: { error: error.message } } };
    throw error;
  }
}
