import {
  cropPlane,
  intersectRegions,
  findChannel,
  pixelNoise,
  visibleNoise,
  type Picture,
  type Region,
} from '../image/index.ts';
import {
  COMPONENTS,
  DEPTH_LIMITS,
  earlySamples,
  evennessLaw,
  varianceDoubt,
  layerLuminance,
  RAY_TYPES,
  SPLIT_KINDS,
  SPLIT_LOBES,
} from '../render/index.ts';
import { noisePower } from './noisePower.ts';
import { splitParts } from './splitParts.ts';
import { InputError } from '../formats/index.ts';

/** What the film says about the pixels of one region, row by row. Variances are of the mean's luminance. */
export interface NoiseData {
  region: Region;
  luminance: Float32Array;
  beauty: Float32Array;
  /** What independent samples would tell of the same, s^2 / n. */
  classical: Float32Array;
  /** Variance of the variance of each pixel. */
  doubt: Float32Array;
  /** Power by which the variance of each pixel falls with the samples (render/evenness.ts). */
  law: Float32Array;
  /** One array for each of COMPONENTS. */
  components: Float32Array[];
  /** The part of it that the splits of each of SPLIT_KINDS bring; empty where it is not known, as of single ones. */
  parts: Float32Array[];
  /** Square of L* over luminance, at each pixel's own noise: turns a variance into visible noise squared. */
  weight: Float32Array;
  seconds: Float32Array;
  /** The part of them that each of SPLIT_KINDS takes. */
  kindSeconds: Float32Array[];
  rays: Float32Array;
  /** Rays that follow a first event of each of SPLIT_LOBES; and each of SPLIT_KINDS: asking the lights at first as well. */
  branchRays: Float32Array[];
  kindRays: Float32Array[];
  /** Rays of probes beyond each of DEPTH_LIMITS. */
  probeRays: Float32Array[];
  /** Power with which the measured noise follows the noise that is there: noisePower.ts. */
  power: number;
}

/** Square of L* over luminance, at each pixel's own noise. */
export function eyeWeight(luminance: Float32Array, variance: Float32Array, stops: number): Float32Array {
  return luminance.map((y, i) => {
    const se = Math.sqrt(variance[i]);
    return se > 0 ? (pixelNoise(y, se, stops) / se) ** 2 : 0;
  });
}

export function weightedSum(values: Float32Array, weights: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i] * weights[i];
  return sum;
}

/** Whether a picture carries the standard error of its pixels. */
export const hasStatistics = (picture: Picture) => findChannel(picture, 'error', 'Y') !== undefined;

/** @throws InputError where the region lies outside the picture or the picture has no statistics */
export function readNoiseData(picture: Picture, region: Region, stops: number): NoiseData {
  const inside = intersectRegions(region, picture.dataWindow);
  if (!inside) throw new InputError('the region lies outside the picture');
  const whole = layerLuminance(picture, 'beauty');
  const error = findChannel(picture, 'error', 'Y')?.data;
  if (!whole || !error)
    throw new InputError(
      'this picture carries no statistics (no layer "error"): render a proof of the shot, and diagnose that',
    );
  const crop = (source: Float32Array | undefined) =>
    source ? cropPlane(picture, source, inside) : new Float32Array(inside.width * inside.height);
  const squares = (source: Float32Array | undefined) => crop(source).map((v) => v * v);
  const channel = (layer: string, name: string) => findChannel(picture, layer, name)?.data;
  const luminance = crop(whole);
  const beauty = squares(error);
  const weight = eyeWeight(luminance, beauty, stops);
  const spreads = channel('spread', 'Y');
  const classical = spreads ? squares(spreads) : beauty;
  const halves = channel('halves', 'Y');
  const [brightest, counted] = [crop(channel('brightest', 'Y')), crop(channel('samples', 'N'))];
  const shares = SPLIT_KINDS.map((kind) => channel('splits', kind)).map((share) => (share ? squares(share) : new Float32Array(0))); // prettier-ignore
  const camera = crop(channel('rays', 'camera'));
  const rays = camera.slice();
  for (const type of RAY_TYPES.slice(1)) crop(channel('rays', type)).forEach((n, i) => (rays[i] += n));
  const branchRays = SPLIT_LOBES.map((lobe) => crop(channel('branchRays', lobe)));
  // what follows neither the camera nor a branch asks the lights at the first surface
  const asked = rays.map((all, i) => Math.max(0, all - camera[i] - branchRays.reduce((sum, r) => sum + r[i], 0)));
  const kindRays = SPLIT_KINDS.map((kind) => (kind === 'light' ? asked : branchRays[SPLIT_LOBES.indexOf(kind)]));
  const seconds = crop(channel('time', 'ms')).map((ms) => ms / 1000);
  const timed = SPLIT_KINDS.map((kind) => crop(channel('kindTime', kind)).map((ms) => ms / 1000));
  // where the kinds were not timed, a ray of any takes as long as the others
  const isTimed = timed.some((part) => total(part) > 0);
  const data = {
    region: inside,
    luminance,
    beauty,
    classical,
    doubt: luminance.map((y, i) => varianceDoubt(brightest[i], y, classical[i], beauty[i], counted[i])),
    law: halves ? squares(halves).map((h, i) => evennessLaw(beauty[i], h)) : beauty.map(() => 1),
    components: COMPONENTS.map((c) => squares(channel(`error.${c}`, 'Y'))),
    parts: splitParts(beauty, classical, shares, inside.width),
    weight,
    seconds,
    kindSeconds: isTimed ? timed : kindRays.map((part) => part.map((n, i) => (n > 0 ? (seconds[i] * n) / rays[i] : 0))),
    rays,
    branchRays,
    kindRays,
    probeRays: DEPTH_LIMITS.map((limit) => crop(channel('probeRays', limit))),
  };
  const [mean, spread] = [channel('early', 'mean'), channel('early', 'error')];
  if (!mean || !spread) return { ...data, power: 1 };
  const samples = channel('samples', 'N')![0];
  const all = regionNoise(data, classical, stops);
  const quarter = regionNoise({ region: inside, luminance: crop(mean) }, squares(spread), stops);
  const fewer = classical.map((v) => (v * samples) / earlySamples(samples));
  return { ...data, power: noisePower(all, quarter, regionNoise(data, fewer, stops), samples) };
}

export function total(values: Float32Array): number {
  let sum = 0;
  for (const value of values) sum += value;
  return sum;
}

/** Noise of the region for given variances of its pixels. */
export function regionNoise(
  data: Pick<NoiseData, 'luminance' | 'region'>,
  variance: ArrayLike<number>,
  stops: number,
): number {
  const { width, height } = data.region;
  return visibleNoise(data.luminance, variance, width, { x: 0, y: 0, width, height }, { stops });
}
