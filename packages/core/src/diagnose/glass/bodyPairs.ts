// How bodies of glass lie against each other: overlapping without a priority, or with a thin layer of air between.
import { transformPoint } from '../../math/index.ts';
import { objectMesh, objectSize } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { GlassFault, GlassScene, SeenBody } from './glassFaults.ts';
import { objectReference, setSurface, surfaceReference } from './glassFaults.ts';
import type { GlassPair } from './interfaceMap.ts';
import { words } from './words.ts';

/** Share of the pixels of the smaller body above which an overlap or a gap counts. Common practice, no source. */
const SOMETIMES = 0.05;
/** A filling that is scaled into its vessel's wall goes this much beyond the gap. */
const BEYOND = 1.5;

interface Pair {
  vessel: SeenBody;
  filling: SeenBody;
  of: GlassPair;
}

/** One fault for each pair of surfaces, with a cure for all of their objects. */
export function pairFaults(bodies: SeenBody[], scene: GlassScene): GlassFault[] {
  const pairs = scene.map.pairs.flatMap((of): Pair[] => {
    const [one, other] = [of.a, of.b].map((object) => bodies.find((body) => body.object === object));
    if (!one || !other) return [];
    const isVessel = objectSize(scene.scene, one.object) >= objectSize(scene.scene, other.object);
    return [{ of, vessel: isVessel ? one : other, filling: isVessel ? other : one }];
  });
  const groups = new Map<string, Pair[]>();
  for (const pair of pairs) {
    const key = `${pair.vessel.surfaceId} ${pair.filling.surfaceId}`;
    groups.set(key, [...(groups.get(key) ?? []), pair]);
  }
  return [...groups.values()].flatMap((group) => [
    ...overlapFault(group.filter(({ filling, of, vessel }) => of.overlaps > SOMETIMES * Math.min(filling.walks.pixels, vessel.walks.pixels))), // prettier-ignore
    ...gapFault(group.filter(({ filling, of }) => of.gaps > SOMETIMES * filling.walks.pixels), scene), // prettier-ignore
  ]);
}

const aboutAll = (pairs: Pair[]) => pairs.flatMap(({ filling, vessel }) => [objectReference(vessel), objectReference(filling)]); // prettier-ignore

function overlapFault(pairs: Pair[]): GlassFault[] {
  if (pairs.length === 0) return [];
  const [{ filling, vessel }] = pairs;
  const priority = filling.surface.medium_priority;
  if (vessel.surface.medium_priority !== priority) return [];
  const cure = { title: words.setPriority(vessel.surface.name, priority + 1), patch: [setSurface(vessel.surfaceId, 'medium_priority', priority + 1)], sideEffect: words.priorityWins(vessel.surface.name, filling.surface.name) }; // prettier-ignore
  return [
    {
      id: `overlap:${vessel.surfaceId}:${filling.surfaceId}`,
      kind: 'overlap',
      severity: 'warning',
      text: words.overlap(vessel.name, filling.name, pairs.length),
      about: [...aboutAll(pairs), surfaceReference(vessel)],
      cure: vessel.surfaceId === filling.surfaceId ? null : cure,
    },
  ];
}

function gapFault(pairs: Pair[], { document, scene }: GlassScene): GlassFault[] {
  if (pairs.length === 0) return [];
  const [{ filling, vessel }] = pairs;
  const gap = pairs.reduce((sum, { of }) => sum + of.gap, 0) / pairs.length;
  const patch: Patch = pairs.map((pair) => {
    const { id, object } = pair.filling;
    const value = grown(document.objects[id].transform, scene, object, BEYOND * pair.of.gap);
    return { op: 'replace', path: `/objects/${id}/transform`, value };
  });
  const wins = filling.surface.medium_priority + 1;
  if (vessel.surface.medium_priority < wins) patch.push(setSurface(vessel.surfaceId, 'medium_priority', wins));
  return [
    {
      id: `gap:${vessel.surfaceId}:${filling.surfaceId}`,
      kind: 'gap',
      severity: 'warning',
      text: words.gap(filling.name, vessel.name, pairs.length, gap),
      about: aboutAll(pairs),
      cure: vessel.surfaceId === filling.surfaceId ? null : { title: words.closeGap(filling.surface.name, vessel.surface.name, BEYOND * gap), patch, sideEffect: words.fewerEvents }, // prettier-ignore
    },
  ];
}

/** A transform that makes an object so much larger in every direction, about its middle. */
function grown(transform: number[], scene: GlassScene['scene'], object: number, by: number): number[] {
  const { positions } = objectMesh(scene, object);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let v = 0; v < positions.length; v += 3)
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k], positions[v + k]);
      high[k] = Math.max(high[k], positions[v + k]);
    }
  const lengths = [0, 1, 2].map((k) => Math.hypot(transform[k], transform[4 + k], transform[8 + k]));
  const scale = [0, 1, 2].map((k) => 1 + by / Math.max(1e-9, (lengths[k] * (high[k] - low[k])) / 2));
  const middle = [0, 1, 2].map((k) => (low[k] + high[k]) / 2);
  const out = transform.map((v, i) => (i % 4 === 3 ? v : v * scale[i % 4]));
  // the middle stays where it is
  const [from, to] = [transformPoint(transform, middle), transformPoint(out, middle)];
  for (let row = 0; row < 3; row++) out[row * 4 + 3] += from[row] - to[row];
  return out.map((v) => Number(v.toPrecision(8)));
}
