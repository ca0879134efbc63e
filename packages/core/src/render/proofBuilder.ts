// Puts a proof together from bands of its film, so that the sums of a whole frame are never held at once: at 1920 x 1080
// they take 3.7 GB. What is kept of a band are its channels as the file holds them; only the factor that the pixels
// rendered twice give to all of the noise waits for the last band.
import { fromHalf, matteMetadata, toHalf } from '../formats/index.ts';
import type { PackedChannel, PackedPicture, Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { frameOf, TILE } from './chunks.ts';
import { emptyFilm, FILM, filmStride, MEASURED, type Film } from './film.ts';
import type { FilmNames } from './filmNames.ts';
import { CheckedPixels, poolNoise, type NoiseCheck, type PooledNoise } from './measureNoise.ts';
import type { PathTallies } from './pathTallies.ts';
import { noiseCells } from './noiseCells.ts';
import { measuredLayers, proofChannels, type ProofChannel } from './proofChannels.ts';
import { trimOutliers } from './trimOutliers.ts';
import { StatisticsBuilder, type RenderStatistics } from './statistics.ts';

/** Metadata key under which a proof carries its settings and statistics as JSON. */
export const PROOF_ATTRIBUTE = 'dustingProof';

const ALL_LAYERS = /./;

/** Sums of so many pixels fit the cache. */
const PIXELS_AT_ONCE = 128;

/** Values of a channel; null as long as all of them are 0. */
interface Plane extends Pick<PackedChannel, 'name' | 'type'>, Pick<ProofChannel, 'scaledBy'> {
  data: PackedChannel['data'] | null;
}

export class ProofBuilder {
  private readonly planes = new Map<string, Plane>();
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

  /** What the chunks tallied of their paths. */
  addPaths(paths: PathTallies): void {
    this.counts.addPaths(paths);
  }

  /** @param band as bandsOf cuts the region, each once, in any order; outliers are taken out of it where the settings ask for that */
  addBand(band: Film): void {
    trimOutliers(band, this.settings);
    const cells = noiseCells(band);
    const noise = new Map<number, PooledNoise>();
    for (const [measured, checked] of this.checked) noise.set(measured, poolNoise(band, measured, cells, checked));
    this.counts.addBand(band, noise.get(MEASURED.beauty)!);
    const channels = proofChannels(band, this.settings, this.names, noise, this.keeps);
    const planes = channels.map((channel) => this.planeOf(channel));
    const { data, region, stride } = band;
    const start = (region.y - this.region.y) * this.region.width;
    const pixels = region.width * region.height;
    // all channels of some pixels, then the next: their sums stay in the cache (0.5 of the time of channel by channel)
    for (let first = 0; first < pixels; first += PIXELS_AT_ONCE) {
      const end = Math.min(pixels, first + PIXELS_AT_ONCE);
      channels.forEach(({ type, value }, c) => {
        const plane = planes[c];
        if (typeof value === 'object') {
          const { over, slot } = value;
          for (let i = first; i < end; i++) {
            const at = i * stride;
            if (data[at + slot] === 0) continue;
            const v = data[at + slot] / ((over < 0 ? 1 : data[at + over]) || 1);
            plane.data ??= this.emptyPlane(type);
            plane.data[start + i] = type === 'half' ? toHalf(v) : v;
          }
          return;
        }
        for (let i = first; i < end; i++) {
          const at = i * stride;
          const v = value(at, data[at + FILM.samples] || 1, i);
          if (v === 0) continue;
          plane.data ??= this.emptyPlane(type);
          plane.data[start + i] = type === 'half' ? toHalf(v) : v;
        }
      });
    }
  }

  private planeOf({ name, scaledBy, type }: ProofChannel): Plane {
    let plane = this.planes.get(name);
    if (!plane) this.planes.set(name, (plane = { name, type, data: null, scaledBy }));
    return plane;
  }

  private emptyPlane(type: Plane['type']): PackedChannel['data'] {
    const pixels = this.region.width * this.region.height;
    if (type === 'half') return new Uint16Array(pixels);
    return type === 'float' ? new Float32Array(pixels) : new Uint32Array(pixels);
  }

  /** @param record what the proof carries under PROOF_ATTRIBUTE, from its statistics */
  finish(record: (statistics: RenderStatistics) => object): { picture: PackedPicture; statistics: RenderStatistics } {
    const checks = new Map([...this.checked].map(([measured, rows]) => [measured, rows.check()]));
    for (const { data, scaledBy } of this.planes.values()) if (data && scaledBy !== undefined) scale(data, checks.get(scaledBy)!); // prettier-ignore
    const statistics = this.counts.finish(checks.get(MEASURED.beauty)!);
    const { height, width } = this.region;
    // planes of zeros are one and the same
    const zeros = { half: this.emptyPlane('half'), float: this.emptyPlane('float'), uint: this.emptyPlane('uint') };
    const channels = [...this.planes.values()].map(({ data, name, type }) => ({
      name,
      type,
      data: data ?? zeros[type],
    }));
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
}

/** Bytes that putting a proof of a region together holds at most: its channels, and a band of sums. */
export function proofMemory(region: Region, settings: RenderSettings, names: FilmNames): number {
  const one = emptyFilm({ ...region, width: 1, height: 1 }, filmStride(settings, []));
  const cells = noiseCells(one);
  const noise = new Map(measuredLayers(names, settings).map(([, measured]) => [measured, poolNoise(one, measured, cells, new CheckedPixels())])); // prettier-ignore
  const bytes = proofChannels(one, settings, names, noise, () => true).reduce((sum, { type }) => sum + (type === 'half' ? 2 : 4), 0); // prettier-ignore
  return region.width * (region.height * bytes + Math.min(TILE, region.height) * one.stride * 8);
}

/** Multiplies the half floats of a plane with the root of a factor. */
function scale(data: PackedChannel['data'], { factor }: NoiseCheck): void {
  if (factor === 1) return;
  const by = Math.sqrt(factor);
  for (let i = 0; i < data.length; i++) if (data[i] !== 0) data[i] = toHalf(fromHalf(data[i]) * by);
}
