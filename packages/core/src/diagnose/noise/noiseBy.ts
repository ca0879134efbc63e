// Whose noise it is: of which light, of what is seen there.
import { EMITTER_GROUP } from '../../render/index.ts';
import { namesAt, readIdMattes } from '../../formats/index.ts';
import { cropPlane, findChannel, listLayers, type Picture } from '../../image/index.ts';
import { weightedSum, type NoiseData } from '../../predict/index.ts';

/** Share of the visible variance, 0..1, the largest first. */
export type NoiseShare = { name: string; share: number };

const GROUP = 'error.group.';
const LEAST = 0.005;

/** Layers have no blanks in their names; what is called after all glowing surfaces is said so. */
export const groupWords = (name: string) =>
  name === EMITTER_GROUP ? 'surfaces that shine' : name.replaceAll('-', ' ');

const ranked = (sums: Iterable<[string, number]>, whole: number): NoiseShare[] =>
  [...sums]
    .map(([name, sum]) => ({ name, share: whole > 0 ? sum / whole : 0 }))
    .filter(({ share }) => share >= LEAST)
    .sort((a, b) => b.share - a.share);

/**
 * By what covers the pixels. Shares add up to one, but for what shows none of it.
 * @param of kind of matte: "surfaces" or "objects"
 */
export function noiseByMatte(picture: Picture, { beauty, region, weight }: NoiseData, of: string): NoiseShare[] {
  const mattes = readIdMattes(picture).find((m) => m.name === of);
  if (!mattes) return [];
  const sums = new Map<string, number>();
  const { dataWindow, width } = picture;
  beauty.forEach((variance, i) => {
    const x = region.x - dataWindow.x + (i % region.width);
    const y = region.y - dataWindow.y + Math.floor(i / region.width);
    for (const { name, share } of namesAt(mattes, y * width + x))
      sums.set(name, (sums.get(name) ?? 0) + variance * weight[i] * share);
  });
  return ranked(sums, weightedSum(beauty, weight));
}

/** By the group of lights that it comes from; each group's own variance, of the sum of them. */
export function noiseByLight(picture: Picture, { region, weight }: NoiseData): NoiseShare[] {
  const sums = [...listLayers(picture).keys()]
    .filter((layer) => layer.startsWith(GROUP))
    .map((layer): [string, number] => {
      const error = cropPlane(picture, findChannel(picture, layer, 'Y')!.data, region);
      return [groupWords(layer.slice(GROUP.length)), weightedSum(error.map((e) => e * e), weight)]; // prettier-ignore
    });
  return ranked(sums, sums.reduce((all, [, sum]) => all + sum, 0)); // prettier-ignore
}
