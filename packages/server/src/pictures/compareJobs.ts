// How far pictures are apart.
import { transfer } from 'comlink';
import { toHalves } from '@dusting/core/formats';
import { differenceMaps, differencesOf, type Differences, type Region } from '@dusting/core/image';
import type { LayerPicture } from '../answers/index.ts';
import { layerOf } from './layerJobs.ts';
import type { OpenPictures, PictureSource } from './openPictures.ts';

/** Differences that were measured: pictures do not change. */
const measured = new Map<string, Differences | null>();
const MOST_MEASURED = 1000;

export const compareJobs = (pictures: OpenPictures) => ({
  /** How far two proofs are apart over a region, as they are displayed with so many stops. */
  async differences(
    before: PictureSource,
    after: PictureSource,
    region: Region,
    stops: number,
    layer?: string,
  ): Promise<Differences | null> {
    const key = JSON.stringify([before, after, region, stops, layer]);
    let found = measured.get(key);
    if (found === undefined) {
      found = differencesOf(
        await layerOf(pictures, before, layer),
        await layerOf(pictures, after, layer),
        region,
        stops,
        layer,
      );
      measured.set(key, found);
      if (measured.size > MOST_MEASURED) measured.delete(measured.keys().next().value!);
    }
    return found;
  },

  /** One of the measures of what is seen as a map over all pixels that two proofs share. */
  async differenceMap(
    kind: 'deltaE' | 'similarity',
    before: PictureSource,
    after: PictureSource,
    stops: number,
    layer?: string,
  ): Promise<LayerPicture | null> {
    const [one, two] = [await layerOf(pictures, before, layer), await layerOf(pictures, after, layer)];
    const maps = differenceMaps(one, two, two.dataWindow, stops, layer);
    if (!maps) return null;
    const { width, height } = maps.region;
    const halves = toHalves(maps[kind]);
    return transfer({ width, height, channels: ['Y'], halves }, [halves.buffer]);
  },
});
