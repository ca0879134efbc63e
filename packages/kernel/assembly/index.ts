export { buildTriangles, buildBoxes } from './build';
export { allHits, anyHit, closestHit } from './trace';
export { filterStep } from './filter';
