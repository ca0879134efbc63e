import { controlMesh, displacedMesh, trianglesAt, vertexFootprints, type MapReader } from '../../geometry/index.ts';
import { quantile } from '../../math/index.ts';
import type { DisplacedObject } from './displacedObject.ts';

export interface LevelDetail {
  level: number;
  /** Share of the variance of the map that vertices so far apart can carry, 0..1. */
  detail: number;
  /** Between vertices, pixels of the shot, in the middle of those seen. */
  spacing: number;
  triangles: number;
}

/** Levels of subdivision that are offered. */
export const LAST_LEVEL = 8;

/**
 * What each level of subdivision shows of a map. Vertices that are w apart carry periods of 2 w and longer (sampling theorem);
 * so does a mip level whose texels are w wide, and its variance against that of the finest is what is left of the map.
 */
export function levelDetails(of: DisplacedObject): LevelDetail[] {
  const { base, map, mesh, object, pixels, uvs } = of;
  const placed = Math.sqrt(Math.abs(of.moved.texture.scale[0] * of.moved.texture.scale[1]));
  const wide = quantile([...sparse(vertexFootprints(base.indices, uvs))].filter((w) => w > 0), 0.5) * placed * Math.max(map.width, map.height); // prettier-ignore
  const spacing = quantile(spacings(of), 0.5);
  const variances = mipVariances(of);
  const now = object.subdivisionLevels;
  const control = controlMesh(mesh);
  const at = (texels: number) => {
    const place = Math.max(0, Math.min(variances.length - 1, Math.log2(Math.max(1, texels))));
    const low = Math.floor(place);
    const high = Math.min(variances.length - 1, low + 1);
    return variances[0] > 0 ? (variances[low] + (place - low) * (variances[high] - variances[low])) / variances[0] : 1;
  };
  return Array.from({ length: LAST_LEVEL + 1 }, (_, level) => ({ level, detail: at(wide * 2 ** (now - level)), spacing: spacing * 2 ** (now - level), triangles: level === 0 ? mesh.indices.length / 3 : trianglesAt(control, level) })); // prettier-ignore

  function spacings({ base: { indices, positions } }: DisplacedObject): number[] {
    const all: number[] = [];
    const step = Math.max(1, Math.floor(indices.length / 3 / 5000)) * 3;
    for (let t = 0; t < indices.length; t += step) {
      const [a, b] = [indices[t], indices[t + 1]];
      all.push(Math.hypot(...[0, 1, 2].map((k) => positions[a * 3 + k] - positions[b * 3 + k])) / pixels[a]);
    }
    return all;
  }
}

/** At most some thousands of values, evenly taken. */
export function sparse(values: Float32Array): Float32Array {
  const step = Math.max(1, Math.floor(values.length / 5000));
  return values.filter((_, i) => i % step === 0);
}

/** Variance of a map under its UVs, and of its halves, down to one texel. */
function mipVariances({ covered, map: { height, values, width } }: DisplacedObject): number[] {
  const found: number[] = [];
  let [inside, count] = [0, 0];
  covered.forEach((is, i) => {
    if (is === 0) return;
    inside += values[i];
    count++;
  });
  // what lies beyond the UVs is no detail
  const filled = values.map((value, i) => (covered[i] === 1 ? value : inside / Math.max(1, count)));
  let [level, w, h] = [filled, width, height];
  for (;;) {
    let [sum, squares] = [0, 0];
    for (const value of level) {
      sum += value;
      squares += value * value;
    }
    found.push(Math.max(0, squares / level.length - (sum / level.length) ** 2));
    if (w === 1 && h === 1) return found;
    const [nw, nh] = [Math.max(1, w >> 1), Math.max(1, h >> 1)];
    const next = new Float32Array(nw * nh);
    for (let y = 0; y < nh; y++)
      for (let x = 0; x < nw; x++) {
        const [x1, y1] = [Math.min(w - 1, 2 * x + 1), Math.min(h - 1, 2 * y + 1)];
        next[y * nw + x] = (level[2 * y * w + 2 * x] + level[2 * y * w + x1] + level[y1 * w + 2 * x] + level[y1 * w + x1]) / 4; // prettier-ignore
      }
    [level, w, h] = [next, nw, nh];
  }
}

export interface Movement {
  /** Between the deepest and the highest place, metres in the world. */
  range: number;
  /** Of the box of the object, metres in the world. */
  size: number;
  /** Share of triangles that were turned over. */
  folded: number;
  /** Tangent of the slope that 95 % of the area stays below. */
  slope: number;
}

/** How far a map moves an object at a scale, and what becomes of its triangles. */
export function movementOf({ base, moved, stretch, uvs }: DisplacedObject, read: MapReader, scale: number): Movement {
  const { indices, positions: from } = base;
  const { positions: to } = displacedMesh(base, uvs, read, { ...moved, scale });
  let [low, high] = [Infinity, -Infinity];
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
  for (let i = 0; i < from.length; i += 3) {
    const along = [0, 1, 2].reduce((sum, k) => sum + (to[i + k] - from[i + k]) * base.normals[i + k], 0);
    low = Math.min(low, along);
    high = Math.max(high, along);
    for (let k = 0; k < 3; k++) {
      box[k] = Math.min(box[k], from[i + k]);
      box[k + 3] = Math.max(box[k + 3], from[i + k]);
    }
  }
  let folded = 0;
  const slopes: { slope: number; area: number }[] = [];
  let all = 0;
  const n = new Float64Array(3);
  const m = new Float64Array(3);
  for (let t = 0; t < indices.length; t += 3) {
    cross(from, indices, t, n);
    cross(to, indices, t, m);
    const [area, after] = [Math.hypot(...n), Math.hypot(...m)];
    if (area === 0) continue;
    const cosine = (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / (area * (after || 1));
    if (cosine < 0) folded++;
    slopes.push({ slope: cosine > 0 ? Math.sqrt(Math.max(0, 1 / (cosine * cosine) - 1)) : Infinity, area });
    all += area;
  }
  slopes.sort((a, b) => a.slope - b.slope);
  let below = 0;
  const slope = slopes.find(({ area }) => (below += area) >= 0.95 * all)?.slope ?? 0;
  const size = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
  return { range: stretch * (high - low), size: stretch * size, folded: folded / (indices.length / 3), slope }; // prettier-ignore
}

function cross(p: Float32Array, indices: Uint32Array, t: number, out: Float64Array): void {
  const [a, b, c] = [indices[t] * 3, indices[t + 1] * 3, indices[t + 2] * 3];
  for (let k = 0; k < 3; k++) {
    const [i, j] = [(k + 1) % 3, (k + 2) % 3];
    out[k] = (p[b + i] - p[a + i]) * (p[c + j] - p[a + j]) - (p[b + j] - p[a + j]) * (p[c + i] - p[a + i]);
  }
}
