// Opens proofs and computes on them, away from the thread that answers requests.
import { parentPort, workerData } from 'node:worker_threads';
import { expose, transfer } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { estimateNoise, hasStatistics, readNoiseData, regionNoise, type Estimate } from '@dusting/core/diagnose';
import {
  applyRoles,
  proposeRoles,
  readFrame,
  sourceOf,
  sourceLayers,
  sumCheck,
  type FrameFiles,
  type LayerMapping,
  type SourceLayer,
  type SumCheck,
} from '@dusting/core/frames';
import { luminance, type Display } from '@dusting/core/color';
import {
  InputError,
  isExr,
  layerToHdr,
  layerToPng16,
  matteLayers,
  matteOf,
  namesAt,
  readExrHeader,
  readIdMattes,
  toHalf,
  writeExr,
  type IdMattes,
} from '@dusting/core/formats';
import {
  cropPicture,
  differenceMaps,
  differencesOf,
  findChannel,
  intersectRegions,
  listLayers,
  MAIN_LAYER,
  regionTable,
  type Differences,
  type Picture,
  type Region,
  type RegionRow,
} from '@dusting/core/image';
import { costShare, LIMITS, type CostLayer, type CostShare } from '@dusting/core/render';
import { connect } from '../db/connect.ts';
import { shrinkPicture } from '../node/coarse.ts';
import {
  isLarge,
  layersFor,
  layersNamed,
  LIGHT_LAYERS,
  nativeDeflate,
  nativeInflate,
  OpenPictures,
  outlineOf,
  STATISTICS_LAYERS,
  type PictureSource,
} from './openPictures.ts';
import { planningOn } from './planning.ts';
import { loadBlob } from '../store/blobStore.ts';
import type { TakenFrame } from '../store/frameStore.ts';

const { db } = connect(workerData.url, 1);
const pictures = new OpenPictures((blob) => loadBlob(db, blob));
type Rgb = [number, number, number];

/** Differences that were measured: pictures do not change. */
const measured = new Map<string, Differences | null>();
const MOST_MEASURED = 1000;

/** exr: one layer; layers: all of them, as OpenEXR too. */
export type ExportFormat = 'exr' | 'layers' | 'hdr' | 'png16';

