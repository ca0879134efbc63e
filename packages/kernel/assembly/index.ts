export { buildTriangles, buildBoxes } from './build';
export { closestHit, anyHit } from './trace';
