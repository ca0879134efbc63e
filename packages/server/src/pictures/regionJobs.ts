// What the pixels of a region say together.
import { estimateNoise, regionCuts, type Estimate } from '@dusting/core/diagnose';
import { hasStatistics, readNoiseData, regionNoise } from '@dusting/core/predict';
import { sumCheck, type SumCheck } from '@dusting/core/frames';
import { InputError, matteLayers } from '@dusting/core/formats';
import { findChannel, intersectRegions, MAIN_LAYER, planeSum, regionTable, type Picture, type Region, type RegionRow } from '@dusting/core/image'; // prettier-ignore
import { costShare, type CostLayer, type CostShare } from '@dusting/core/render';
import type { RegionReading, RegionStatistics } from '../answers/index.ts';
import { layersNamed, LIGHT_LAYERS, STATISTICS_LAYERS, type OpenPictures, type PictureSource } from './openPictures.ts';

export const regionJobs = (pictures: OpenPictures) => ({
  async region(from: PictureSource, region: Region, stops: number): Promise<RegionReading> {
    const source = await pictures.get(from, { layers: STATISTICS_LAYERS });
    const inside = intersectRegions(region, source.dataWindow);
    if (!inside) throw new InputError('the region lies outside the picture');
    const pixels = inside.width * inside.height;
    const mean = [...'RGB'].map((c) => planeSum(source, findChannel(source, MAIN_LAYER, c)?.data, inside) / pixels);
    return {
      region: inside,
      mean,
      statistics: hasStatistics(source)
        ? { ...statisticsOf(source, inside, stops), cutOff: regionCuts(source, inside)!.cutOff }
        : null,
      estimated: hasStatistics(source) ? null : estimated(source, inside, stops),
    };
  },

  /** How unevenly the pixels of a proof cost. */
  async costShare(from: PictureSource, layer: CostLayer): Promise<CostShare | null> {
    const outline = await pictures.outline(from);
    return costShare(await pictures.get(from, { layers: layersNamed([layer, ...matteLayers(outline)]) }), layer);
  },

  async sumCheck(from: PictureSource): Promise<SumCheck | null> {
    return sumCheck(await pictures.get(from, { layers: LIGHT_LAYERS }));
  },

  async table(from: PictureSource, region: Region): Promise<RegionRow[]> {
    return regionTable(await pictures.get(from, { rows: region }), region);
  },
});

function estimated(source: Picture, region: Region, stops: number): Estimate | null {
  if (![...'RGB'].every((c) => findChannel(source, MAIN_LAYER, c))) return null;
  const { value, low, high } = estimateNoise(source, region, stops);
  return { value, low, high };
}

function statisticsOf(source: Picture, region: Region, stops: number): Omit<RegionStatistics, 'cutOff'> {
  const data = readNoiseData(source, region, stops);
  const [counts, peaks] = [findChannel(source, 'samples', 'N')?.data, findChannel(source, 'brightest', 'Y')?.data];
  const brightest = { luminance: 0, x: region.x, y: region.y };
  let [sum, samples, peak, n] = [0, 0, 0, 0];
  eachPixel(source, region, (i, x, y) => {
    const count = counts?.[i] ?? 1;
    const own = data.beauty[n++];
    const most = peaks?.[i] ?? 0;
    if (most > brightest.luminance) Object.assign(brightest, { luminance: most, x, y });
    sum += own;
    samples += count;
    // one sample of n that stands alone adds its square over n^2 to the variance of the mean
    peak += Math.min(own, (most / count) ** 2);
  });
  return {
    noise: regionNoise(data, data.beauty, stops),
    seconds: data.seconds.reduce((all, s) => all + s, 0),
    variance: sum / n,
    samples: samples / n,
    peakShare: sum > 0 ? peak / sum : 0,
    brightest,
  };
}

function eachPixel(source: Picture, region: Region, visit: (i: number, x: number, y: number) => void): void {
  for (let y = region.y; y < region.y + region.height; y++)
    for (let x = region.x; x < region.x + region.width; x++)
      visit((y - source.dataWindow.y) * source.width + x - source.dataWindow.x, x, y);
}
