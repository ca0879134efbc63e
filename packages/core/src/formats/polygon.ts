import earcut from 'earcut';

/**
 * Cuts a polygon in space into triangles, whose corners are numbers of its own. It is laid flat along the normal of Newell
 * (Sutherland, Sproull & Schumacker 1974, "A characterization of ten hidden-surface algorithms"), which also counts for
 * corners that lie in one plane only nearly. Convex polygons become fans; each triangle turns as the polygon does.
 * @param points 3 numbers a corner, in order
 * @returns 3 numbers a triangle: always two triangles less than corners
 */
export function cutPolygon(points: number[]): number[] {
  const count = points.length / 3;
  const fan = Array.from({ length: count - 2 }, (_, i) => [0, i + 1, i + 2]).flat();
  if (count === 3) return fan;
  const normal = [0, 0, 0];
  for (let i = 0; i < count; i++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [(k + 1) % 3, (k + 2) % 3];
      const j = (i + 1) % count;
      normal[k] += (points[i * 3 + a] - points[j * 3 + a]) * (points[i * 3 + b] + points[j * 3 + b]);
    }
  // along its largest part: what is seen from there has the least shortened sides
  const along = [0, 1, 2].reduce((best, k) => (Math.abs(normal[k]) > Math.abs(normal[best]) ? k : best));
  if (normal[along] === 0) return fan;
  const [x, y] = normal[along] > 0 ? [(along + 1) % 3, (along + 2) % 3] : [(along + 2) % 3, (along + 1) % 3];
  const flat = Array.from({ length: count }, (_, i) => [points[i * 3 + x], points[i * 3 + y]]);
  if (isConvex(flat)) return fan;
  const cut = earcut(flat.flat());
  // it crosses itself
  if (cut.length > fan.length || Math.abs(areaOf(flat, cut) - areaOf(flat, fan)) > SAME_AREA * areaOf(flat, cut)) return fan; // prettier-ignore
  for (let i = 0; i < cut.length; i += 3)
    if (turn(flat[cut[i]], flat[cut[i + 1]], flat[cut[i + 2]]) < 0) [cut[i + 1], cut[i + 2]] = [cut[i + 2], cut[i + 1]];
  // where a corner stands twice a triangle is missing: it becomes one without area
  const used = new Set(cut);
  for (let i = 0; i < count && cut.length < fan.length; i++) if (!used.has(i)) cut.push(i, i, (i + 1) % count);
  while (cut.length < fan.length) cut.push(0, 0, 0);
  return cut;
}

/** Areas are the same up to rounding, relative. */
const SAME_AREA = 1e-6;

/** Of triangles, as they turn: of a fan, that of its polygon. */
function areaOf(flat: number[][], triangles: number[]): number {
  let sum = 0;
  for (let i = 0; i < triangles.length; i += 3)
    sum += turn(flat[triangles[i]], flat[triangles[i + 1]], flat[triangles[i + 2]]);
  return Math.abs(sum / 2);
}

/** Twice the area of a triangle, above 0 where it turns counter-clockwise. */
function turn(a: number[], b: number[], c: number[]): number {
  return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
}

function isConvex(corners: number[][]): boolean {
  // at a corner that stands twice nothing turns
  const own = corners.filter((p, i) => corners.at(i - 1)!.some((v, k) => v !== p[k]));
  const { length } = own;
  return own.every((p, i) => turn(p, own[(i + 1) % length], own[(i + 2) % length]) >= 0);
}
