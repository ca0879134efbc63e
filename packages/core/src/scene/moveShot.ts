import type { Patch } from './patch.ts';
import type { ShotDocument } from './shotDocument.ts';

/**
 * Moves everything that has a place: objects with their motion, lights, cameras with theirs. Nothing else changes, so the picture stays
 * the same.
 * @param by metres, world space
 */
export function moveShot(document: ShotDocument, by: readonly number[]): Patch {
  return transformsOf(document).map(([path, m]) => ({ op: 'replace', path, value: moved(m, by) }));
}

const moved = (m: number[], by: readonly number[]) => m.map((v, i) => (i % 4 === 3 ? v + by[(i - 3) / 4] : v));

/** Every placement of a document with its path: 3 x 4, row by row, the position in the last column. */
export function transformsOf({ cameras, lights, objects }: ShotDocument): [path: string, transform: number[]][] {
  const all: [string, number[]][] = [];
  for (const [part, things] of Object.entries({ objects, lights, cameras }))
    for (const [id, thing] of Object.entries(things)) {
      all.push([`/${part}/${id}/transform`, thing.transform]);
      const later = 'laterTransforms' in thing ? thing.laterTransforms : [];
      later.forEach((transform: number[], i: number) => all.push([`/${part}/${id}/laterTransforms/${i}`, transform]));
    }
  return all;
}
