// What the camera cuts off, drawn where it would be.
import type { Region } from '../../image/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import type { MapEvidence } from '../evidence.ts';
import type { Clipping } from './clipping.ts';
import { lookColumns, lookStep } from './looksOver.ts';
import { words } from './words.ts';

/** Objects with a color of their own; the others share one. */
const MOST_OBJECTS = 5;

/** Null where nothing is cut off. */
export function clipMap(
  { farObjects, map, nearObjects }: Clipping,
  region: Region,
  document: ShotDocument,
  objectIds: string[],
): MapEvidence | null {
  const cut = [...new Set([...farObjects, ...nearObjects])];
  if (cut.length === 0) return null;
  const shown = cut.slice(0, MOST_OBJECTS);
  const step = lookStep(region);
  const columns = lookColumns(region, step);
  const labels = [...shown.map((object) => document.objects[objectIds[object]].name), ...(cut.length > shown.length ? [words.others(cut.length - shown.length)] : [])]; // prettier-ignore
  return {
    type: 'map',
    id: 'clipped',
    title: words.clipMap,
    source: words.clipSource(map.length),
    unit: '',
    region,
    tile: step,
    columns,
    rows: map.length / columns,
    values: map.map((object) => (object < 0 ? 0 : 0.8)),
    leading: map.map((object) => (object < 0 ? -1 : shown.includes(object) ? shown.indexOf(object) : MOST_OBJECTS)),
    categories: labels.map((label, i) => ({ label, colour: `series${i}` })),
  };
}
