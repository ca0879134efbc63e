import { partOf } from '../formats/index.ts';
import { splitChannelName, type Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { CheckedPixels } from './checkedPixels.ts';
import { TILE } from './chunks.ts';
import { emptyFilm, filmStride } from './film.ts';
import type { FilmNames } from './filmNames.ts';
import { poolNoise } from './measureNoise.ts';
import { noiseCells } from './noiseCells.ts';
import { measuredLayers, proofChannels } from './proofChannels.ts';

/** Deflated channels as a share of their bytes: 0.23 to 0.39 on the frames of the demo. */
export const DEFLATED_SHARE = 1 / 3;

/**
 * Bytes that putting a proof of a region together holds (ProofFile): its channels deflated, those that wait for the last band as they
 * are, and a band of sums.
 * @param held layers that are wanted as a picture, too
 */
export function proofMemory(region: Region, settings: RenderSettings, names: FilmNames, held: RegExp): number {
  const one = emptyFilm({ ...region, width: 1, height: 1 }, filmStride(settings, []));
  const cells = noiseCells(one);
  const noise = new Map(measuredLayers(names, settings).map(([, measured]) => [measured, poolNoise(one, measured, cells, new CheckedPixels())])); // prettier-ignore
  const channels = proofChannels(one, settings, names, noise, () => true);
  const waiting = new Set(channels.filter(({ scaledBy }) => scaledBy !== undefined).map(({ name }) => partOf(name)));
  const each = channels.reduce((sum, { name, type }) => {
    const waits = waiting.has(partOf(name)) || held.test(splitChannelName(name).layer);
    return sum + (type === 'half' ? 2 : 4) * (DEFLATED_SHARE + Number(waits));
  }, 0);
  return Math.round(region.width * (region.height * each + Math.min(TILE, region.height) * one.stride * 8));
}
