// Against OpenSubdiv (subdivisionReference.cpp), whose rules are those of the open USD schema; and Catmull & Clark 1978,
// Halstead, Kass & DeRose 1993 by its limit values.
import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import {
  firstLevel,
  limitSurface,
  refine,
  REFINE_DEFAULTS,
  type Level,
  type RefineOptions,
} from '@dusting/core/geometry';

interface Body {
  name: string;
  points: number[];
  sizes: number[];
  corners: number[];
  uvs: number[];
  uvCorners: number[];
  creases: number[];
  sharpness: number;
}
interface Refined extends Pick<RefineOptions, 'uvRule' | 'rim'> {
  body: string;
  levels: number;
  uvs: number[];
  points?: number[];
  limits?: number[];
  normals?: number[];
}
const { bodies, refined } = JSON.parse(
  readFileSync(new URL('subdivision-reference.json', import.meta.url), 'utf8'),
) as { bodies: Body[]; refined: Refined[] };
/** Of the reference's six digits. */
const CLOSE = 1e-5;

function start(body: Body, options: Partial<RefineOptions>): Level {
  const faceStart = [0];
  for (const size of body.sizes) faceStart.push(faceStart[faceStart.length - 1] + size);
  const valueVertex: number[] = [];
  body.uvCorners.forEach((w, c) => (valueVertex[w] = body.corners[c]));
  const level = firstLevel(
    {
      positions: Float64Array.from(body.points),
      restPositions: Float64Array.from(body.points),
      faceStart: Uint32Array.from(faceStart),
      corners: Uint32Array.from(body.corners),
      values: Float64Array.from(body.uvs),
      width: 2,
      valueCorners: Uint32Array.from(body.uvCorners),
      valueVertex: Uint32Array.from(valueVertex),
      joined: 0,
    },
    { ...REFINE_DEFAULTS, ...options },
  );
  for (let i = 0; i < body.creases.length; i += 2)
    for (let e = 0; e < level.edgeSharpness.length; e++) {
      const ends = [...level.edgeEnds.subarray(e * 2, e * 2 + 2)].sort((a, b) => a - b);
      const crease = body.creases.slice(i, i + 2).sort((a, b) => a - b);
      if (ends[0] !== crease[0] || ends[1] !== crease[1]) continue;
      level.edgeSharpness[e] = body.sharpness >= 10 ? Infinity : body.sharpness;
      level.fades ||= body.sharpness < 10;
    }
  return level;
}

/** How far the corners of a face are at most from those of the face of the others that fits best, wherever it begins. */
function apart(ours: number[], theirs: number[], width: number): number {
  expect(ours.length).to.equal(theirs.length);
  const size = 4 * width;
  const distance = (f: number, g: number) => {
    let best = Infinity;
    for (let turn = 0; turn < 4; turn++) {
      let worst = 0;
      for (let c = 0; c < 4; c++)
        for (let k = 0; k < width; k++)
          worst = Math.max(worst, Math.abs(ours[f + c * width + k] - theirs[g + ((c + turn) % 4) * width + k]));
      best = Math.min(best, worst);
    }
    return best;
  };
  const left = new Set(Array.from({ length: ours.length / size }, (_, i) => i * size));
  let most = 0;
  for (let f = 0; f < ours.length; f += size) {
    let [best, at] = [Infinity, -1];
    for (const g of left) {
      const d = distance(f, g);
      if (d < best) [best, at] = [d, g];
      if (best < CLOSE) break;
    }
    left.delete(at);
    most = Math.max(most, best);
  }
  return most;
}

const spread = (ids: Uint32Array, values: ArrayLike<number>, width: number) =>
  [...ids].flatMap((id) => Array.from({ length: width }, (_, k) => values[id * width + k]));

describe('subdivision', () => {
  for (const body of bodies)
    it(`of a ${body.name}: positions, and UVs by every rule, are those of the reference`, () => {
      for (const wanted of refined.filter((r) => r.body === body.name)) {
        let level = start(body, wanted);
        for (let i = 0; i < wanted.levels; i++) level = refine(level);
        const what = `${wanted.uvRule}, ${wanted.rim}`;
        expect(apart(spread(level.valueCorners, level.values, 2), wanted.uvs, 2), what).to.be.below(CLOSE);
        if (!wanted.points) continue;
        expect(apart(spread(level.corners, level.positions, 3), wanted.points, 3), what).to.be.below(CLOSE);
        // creases that fade, and those inside, have a limit that the last level does not know, or two normals
        if (body.creases.length > 0) continue;
        const limit = limitSurface(level);
        expect(apart(spread(level.corners, limit.positions, 3), wanted.limits!, 3), what).to.be.below(CLOSE);
        expect(apart(spread(level.corners, limit.normals, 3), wanted.normals!, 3), `${what}: normals`).to.be.below(
          CLOSE,
        );
      }
    });

  it('one step of a cube has 26 vertices, its corners go where Catmull and Clark say', () => {
    const cube = start(bodies[0], {});
    const level = refine(cube);
    expect(level.positions.length / 3).to.equal(26);
    // a corner of a cube of half side 1: (n - 2)/n v + the mean of edge ends and face points over n: 5/9
    expect(Math.abs(level.positions[(6 + 12) * 3])).to.be.closeTo(5 / 9, 1e-12);
    // its limit: (9 v + 4 sum of edge ends + sum of diagonals) / 24 with edges at 3/4 and faces at 1 is a half
    expect(Math.abs(limitSurface(level).positions[(6 + 12) * 3])).to.be.closeTo(0.5, 1e-12);
  });

  it('edges over the crease angle stay where they are, the others get smooth', () => {
    const sharp = refine(start(bodies[0], { creaseAngle: 60 }));
    expect([...sharp.positions.subarray(18 * 3)].every((x) => Math.abs(Math.abs(x) - 1) < 1e-12)).to.equal(true);
    const smooth = refine(start(bodies[0], { creaseAngle: 100 }));
    expect(Math.abs(smooth.positions[18 * 3])).to.be.below(0.6);
  });
});
