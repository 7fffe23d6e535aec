import sharp from 'sharp';
import {
  atDepth,
  cameraOver,
  guessedEdges,
  NoSurvey,
  straightened,
  surveyByEdges,
  surveyByPoints,
  SURVEY,
  worstCorner,
  type Body2,
  type Edges,
  type Picture,
  type Survey,
} from '../../core/survey/index.ts';
import type { PlateSurvey } from '../../core/jobs/index.ts';
import { LIMIT, ofPixels, type Encoded } from './encode.ts';
import { PictureFault } from './fault.ts';

/** How a photograph is to be straightened: by four lines along the body, or by known points. */
export interface PlateAsked {
  edges: Edges | null;
  points: { px: [number, number]; mm: [number, number] }[] | null;
  /** Move the lines onto the picture's own edges. */
  snap: boolean;
  /** Camera over the measured plane, mm. */
  height: number;
  /** mm below the measured plane. */
  depth: number;
}

/** Longest side of a plate, px. Origin: own choice; a tablet of 300 mm at 20 px a mm. */
const LONGEST_PX = 6000;

/** Pixels of a photograph, turned upright by what its camera noted. */
export async function pictureOf(bytes: Uint8Array): Promise<Picture> {
  const { data, info } = await sharp(bytes, LIMIT)
    .rotate()
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: info.channels as 1 | 3, data };
}

/** Where the body seems to lie in a photograph; `null` where nothing stands out. */
export const edgesIn = async (bytes: Uint8Array, body: Body2): Promise<Edges | null> =>
  guessedEdges(await pictureOf(bytes), body);

export interface MadePlate {
  picture: Encoded;
  pxPerMm: number;
  survey: PlateSurvey;
}

/** @throws PictureFault when the lines or points do not fix how the picture lies */
export async function makePlate(
  bytes: Uint8Array,
  body: Body2,
  face: 'front' | 'back',
  asked: PlateAsked,
): Promise<MadePlate> {
  const picture = await pictureOf(bytes);
  let survey: Survey;
  try {
    survey = asked.edges
      ? surveyByEdges(asked.edges, body, { face, picture: asked.snap ? picture : null })
      : surveyByPoints(asked.points ?? [], body);
    const camera = cameraOver(survey.toPicture, picture, asked.height);
    const pxPerMm = Math.min(SURVEY.pxPerMm, LONGEST_PX / Math.max(body.width, body.height));
    const plate = straightened(picture, atDepth(survey.toPicture, asked.depth, camera), body, { pxPerMm });
    return {
      picture: await ofPixels({ ...plate, data: plate.data as Uint8Array }),
      pxPerMm,
      survey: {
        edges: asked.edges as PlateSurvey['edges'],
        points: asked.points,
        height: asked.height,
        foot: camera.foot,
        snapped: survey.snapped,
        residuals: survey.residuals,
        expectedError: worstCorner(survey, body).radius95,
      },
    };
  } catch (error) {
    if (error instanceof NoSurvey) throw new PictureFault(error.message, 422);
    throw error;
  }
}
