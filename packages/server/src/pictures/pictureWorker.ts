// Opens proofs and computes on them, away from the thread that answers requests.
import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import {
  DIAGNOSES,
  readNoiseData,
  regionNoise,
  type DefectKind,
  type Diagnosis,
  type DiagnosisInput,
} from '@dusting/core/diagnose';
import { readExr, toHalf } from '@dusting/core/formats';
import {
  differencesOf,
  findChannel,
  intersectRegions,
  listLayers,
  type Differences,
  type Picture,
  type Region,
} from '@dusting/core/image';
import { predictChange, type ChangePrediction } from '@dusting/core/plan';
import { LIMITS } from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { connect } from '../db/connect.ts';
import { loadBlob } from '../store/blobStore.ts';

const { db } = connect(workerData.url, 1);
const open = new Map<string, Picture>();
const KEPT = 3;

async function picture(blob: string): Promise<Picture> {
  const found = open.get(blob) ?? readExr(await loadBlob(db, blob));
  open.delete(blob);
  open.set(blob, found);
  while (open.size > KEPT) open.delete(open.keys().next().value!);
  return found;
}

export interface LayerPixels {
  width: number;
  height: number;
  channels: string[];
  /** Half-precision floats, interleaved. */
  halves: Uint16Array;
}
export interface PixelReading {
  layer: string;
  values: number[];
  error: number | null;
}
export interface RegionReading {
  region: Region;
  mean: number[];
  noise: number;
  seconds: number;
  /** Mean over the pixels of the variance of their mean luminance, and of their samples. */
  variance: number;
  samples: number;
  /** Share of that variance that the brightest sample of each pixel makes by itself, 0..1. */
  peakShare: number;
  brightest: { luminance: number; x: number; y: number };
  /** Mean luminance that each limit cut off. */
  cutOff: Record<string, number>;
}

const api = {
  async layers(blob: string): Promise<[string, string[]][]> {
    return [...listLayers(await picture(blob))];
  },

  async layer(blob: string, layer: string): Promise<LayerPixels | null> {
    const source = await picture(blob);
    const names = listLayers(source).get(layer)?.slice(0, 4);
    if (!names) return null;
    const planes = names.map((name) => findChannel(source, layer, name)!.data);
    const { width, height } = source;
    const halves = new Uint16Array(width * height * planes.length);
    for (let i = 0; i < width * height; i++)
      for (let k = 0; k < planes.length; k++) halves[i * planes.length + k] = toHalf(planes[k][i]);
    return transfer({ width, height, channels: names, halves }, [halves.buffer]);
  },

  /** Every layer's values at a pixel of the frame. */
  async pixel(blob: string, x: number, y: number): Promise<PixelReading[] | null> {
    const source = await picture(blob);
    const at = intersectRegions({ x, y, width: 1, height: 1 }, source.dataWindow);
    if (!at) return null;
    const i = (y - source.dataWindow.y) * source.width + x - source.dataWindow.x;
    return [...listLayers(source)]
      .filter(([layer]) => layer !== 'error' && !layer.startsWith('error.'))
      .map(([layer, channels]) => {
        const error = findChannel(source, layer === 'beauty' ? 'error' : `error.${layer}`, 'Y');
        return {
          layer,
          values: channels.map((c) => findChannel(source, layer, c)!.data[i]),
          error: error ? error.data[i] : null,
        };
      });
  },

  async region(blob: string, region: Region, stops: number): Promise<RegionReading> {
    const source = await picture(blob);
    const data = readNoiseData(source, region, stops);
    const pixels = data.region.width * data.region.height;
    const average = (layer: string, name: string) => {
      const channel = findChannel(source, layer, name)?.data;
      if (!channel) return 0;
      let sum = 0;
      eachPixel(source, data.region, (i) => (sum += channel[i]));
      return sum / pixels;
    };
    const brightest = { luminance: 0, x: data.region.x, y: data.region.y };
    const peaks = findChannel(source, 'brightest', 'Y')?.data;
    if (peaks)
      eachPixel(source, data.region, (i, x, y) => {
        if (peaks[i] > brightest.luminance) Object.assign(brightest, { luminance: peaks[i], x, y });
      });
    return {
      region: data.region,
      mean: ['R', 'G', 'B'].map((c) => average('beauty', c)),
      noise: regionNoise(data, data.beauty, stops),
      seconds: data.seconds.reduce((sum, s) => sum + s, 0),
      ...spreadOf(source, data.region, data.beauty),
      brightest,
      cutOff: Object.fromEntries(
        LIMITS.map((limit) => [
          limit,
          0.2126 * average(`cut.${limit}`, 'R') +
            0.7152 * average(`cut.${limit}`, 'G') +
            0.0722 * average(`cut.${limit}`, 'B'),
        ]),
      ),
    };
  },

  /** How far two proofs are apart over a region, as they are displayed with so many stops. */
  async differences(before: string, after: string, region: Region, stops: number): Promise<Differences | null> {
    return differencesOf(await picture(before), await picture(after), region, stops);
  },

  async diagnose(kind: DefectKind, blob: string, input: Omit<DiagnosisInput, 'picture'>): Promise<Diagnosis> {
    return DIAGNOSES[kind]!.diagnose({ ...input, picture: await picture(blob) });
  },

  async predict(
    blob: string,
    before: RenderSettings,
    after: RenderSettings,
    seconds: number,
    region: Region | null,
    stops: number,
  ): Promise<ChangePrediction> {
    const source = await picture(blob);
    return predictChange(source, before, after, seconds, region ?? source.dataWindow, stops);
  },
};
export type PictureWorker = typeof api;
expose(api, nodeEndpoint(parentPort!));

/** @param variance of the pixels of the region, row by row */
function spreadOf(
  source: Picture,
  region: Region,
  variance: Float32Array,
): Pick<RegionReading, 'variance' | 'samples' | 'peakShare'> {
  const [counts, peaks] = [findChannel(source, 'samples', 'N')?.data, findChannel(source, 'brightest', 'Y')?.data];
  let [sum, samples, peak, n] = [0, 0, 0, 0];
  eachPixel(source, region, (i) => {
    const count = counts?.[i] ?? 1;
    const own = variance[n++];
    sum += own;
    samples += count;
    // one sample of n that stands alone adds its square over n^2 to the variance of the mean
    peak += Math.min(own, ((peaks?.[i] ?? 0) / count) ** 2);
  });
  return { variance: sum / n, samples: samples / n, peakShare: sum > 0 ? peak / sum : 0 };
}

function eachPixel(source: Picture, region: Region, visit: (i: number, x: number, y: number) => void): void {
  for (let y = region.y; y < region.y + region.height; y++)
    for (let x = region.x; x < region.x + region.width; x++)
      visit((y - source.dataWindow.y) * source.width + x - source.dataWindow.x, x, y);
}
