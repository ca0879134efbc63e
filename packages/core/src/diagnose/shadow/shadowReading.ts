// What the pixels of a region tell of a shadow by themselves, where there is no scene: frames of other renderers.
import { lightness, luminance } from '../../color/index.ts';
import { InputError } from '../../formats/index.ts';
import { cropPlane, findChannel, MAIN_LAYER, type Picture, type Region } from '../../image/index.ts';
import { quantile } from '../../math/index.ts';
import type { Diagnosis } from '../contract.ts';
import type { HistogramEvidence } from '../evidence.ts';
import { estimateNoise } from '../noise/estimateNoise.ts';
import { shadowDepth } from './shadowDepth.ts';
import { fillBars, fillOf, wayBars, waysOf } from './shadowEvidence.ts';
import { words } from './words.ts';

const BINS = 40;
/** Albedos below this tell nothing of the light on a surface. */
const BLACK = 0.02;
/** Share of the steps between neighbours that counts as the edge of the shadow. */
const STEEPEST = 0.99;

export interface ShadowReading {
  /** L* of both parts, their means. */
  lit: number;
  dark: number;
  /** Share of the region that is dark, 0..1. */
  share: number;
  /** L* that 99 % of the region exceed. */
  floor: number;
  /** Of the edge between both parts, pixels: their difference over its steepest steps. */
  edge: number;
}

/**
 * Splits a region at the lightness that parts it best: the variance between both parts is largest (Otsu 1979).
 * @param plane L* of each pixel, row by row
 */
export function shadowReading(plane: Float32Array, width: number): ShadowReading {
  const sorted = plane.toSorted();
  const total = sorted.reduce((sum, v) => sum + v, 0);
  let best = { between: -1, count: 0, below: 0 };
  let below = 0;
  for (let i = 0; i + 1 < sorted.length; i++) {
    below += sorted[i];
    const count = i + 1;
    const apart = below / count - (total - below) / (sorted.length - count);
    const between = count * (sorted.length - count) * apart ** 2;
    if (between > best.between) best = { between, count, below };
  }
  const { count } = best;
  const dark = count > 0 ? best.below / count : total / sorted.length;
  const lit = count > 0 ? (total - best.below) / (sorted.length - count) : dark;
  const steps: number[] = [];
  for (let i = 0; i < plane.length; i++) {
    const across = (i + 1) % width === 0 ? 0 : plane[i + 1] - plane[i];
    const down = i + width < plane.length ? plane[i + width] - plane[i] : 0;
    steps.push(Math.hypot(across, down));
  }
  const steepest = quantile(steps, STEEPEST);
  return {
    lit,
    dark,
    share: count / sorted.length,
    floor: quantile(sorted, 0.01),
    edge: steepest > 0 ? (lit - dark) / steepest : 0,
  };
}

/**
 * @param region inside the picture @param stops of the shadow check, at which noise is judged
 * @throws InputError where the picture has no beauty in color
 */
export function readFrameShadow(picture: Picture, region: Region, readable: number, stops: number): Diagnosis {
  const of = (layer: string) => [...'RGB'].map((c) => findChannel(picture, layer, c)?.data);
  const [beauty, albedo] = [of(MAIN_LAYER), of('albedo')].map((planes) => (planes.every(Boolean) ? planes.map((p) => cropPlane(picture, p!, region)) : null)); // prettier-ignore
  if (!beauty) throw new InputError(words.noBeauty);
  const y = ([r, g, b]: Float32Array[], i: number) => luminance(r[i], g[i], b[i]);
  // what a texture makes dark is no shadow: every place gets the mean albedo of the region
  const own = albedo ? Float32Array.from({ length: region.width * region.height }, (_, i) => Math.max(BLACK, y(albedo, i))) : null; // prettier-ignore
  const even = own ? own.reduce((sum, v) => sum + v, 0) / own.length : 1;
  const plane = Float32Array.from({ length: region.width * region.height }, (_, i) => lightness(Math.max(0, (y(beauty, i) * even) / (own?.[i] ?? 1)))); // prettier-ignore
  const reading = shadowReading(plane, region.width);
  const { dark, edge, floor, lit, share } = reading;
  const [fill, ways] = [fillOf(picture, region), waysOf(picture, region)];
  const depth = shadowDepth(picture, region, stops);
  const deep = lit - dark >= readable;
  const sentences = [
    deep
      ? words.parts(lit - dark, share, dark, edge, albedo !== null)
      : words.noParts(lit - dark, readable, albedo !== null),
    words.floor(floor),
    words.frameNoise(estimateNoise(picture, region, stops)),
    ...(depth === null ? [] : [words.frameDepth(depth)]),
    words.frameNeedsScene,
  ];
  return {
    kind: 'shadow',
    region,
    summary: sentences.join('\n'),
    causes: [],
    evidence: [
      histogramOf(plane, reading),
      ...(fill.length > 0 ? [fillBars(fill)] : []),
      ...(ways.length > 0 ? [wayBars(ways)] : []),
    ],
    remedies: [],
    measured: { ...reading },
  };
}

function histogramOf(plane: Float32Array, { dark, lit }: ShadowReading): HistogramEvidence {
  const [low, high] = [quantile(plane, 0), quantile(plane, 1)];
  const size = Math.max(1e-3, (high - low) / BINS);
  const counts = new Array<number>(BINS).fill(0);
  for (const v of plane) counts[Math.min(BINS - 1, Math.floor((v - low) / size))]++;
  return {
    type: 'histogram',
    id: 'lightness',
    title: words.histogram,
    source: words.histogramSource,
    x: { label: words.lightness, unit: 'L*', scale: 'linear' },
    counted: words.pixels,
    edges: Array.from({ length: BINS + 1 }, (_, i) => low + i * size),
    counts,
    markers: [
      { axis: 'x', value: dark, label: words.darkPart },
      { axis: 'x', value: lit, label: words.litPart },
    ],
  };
}
