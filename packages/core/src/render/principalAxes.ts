export interface PrincipalAxes {
  /** Middle of the surface, by area. */
  middle: number[];
  /** Right-handed unit vectors, the longest first. */
  axes: number[][];
  /** Length of an even box with the same spread along each: sqrt(12) deviations of the surface, not more than it is long. */
  extents: number[];
  /** Of a ball about the middle that holds the mesh. */
  radius: number;
}

const ROUNDS = 64;
/** Steps of a quarter turn. */
const TURNS = 36;

/**
 * The principal axes of a mesh: those of the second moments of its surface, found by power iteration. Where moments are
 * alike, as on a square, they do not say how it lies: about each axis the box is turned to where it is smallest.
 * @param corners // 9 numbers a triangle
 */
export function principalAxes(corners: Float64Array): PrincipalAxes {
  const { mean, moments } = momentsOf(corners);
  const first = leading(moments, [0.6, 0.64, 0.48]);
  // what is left has its greatest spread across the first axis
  const along = dot(first, times(moments, first));
  const rest = moments.map((row, a) => row.map((v, b) => v - along * first[a] * first[b]));
  const found = leading(rest, across(first));
  const lean = dot(found, first);
  const second = unit(found.map((c, k) => c - lean * first[k]));
  let axes = [first, second, cross(first, second)];
  for (const k of [2, 0, 1]) axes = turnedAbout(axes, k, corners);
  const boxed = axes.map((axis) => ({
    axis,
    extent: Math.min(spanAlong(corners, axis), Math.sqrt(12 * Math.max(0, dot(axis, times(moments, axis))))),
  }));
  const [a, b] = boxed.sort((p, q) => q.extent - p.extent);
  let radius = 0;
  for (let i = 0; i < corners.length; i += 3) radius = Math.max(radius, Math.hypot(corners[i] - mean[0], corners[i + 1] - mean[1], corners[i + 2] - mean[2])); // prettier-ignore
  return { middle: mean, axes: [a.axis, b.axis, cross(a.axis, b.axis)], extents: boxed.map(({ extent }) => extent), radius }; // prettier-ignore
}

/** Mean and second moments of the surface: those of a triangle are (sum of p p^T over its corners and, times 9, its middle) / 12. */
function momentsOf(corners: Float64Array): { mean: number[]; moments: number[][] } {
  const mean = [0, 0, 0];
  const squares = [0, 1, 2].map(() => [0, 0, 0]);
  let all = 0;
  for (let i = 0; i < corners.length; i += 9) {
    const points = [0, 3, 6].map((o) => [corners[i + o], corners[i + o + 1], corners[i + o + 2]]);
    const [p, q, r] = points;
    const area = Math.hypot(...cross(q.map((v, k) => v - p[k]), r.map((v, k) => v - p[k]))); // prettier-ignore
    const middle = [0, 1, 2].map((k) => (p[k] + q[k] + r[k]) / 3);
    all += area;
    for (let a = 0; a < 3; a++) {
      mean[a] += area * middle[a];
      for (let b = 0; b < 3; b++) squares[a][b] += (area * (9 * middle[a] * middle[b] + points.reduce((sum, v) => sum + v[a] * v[b], 0))) / 12; // prettier-ignore
    }
  }
  mean.forEach((v, k) => (mean[k] = v / all));
  return { mean, moments: squares.map((row, a) => row.map((v, b) => v / all - mean[a] * mean[b])) };
}

/** The other two axes turned about axis `k` to where their rectangle about the mesh is smallest. */
function turnedAbout(axes: number[][], k: number, corners: Float64Array): number[][] {
  const [p, q] = [axes[(k + 1) % 3], axes[(k + 2) % 3]];
  const turned = (step: number) => {
    const [c, s] = [Math.cos((Math.PI * step) / (2 * TURNS)), Math.sin((Math.PI * step) / (2 * TURNS))];
    return [p.map((v, i) => c * v + s * q[i]), q.map((v, i) => c * v - s * p[i])];
  };
  const areas = Array.from({ length: TURNS }, (_, step) => {
    const [x, y] = turned(step);
    return spanAlong(corners, x) * spanAlong(corners, y);
  });
  const least = Math.min(...areas);
  // only where it is clearly smaller: a round mesh stays as it is
  if (least > 0.99 * areas[0]) return axes;
  const [x, y] = turned(areas.indexOf(least));
  const out = axes.slice();
  out[(k + 1) % 3] = x;
  out[(k + 2) % 3] = y;
  return out;
}

function spanAlong(corners: Float64Array, [x, y, z]: number[]): number {
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < corners.length; i += 3) {
    const at = corners[i] * x + corners[i + 1] * y + corners[i + 2] * z;
    if (at < low) low = at;
    if (at > high) high = at;
  }
  return high - low;
}

function leading(matrix: number[][], start: number[]): number[] {
  let v = start;
  for (let i = 0; i < ROUNDS; i++) {
    const next = times(matrix, v);
    const length = Math.hypot(...next);
    // a direction without any spread: the one at hand is as good
    if (!(length > 1e-30)) break;
    v = next.map((c) => c / length);
  }
  return v;
}

function across([x, y, z]: number[]): number[] {
  return unit(Math.abs(y) < 0.9 ? [z, 0, -x] : [0, -z, y]);
}

function unit(v: number[]): number[] {
  const length = Math.hypot(...v);
  return v.map((c) => c / length);
}

const dot = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const times = (matrix: number[][], v: number[]) => matrix.map((row) => dot(row, v));
const cross = (a: number[], b: number[]) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]; // prettier-ignore
