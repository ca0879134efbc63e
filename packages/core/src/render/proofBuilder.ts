// Puts a proof together from bands of its film, so that the sums of a whole frame are never held at once: at 1920 x 1080
// they take 3.7 GB. What is kept of a band are its channels as the file holds them; only the factors that the pixels
// rendered twice give to all of the noise wait for the last band.
import { fromHalf, matteMetadata, partOf, toHalf } from '../formats/index.ts';
import { splitChannelName, type PackedChannel, type PackedPicture, type Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { CheckedPixels, eachStretch, type NoiseFactors } from './checkedPixels.ts';
import { frameOf, TILE } from './chunks.ts';
import { FILM, MEASURED, type Film } from './film.ts';
import type { FilmNames } from './filmNames.ts';
import { poolNoise, type PooledNoise } from './measureNoise.ts';
import { noiseCells } from './noiseCells.ts';
import { measuredLayers, proofChannels, type ProofChannel } from './proofChannels.ts';
import { trimOutliers } from './trimOutliers.ts';
import { StatisticsBuilder, type RenderStatistics } from './statistics.ts';

/** Metadata key under which a proof carries its settings and statistics as JSON. */
export const PROOF_ATTRIBUTE = 'dustingProof';

const ALL_LAYERS = /./;

/** Sums of so many pixels fit the cache. */
const PIXELS_AT_ONCE = 128;

/** A channel, band by band: nothing of a band in which all of its values are 0, or which was taken. */
interface Plane extends Pick<PackedChannel, 'name' | 'type'>, Pick<ProofChannel, 'scaledBy'> {
  bands: (PackedChannel['data'] | undefined)[];
}

export class ProofBuilder {
  private readonly planes = new Map<string, Plane>();
  /** Channels that are no longer here. */
  private readonly taken = new Set<string>();
  private readonly checked = new Map<number, CheckedPixels>();
  private readonly counts: StatisticsBuilder;
  private readonly keeps: (layer: string) => boolean;

  /** @param layers that the picture holds: a render that is read once, by a diagnosis, is put together in a fraction of the time */
  constructor(
    private readonly region: Region,
    private readonly settings: RenderSettings,
    private readonly names: FilmNames,
    stops: number,
    layers: RegExp = ALL_LAYERS,
  ) {
    this.counts = new StatisticsBuilder(region, stops);
    this.keeps = (layer) => layers.test(layer);
    for (const [layer, measured] of measuredLayers(names, settings))
      if (measured === MEASURED.beauty || this.keeps(`error.${layer}`)) this.checked.set(measured, new CheckedPixels());
  }

  /** @param band as bandsOf cuts the region, each once, in any order; outliers are taken out of it where the settings ask for that */
  addBand(band: Film): void {
    trimOutliers(band, this.settings);
    const cells = noiseCells(band);
    const noise = new Map<number, PooledNoise>();
    for (const [measured, checked] of this.checked) noise.set(measured, poolNoise(band, measured, cells, checked));
    this.counts.addBand(band, noise.get(MEASURED.beauty)!);
    if (band.paths) this.counts.addPaths(band.paths);
    const channels = proofChannels(band, this.settings, this.names, noise, this.keeps);
    const { data, region, stride } = band;
    const index = this.indexOf(region);
    const pixels = region.width * region.height;
    const values = channels.map((): PackedChannel['data'] | undefined => undefined);
    // all channels of some pixels, then the next: their sums stay in the cache (0.5 of the time of channel by channel)
    for (let first = 0; first < pixels; first += PIXELS_AT_ONCE) {
      const end = Math.min(pixels, first + PIXELS_AT_ONCE);
      channels.forEach(({ type, value }, c) => {
        if (typeof value === 'object') {
          const { over, slot } = value;
          for (let i = first; i < end; i++) {
            const at = i * stride;
            if (data[at + slot] === 0) continue;
            const v = data[at + slot] / ((over < 0 ? 1 : data[at + over]) || 1);
            (values[c] ??= emptyPlane(type, pixels))[i] = type === 'half' ? toHalf(v) : v;
          }
          return;
        }
        for (let i = first; i < end; i++) {
          const at = i * stride;
          const v = value(at, data[at + FILM.samples] || 1, i);
          if (v !== 0) (values[c] ??= emptyPlane(type, pixels))[i] = type === 'half' ? toHalf(v) : v;
        }
      });
    }
    channels.forEach((channel, c) => (this.planeOf(channel).bands[index] = values[c]));
  }

  /**
   * Channels of a band that was added and that no other band changes, part by part of the file: those of the error layers are left.
   * @param held layers that finish() is to return; the others are let go of
   */
  take(region: Region, held: RegExp): PackedChannel[] {
    const waiting = new Set([...this.planes.values()].filter((p) => p.scaledBy !== undefined).map((p) => partOf(p.name))); // prettier-ignore
    const index = this.indexOf(region);
    const zeros = zerosOf(region.width * region.height);
    return [...this.planes.values()].flatMap(({ bands, name, type }) => {
      if (waiting.has(partOf(name))) return [];
      const data = bands[index] ?? zeros(type);
      if (held.test(splitChannelName(name).layer)) return [{ name, type, data }];
      delete bands[index];
      this.taken.add(name);
      return [{ name, type, data }];
    });
  }

  private planeOf({ name, scaledBy, type }: ProofChannel): Plane {
    let plane = this.planes.get(name);
    if (!plane) this.planes.set(name, (plane = { name, type, bands: [], scaledBy }));
    return plane;
  }

  private indexOf(band: Region): number {
    return (band.y - this.region.y) / TILE;
  }

  /**
   * What was not taken, as a picture.
   * @param record what the proof carries under PROOF_ATTRIBUTE, from its statistics
   */
  finish(record: (statistics: RenderStatistics) => object): { picture: PackedPicture; statistics: RenderStatistics } {
    const { height, width } = this.region;
    const factors = new Map([...this.checked].map(([measured, rows]) => [measured, rows.factors()]));
    const scales = new Map([...factors].map(([measured, found]) => [measured, scaleOf(found, width)]));
    for (const { bands, scaledBy } of this.planes.values())
      if (scaledBy !== undefined) bands.forEach((data, index) => data && scales.get(scaledBy)!(data, index * TILE));
    const statistics = this.counts.finish(factors.get(MEASURED.beauty)!);
    const zeros = zerosOf(width * height);
    const channels = [...this.planes.values()]
      .filter(({ name }) => !this.taken.has(name))
      .map(({ bands, name, type }) => ({ name, type, data: this.joined(bands, type) ?? zeros(type) }));
    this.planes.clear(); // who writes the picture may let go of it
    const picture: PackedPicture = {
      width,
      height,
      dataWindow: this.region,
      displayWindow: frameOf(this.settings),
      channels,
      metadata: {
        ...matteMetadata('objects', this.names.objects),
        ...matteMetadata('surfaces', this.names.surfaces),
        [PROOF_ATTRIBUTE]: JSON.stringify(record(statistics)),
      },
    };
    return { picture, statistics };
  }

  /** The bands of a plane in one, which are let go of; null where all of its values are 0. */
  private joined(bands: Plane['bands'], type: Plane['type']): PackedChannel['data'] | null {
    const { height, width } = this.region;
    if (!bands.some(Boolean)) return null;
    if (height <= TILE) return bands[0]!;
    const data = emptyPlane(type, width * height);
    bands.forEach((band, index) => band && data.set(band, index * TILE * width));
    bands.length = 0;
    return data;
  }
}

function emptyPlane(type: Plane['type'], pixels: number): PackedChannel['data'] {
  if (type === 'half') return new Uint16Array(pixels);
  return type === 'float' ? new Float32Array(pixels) : new Uint32Array(pixels);
}

/** Planes of zeros are one and the same. */
function zerosOf(pixels: number): (type: Plane['type']) => PackedChannel['data'] {
  const made = new Map<Plane['type'], PackedChannel['data']>();
  return (type) => {
    if (!made.has(type)) made.set(type, emptyPlane(type, pixels));
    return made.get(type)!;
  };
}

/** Bits of half floats that are not negative: up to infinity. */
const UNSIGNED_HALVES = 0x7c01;

/** Multiplies the half floats of a band, none of them negative, with the roots of factors: by tables, as a frame has 40 million of them. */
function scaleOf(found: NoiseFactors, width: number): (data: PackedChannel['data'], top: number) => void {
  const tables = found.factors.map((factor) => {
    const by = Math.sqrt(factor);
    return Uint16Array.from({ length: UNSIGNED_HALVES }, (_, bits) => toHalf(fromHalf(bits) * by));
  });
  return (data, top) =>
    eachStretch(found, { width, height: data.length / width }, top, (kind, first, end) => {
      const table = tables[kind];
      for (let i = first; i < end; i++) if (data[i] < UNSIGNED_HALVES) data[i] = table[data[i]];
    });
}
