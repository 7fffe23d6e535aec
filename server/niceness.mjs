/**
 * Whoever presses a key goes first; what computes gives way. A third of a usual share is enough for that, and lets what is computed
 * come to its end on a machine that is busy with something else. Origin: measured, `npm run bench`, *bystander*.
 */
export const NICE = 5;