export interface LayerPixels {
  width: number;
  height: number;
  channels: string[];
  /** Half-precision floats, interleaved. */
  halves: Uint16Array;
}
/** Names of what covers a pixel, by kind of matte, with their shares. */
export type PixelNames = { kind: string; names: { name: string; share: number }[] }[];

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
  /** Noise in L* told from the picture, where it carries no statistics. */
  estimated: Estimate | null;
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
    const outline = await pictures.outline(from);
    const hidden = new Set(matteLayers(outline));
    const names = readIdMattes(outline).flatMap((m) => [...m.ids.keys()].map((name) => `matte.${m.name}.${name}`));
    return [
      ...[...listLayers(outline)].filter(([layer]) => !hidden.has(layer)),
      ...names.map((name): [string, string[]] => [name, ['Y']]),
    ];
  },

  async layer(from: PictureSource, layer: string): Promise<LayerPixels | null> {
    const source = await pictures.get(from, { layers: layersFor(layer, await pictures.outline(from)) });
    const matte = matteLayer(source, layer);
    if (matte) {
      const halves = Uint16Array.from(matte, toHalf);
      return transfer({ width: source.width, height: source.height, channels: ['Y'], halves }, [halves.buffer]);
    }
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
    const source = await pixelRow(from, y);
    if (!source) return null;
    const at = intersectRegions({ x, y, width: 1, height: 1 }, source.dataWindow);
    if (!at) return null;
    const i = (y - source.dataWindow.y) * source.width + x - source.dataWindow.x;
    const hidden = new Set(matteLayers(source));
    return [...listLayers(source)]
      .filter(([layer]) => layer !== 'error' && !layer.startsWith('error.') && !hidden.has(layer))
      .map(([layer, channels]) => {
        const error = findChannel(source, layer === 'beauty' ? 'error' : `error.${layer}`, 'Y');
        return {
          layer,
          values: channels.map((c) => findChannel(source, layer, c)!.data[i]),
          error: error ? error.data[i] : null,
        };
      });
  },

  /** What covers a pixel of the frame. */
  async namesAt(from: PictureSource, x: number, y: number): Promise<PixelNames> {
    const source = await pixelRow(from, y);
    if (!source) return [];
    const { dataWindow, width } = source;
    const i = (y - dataWindow.y) * width + x - dataWindow.x;
    return mattesOf(source).map((m) => ({ kind: m.name, names: namesAt(m, i) }));
  },

  async region(from: PictureSource, region: Region, stops: number): Promise<RegionReading> {
    const source = await pictures.get(from, { layers: STATISTICS_LAYERS });
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
      estimated: hasStatistics(source) ? null : estimated(source, inside, stops),
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
      found = differencesOf(await layerOf(before, layer), await layerOf(after, layer), region, stops, layer);
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
    const [one, two] = [await layerOf(before, layer), await layerOf(after, layer)];
    const maps = differenceMaps(one, two, two.dataWindow, stops, layer);
    if (!maps) return null;
    const { width, height } = maps.region;
    const halves = Uint16Array.from(maps[kind], toHalf);
    return transfer({ width, height, channels: ['Y'], halves }, [halves.buffer]);
  },

  /** The layers of a frame as its files name them. */
  async sourceLayers(blob: string): Promise<SourceLayer[]> {
    const source = await pictures.outline({ blob, mapping: null });
    const hidden = new Set(matteLayers(source));
    return sourceLayers(source).filter(({ name }) => !hidden.has(name));
  },

  /** How unevenly the pixels of a proof cost. */
  async costShare(from: PictureSource, layer: CostLayer): Promise<CostShare | null> {
    const outline = await pictures.outline(from);
    return costShare(await pictures.get(from, { layers: layersNamed([layer, ...matteLayers(outline)]) }), layer);
  },

  async sumCheck(from: PictureSource): Promise<SumCheck | null> {
    return sumCheck(await pictures.get(from, { layers: LIGHT_LAYERS }));
  },

  /** Reads the files of one frame. @param known what was said of layers; for others it is proposed */
  async takeFrame(group: FrameFiles, known: LayerMapping): Promise<TakenFrame & { roles: LayerMapping }> {
    const bytes = placed(() => keptAs(group));
    const outline = bytes && placed(() => outlineOf(bytes));
    const large = outline && isLarge(outline);
    // of a large one only what is seen at once is read; what is wrong in the rest is said where it is looked at
    const seen = large ? proposeRoles(outline, known) : null;
    const channels = seen ? (name: string) => seen[sourceOf({ name }).layer] === 'beauty' : undefined;
    const read = placed(() => readFrame(group, { inflate: nativeInflate, channels }));
    const roles = seen ?? proposeRoles(read, known);
    const { displayWindow, dataWindow } = read;
    return {
      number: group.number,
      bytes: bytes ?? writeExr(read, { deflate: nativeDeflate }),
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
    const all = format === 'layers';
    const source = all ? await pictures.get(from, { rows: region }) : await layerOf(from, layer);
    const part = cropPicture(source, region, all ? undefined : [layer]);
    if (!part || part.channels.length === 0)
      throw new InputError('the region lies outside the picture, or the layer is not in it');
    if (format === 'hdr') return layerToHdr(part, layer);
    if (format === 'png16') return layerToPng16(part, layer, display);
    return writeExr(part, { deflate: nativeDeflate });
  },

  async table(from: PictureSource, region: Region): Promise<RegionRow[]> {
    return regionTable(await pictures.get(from, { rows: region }), region);
  },

  ...planningOn(pictures),
};
/** One layer of a picture, at least. */
async function layerOf(from: PictureSource, layer = MAIN_LAYER): Promise<Picture> {
  return pictures.get(from, { layers: layersFor(layer, await pictures.outline(from)) });
}
/** The row of a pixel, with all channels; null outside. */
async function pixelRow(from: PictureSource, y: number): Promise<Picture | null> {
  const { dataWindow } = await pictures.outline(from);
  return y >= dataWindow.y && y < dataWindow.y + dataWindow.height
    ? pictures.get(from, { rows: { y, height: 1 } })
    : null;
}

/** Mattes of the pictures that are open. */
const mattes = new WeakMap<Picture, IdMattes[]>();
function mattesOf(source: Picture): IdMattes[] {
  const found = mattes.get(source) ?? readIdMattes(source);
  mattes.set(source, found);
  return found;
}
/** The layer of one name, "matte.objects.sill"; null where it is none. */
function matteLayer(source: Picture, layer: string): Float32Array | null {
  for (const m of mattesOf(source)) {
    const start = `matte.${m.name}.`;
    if (layer.startsWith(start) && m.ids.has(layer.slice(start.length))) return matteOf(m, layer.slice(start.length));
  }
  return null;
}

export type PictureWorker = typeof api;
expose(api, nodeEndpoint(parentPort!));

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

/** The bytes of a frame that is one OpenEXR file with its frame at the origin: it is kept as it is. */
function keptAs({ files }: FrameFiles): Uint8Array | null {
  const [{ file }] = files;
  if (files.length > 1 || !isExr(file.bytes)) return null;
  const { x, y } = readExrHeader(file.bytes, file.name).displayWindow;
  return x === 0 && y === 0 ? file.bytes : null;
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
