export { incompleteBeta, logGamma, studentCdf, studentQuantile } from './student.ts';
export { leastSquares, type Fitted } from './leastSquares.ts';
