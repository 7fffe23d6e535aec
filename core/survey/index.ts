export { homographyOf, inverse, mapped, NoSurvey, product, residuals, type Homography } from './homography.ts';
export { crossing, fittedLine, laidLine, type EdgeLine } from './lines.ts';
export { greyOf, shrunk, type Picture } from './picture.ts';
export { edgesBeside, SNAPPING } from './snap.ts';
export {
  cornersOfBody,
  SIDES,
  SURVEY,
  surveyByEdges,
  surveyByPoints,
  worstCorner,
  type Body2,
  type Edge2,
  type Edges,
  type Side,
  type Survey,
} from './survey.ts';
export { atDepth, below, cameraOver, parallax, seenFrom, type Camera } from './parallax.ts';
export { bilinear, straightened, type Plate, type Warp } from './straighten.ts';
export { guessedEdges } from './find.ts';
export type { OpenCv } from './opencv.ts';
export { proposedScrews, SCREW_FINDING, type ProposedScrew } from './screws.ts';
export { OUTLINE_FINDING, proposedOutlines, type ProposedOutline } from './outlines.ts';
export { warpWith } from './warp.ts';
export { cardMarks, scaleCard } from './card.ts';
export { CHANGE, changeBetween, type Change } from './change.ts';
