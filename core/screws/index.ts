export { screwClass, wellsOf, type Wells } from './wells.ts';
