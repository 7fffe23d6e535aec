export { recordOf, casesOf } from './record.ts';
