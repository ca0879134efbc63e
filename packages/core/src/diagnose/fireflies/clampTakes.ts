// What clamps take from a picture, as the picture itself records it: light and place, not only a share of the whole.
import { cropPlane, cropPicture, findChannel, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import { number, type Evidence, type TableEvidence } from '../evidence.ts';
import { packPicture } from '../packPicture.ts';
import type { Firefly } from './findFireflies.ts';
import { words } from './words.ts';

/** Objects that lose less than this share of their light are not listed, nor more than so many of them. */
const LEAST = 0.005;
const MOST = 8;

export interface Clamped {
  title: string;
  /** Of the region at least. */
  picture: Picture;
}

/** Of the light of an object's pixels, 0..1, by the object's number in the scene; fireflies left out. */
export type Taken = Map<number, number>;

/**
 * @param fireflies whose pixels do not count: what is taken there is what a clamp is for
 * @returns empty where the picture does not say what clamps took
 */
export function takenByClamps(picture: Picture, region: Region, fireflies: Firefly[]): Taken {
  const [cut, light, object] = [layerLuminance(picture, 'cut.clamp'), layerLuminance(picture, 'beauty'), findChannel(picture, 'object', 'id')?.data]; // prettier-ignore
  if (!cut || !light || !object) return new Map();
  const [lost, kept, numbers] = [cut, light, object].map((plane) => cropPlane(picture, plane, region));
  const marked = new Set(fireflies.map(({ x, y }) => (y - region.y) * region.width + x - region.x));
  const sums = new Map<number, { lost: number; all: number }>();
  lost.forEach((v, i) => {
    if (marked.has(i) || numbers[i] === 0) return;
    const sum = sums.get(numbers[i] - 1) ?? { lost: 0, all: 0 };
    sums.set(numbers[i] - 1, { lost: sum.lost + v, all: sum.all + v + kept[i] });
  });
  return new Map([...sums].map(([object, sum]) => [object, sum.all > 0 ? sum.lost / sum.all : 0]));
}

/** The object that loses most to clamps; null where none loses a share worth a word. */
export function mostTaken(
  taken: Taken,
  objectIds: string[],
  { objects }: ShotDocument,
): { name: string; share: number } | null {
  // prettier-ignore
  const [worst] = [...taken].sort(([, a], [, b]) => b - a);
  return worst && worst[1] >= LEAST ? { name: objects[objectIds[worst[0]]].name, share: worst[1] } : null;
}

export function clampTable(
  now: Taken,
  clamped: { title: string; taken: Taken }[],
  objectIds: string[],
  { objects }: ShotDocument,
): TableEvidence {
  const most = (object: number) => Math.max(now.get(object) ?? 0, ...clamped.map(({ taken }) => taken.get(object) ?? 0)); // prettier-ignore
  const rows = objectIds.map((_, object) => object).filter((object) => most(object) >= LEAST).sort((a, b) => most(b) - most(a)).slice(0, MOST); // prettier-ignore
  return {
    type: 'table',
    id: 'clampObjects',
    title: words.clampObjects,
    source: words.clampObjectsSource,
    columns: [words.seenObject, words.asItIs, ...clamped.map(({ title }) => title)],
    rows: rows.map((object) => {
      const id = objectIds[object];
      const { name } = objects[id];
      return [
        { type: 'link', text: name, to: { type: 'object', id, name } },
        number(now.get(object) ?? 0, 'share'),
        ...clamped.map(({ taken }) => number(taken.get(object) ?? 0, 'share')),
      ];
    }),
  };
}

/** The region as it is, and what each of some clamps takes from it. */
export function clampPictures(picture: Picture, region: Region, clamped: Clamped[]): Evidence {
  const own = cropPicture(picture, region)!;
  return {
    type: 'pictures',
    id: 'clampTakes',
    title: words.clampTakes,
    source: words.clampTakesSource(region.width, region.height),
    pictures: [
      { label: words.asItIs, ...packPicture(own, region) },
      ...clamped.map((one) => ({ label: one.title, ...packPicture(cutAlone(one.picture), region) })),
    ],
  };
}

/** The light that clamps took as a picture of its own. */
function cutAlone(picture: Picture): Picture {
  const channels = [...'RGB'].map((name) => ({ ...findChannel(picture, 'cut.clamp', name)!, name }));
  return { ...picture, channels };
}
