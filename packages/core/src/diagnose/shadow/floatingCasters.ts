// Objects that hang just above what they should stand on: light gets in under them, and their shadow parts from them.
import { transformPoint } from '../../math/index.ts';
import { objectMesh, type CompiledScene, type ShadowProbe } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import type { LightChain } from './lightChain.ts';
import type { MiddlePlace } from './middlePlace.ts';
import { stoppedBy, type ShadowCause } from './shadowCauses.ts';
import { words } from './words.ts';

/** Of a normal along Y, which is up: what hangs before a wall is meant to. Common practice, no source. */
const GROUND = 0.7;
/** Of the height of an object: what hangs higher is meant to. Common practice, no source. */
const MEANT = 0.1;
/** Gaps below this part of the height are nothing. */
const NOTHING = 1e-3;
/** Vertices within this part of the height from the lowest are its underside. */
const UNDERSIDE = 0.02;
/** Casters of each light that are looked at, and vertices of an underside. */
const MOST = 3;
const MOST_VERTICES = 200;

/** @param middle of the region: none are looked for where it shows no ground */
export function floatingCasters(
  { answers }: LightChain,
  scene: CompiledScene,
  document: ShotDocument,
  { normal, probe }: MiddlePlace,
): ShadowCause[] {
  if (normal[1] < GROUND) return [];
  const down = normal.map((v) => -v);
  const casters = new Set(answers.flatMap((answer) => stoppedBy(answer).slice(0, MOST)));
  return [...casters].flatMap((object): ShadowCause[] => {
    const gap = gapUnder(probe, scene, object, down);
    if (!gap) return [];
    const id = scene.objectIds[object];
    const { name, transform } = document.objects[id];
    const under = document.objects[scene.objectIds[gap.under]].name;
    const value = transform.map((v, i) => (i % 4 === 3 ? v + gap.metres * down[(i - 3) / 4] : v));
    return [
      {
        id: `floats:${id}`,
        fault: 'floats',
        title: words.cause.floats(name, under),
        text: words.floats(name, under, gap.metres),
        about: [{ type: 'object', id, name }],
        cure: {
          title: words.remedy.putDown(name, gap.metres),
          patch: [{ op: 'replace', path: `/objects/${id}/transform`, value }],
          sideEffect: words.side.lifted,
        },
      },
    ];
  });
}

/** The least gap between the underside of an object and what lies below; null where it touches, or hangs as it is meant to. */
function gapUnder(probe: ShadowProbe, scene: CompiledScene, object: number, down: number[]) {
  const { positions } = objectMesh(scene, object);
  const matrix = scene.objectTransforms.subarray(object * 12, object * 12 + 12);
  const place = (vertex: number) => transformPoint(matrix, [0, 1, 2].map((k) => positions[vertex * 3 + k])); // prettier-ignore
  // how far down a vertex lies, but for the origin of the object: the direction in the space of the mesh
  const [x, y, z] = [0, 1, 2].map((k) => down.reduce((sum, d, row) => sum + d * matrix[row * 4 + k], 0));
  const depths = new Float64Array(positions.length / 3);
  let [high, low] = [Infinity, -Infinity];
  for (let v = 0; v < depths.length; v++) {
    const depth = x * positions[v * 3] + y * positions[v * 3 + 1] + z * positions[v * 3 + 2];
    depths[v] = depth;
    high = Math.min(high, depth);
    low = Math.max(low, depth);
  }
  const height = low - high;
  const underside: number[] = [];
  depths.forEach((depth, vertex) => low - depth <= UNDERSIDE * height && underside.push(vertex));
  const step = Math.ceil(underside.length / MOST_VERTICES);
  // rays set out a little above: what stands on a surface has its vertices in it
  const above = UNDERSIDE * height;
  let best = { metres: Infinity, under: -1 };
  for (let i = 0; i < underside.length; i += step) {
    const from = place(underside[i]).map((v, k) => v - above * down[k]);
    const metres = probe.landing(from, object, down) - above;
    if (metres < best.metres) best = { metres, under: probe.look.visibility.hit.instance };
  }
  return best.metres > NOTHING * height && best.metres < MEANT * height ? best : null;
}
