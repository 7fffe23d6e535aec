export { recordOf, casesOf } from './record.ts';
export { putRight, type PutRight } from './putRight.ts';
