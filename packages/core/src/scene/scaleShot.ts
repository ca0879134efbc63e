import { parameterAt } from './parameters.ts';
import type { Patch } from './patch.ts';
import type { ShotDocument } from './shotDocument.ts';

/** Lengths in the space of a mesh: the placement of its object scales them. */
const OF_THE_MESH = new Set(['displacement_scale']);

/**
 * Makes everything larger or smaller by a factor, as where a file was read in the wrong unit: geometry, cameras, lights, ranges,
 * distances within media. The picture stays the same. Every value in metres follows, whatever is added to the schema; point and spot lights
 * get the square of it, since what arrives goes with the inverse square of the distance.
 * @param factor above 0
 */
export function scaleShot(document: ShotDocument, factor: number): Patch {
  const patch: Patch = [];
  const replace = (keys: string[], value: unknown) => patch.push({ op: 'replace', path: `/${keys.join('/')}`, value });
  const { objects, lights, cameras } = document;
  for (const [id, { transform, laterTransforms }] of Object.entries(objects)) {
    replace(['objects', id, 'transform'], times(transform, factor));
    laterTransforms.forEach((m, i) => replace(['objects', id, 'laterTransforms', String(i)], times(m, factor)));
  }
  // their own sizes are values in metres: only their place moves
  for (const [part, things] of Object.entries({ lights, cameras }))
    for (const [id, thing] of Object.entries(things)) {
      replace([part, id, 'transform'], placed(thing.transform, factor));
      const later = 'laterTransforms' in thing ? thing.laterTransforms : [];
      later.forEach((m: number[], i: number) => replace([part, id, 'laterTransforms', String(i)], placed(m, factor)));
    }
  for (const [id, { kind, strength }] of Object.entries(lights))
    if (kind === 'point' || kind === 'spot') replace(['lights', id, 'strength'], strength * factor ** 2);
  walk(document as never, [], (keys, value) => {
    if (value !== 0 && !OF_THE_MESH.has(keys.at(-1)!) && parameterAt(keys)?.unit === 'm') replace(keys, value * factor);
  });
  return patch;
}

function walk(value: Record<string, unknown>, keys: string[], onNumber: (keys: string[], value: number) => void): void {
  for (const [key, inner] of Object.entries(value)) {
    if (typeof inner === 'number') onNumber([...keys, key], inner);
    else if (inner && typeof inner === 'object' && !Array.isArray(inner))
      walk(inner as never, [...keys, key], onNumber);
  }
}

const times = (m: number[], factor: number) => m.map((v) => v * factor);
const placed = (m: number[], factor: number) => m.map((v, i) => (i % 4 === 3 ? v * factor : v));
