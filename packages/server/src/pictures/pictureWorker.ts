// Opens proofs and computes on them, away from the thread that answers requests.
import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import {
  DIAGNOSES,
  hasStatistics,
  readNoiseData,
  regionNoise,
  type DefectKind,
  type Diagnosis,
  type DiagnosisInput,
} from '@dusting/core/diagnose';
import {
  applyRoles,
  proposeRoles,
  readFrame,
  sourceLayers,
  sumCheck,
  type FrameFiles,
  type LayerMapping,
  type SourceLayer,
  type SumCheck,
} from '@dusting/core/frames';
import { luminance } from '@dusting/core/color';
import { InputError, layerToHdr, layerToPng16, readExr, toHalf, writeExr, type Display } from '@dusting/core/formats';
import {
  cropPicture,
  differenceMaps,
  differencesOf,
  findChannel,
  intersectRegions,
  listLayers,
  regionTable,
  type Differences,
  type Picture,
  type Region,
  type RegionRow,
} from '@dusting/core/image';
import { predictChange, type ChangePrediction } from '@dusting/core/plan';
import { LIMITS } from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { connect } from '../db/connect.ts';
import { shrinkPicture } from '../node/coarse.ts';
import { loadBlob } from '../store/blobStore.ts';
import type { TakenFrame } from '../store/frameStore.ts';

const { db } = connect(workerData.url, 1);
const open = new Map<string, Picture>();
const KEPT = 3;
type Rgb = [number, number, number];

/** Differences that were measured: pictures do not change. */
const measured = new Map<string, Differences | null>();
const MOST_MEASURED = 1000;

/** A stored picture, and what its layers are where another renderer named them. */
export interface PictureSource {
  blob: string;
  mapping: LayerMapping | null;
}

async function picture({ blob, mapping }: PictureSource): Promise<Picture> {
  const key = mapping ? `${blob} ${JSON.stringify(mapping)}` : blob;
  const found = open.get(key) ?? (await load());
  open.delete(key);
  open.set(key, found);
  async function load() {
    const read = readExr(await loadBlob(db, blob));
    return mapping ? applyRoles(read, mapping) : read;
  }
  while (open.size > KEPT) open.delete(open.keys().next().value!);
  return found;
}

/** exr: one layer; layers: all of them, as OpenEXR too. */
export type ExportFormat = 'exr' | 'layers' | 'hdr' | 'png16';

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
  /** null where the picture carries none. */
  statistics: RegionStatistics | null;
}
export interface RegionStatistics {
  /** L* at the shadow check. */
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
  async layers(from: PictureSource): Promise<[string, string[]][]> {
    return [...listLayers(await picture(from))];
  },

  async layer(from: PictureSource, layer: string): Promise<LayerPixels | null> {
    const source = await picture(from);
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
  async pixel(from: PictureSource, x: number, y: number): Promise<PixelReading[] | null> {
    const source = await picture(from);
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

  async region(from: PictureSource, region: Region, stops: number): Promise<RegionReading> {
    const source = await picture(from);
    const inside = intersectRegions(region, source.dataWindow);
    if (!inside) throw new InputError('the region lies outside the picture');
    const average = (layer: string, name: string) => {
      const channel = findChannel(source, layer, name)?.data;
      if (!channel) return 0;
      let sum = 0;
      eachPixel(source, inside, (i) => (sum += channel[i]));
      return sum / (inside.width * inside.height);
    };
    const cutOff = (limit: string) => luminance(...(['R', 'G', 'B'].map((c) => average(`cut.${limit}`, c)) as Rgb));
    return {
      region: inside,
      mean: ['R', 'G', 'B'].map((c) => average('beauty', c)),
      statistics: hasStatistics(source)
        ? {
            ...statisticsOf(source, inside, stops),
            cutOff: Object.fromEntries(LIMITS.map((limit) => [limit, cutOff(limit)])),
          }
        : null,
    };
  },

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
      found = differencesOf(await picture(before), await picture(after), region, stops, layer);
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
  ): Promise<LayerPixels | null> {
    const [one, two] = [await picture(before), await picture(after)];
    const maps = differenceMaps(one, two, two.dataWindow, stops, layer);
    if (!maps) return null;
    const { width, height } = maps.region;
    const halves = Uint16Array.from(maps[kind], toHalf);
    return transfer({ width, height, channels: ['Y'], halves }, [halves.buffer]);
  },

  async diagnose(kind: DefectKind, from: PictureSource, input: Omit<DiagnosisInput, 'picture'>): Promise<Diagnosis> {
    return DIAGNOSES[kind]!.diagnose({ ...input, picture: await picture(from) });
  },

  /** The layers of a frame as its files name them. */
  async sourceLayers(blob: string): Promise<SourceLayer[]> {
    return sourceLayers(await picture({ blob, mapping: null }));
  },

  async sumCheck(from: PictureSource): Promise<SumCheck | null> {
    return sumCheck(await picture(from));
  },

  /** Reads the files of one frame. @param known what was said of layers; for others it is proposed */
  async takeFrame(group: FrameFiles, known: LayerMapping): Promise<TakenFrame & { roles: LayerMapping }> {
    const read = placed(() => readFrame(group));
    const roles = proposeRoles(read, known);
    const { displayWindow, dataWindow } = read;
    return {
      number: group.number,
      bytes: writeExr(read),
      frame: { width: displayWindow.width, height: displayWindow.height },
      region: dataWindow,
      coarse: shrinkPicture(applyRoles(read, roles)),
      roles,
    };
  },

  /** A region with one layer or all of them as a file. */
  async exported(
    from: PictureSource,
    region: Region,
    format: ExportFormat,
    layer: string,
    display: Display,
  ): Promise<Uint8Array> {
    const part = cropPicture(await picture(from), region, format === 'layers' ? undefined : [layer]);
    if (!part || part.channels.length === 0)
      throw new InputError('the region lies outside the picture, or the layer is not in it');
    if (format === 'hdr') return layerToHdr(part, layer);
    if (format === 'png16') return layerToPng16(part, layer, display);
    return writeExr(part);
  },

  async table(from: PictureSource, region: Region): Promise<RegionRow[]> {
    return regionTable(await picture(from), region);
  },

  async predict(
    from: PictureSource,
    before: RenderSettings,
    after: RenderSettings,
    seconds: number,
    region: Region | null,
    stops: number,
  ): Promise<ChangePrediction> {
    const source = await picture(from);
    return predictChange(source, before, after, seconds, region ?? source.dataWindow, stops);
  },
};
export type PictureWorker = typeof api;
expose(api, nodeEndpoint(parentPort!));

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

/** Errors leave this thread with their message alone: the place goes into it. */
function placed<T>(read: () => T): T {
  try {
    return read();
  } catch (error) {
    throw error instanceof InputError ? new InputError(error.sentence) : error;
  }
}

function eachPixel(source: Picture, region: Region, visit: (i: number, x: number, y: number) => void): void {
  for (let y = region.y; y < region.y + region.height; y++)
    for (let x = region.x; x < region.x + region.width; x++)
      visit((y - source.dataWindow.y) * source.width + x - source.dataWindow.x, x, y);
}
