import { EYE_NOISE_GAIN, VISIBLE_NOISE_DEFAULTS, type Region } from '../../image/index.ts';
import type { Component } from '../../render/index.ts';
import type { HistogramEvidence, MapEvidence } from '../evidence.ts';
import { tileMap } from '../tileMap.ts';
import { COMPONENT_NAMES, words } from './words.ts';

/** A part of the light, with the variance of each pixel of the region. */
export interface NoisePart {
  /** null: none of the components. */
  component: Component | null;
  variance: Float32Array;
}

/** Noise of each tile of the region as the eye sees it, and the part with the largest share of it. */
export function noiseMap(
  region: Region,
  variance: Float32Array,
  weight: Float32Array,
  parts: NoisePart[],
  source: string,
): MapEvidence {
  const categories = parts.flatMap(({ component }) => (component ? [{ label: COMPONENT_NAMES[component], colour: component }] : [])); // prettier-ignore
  const shown = { id: 'map', title: words.mapTitle, unit: 'L*' as const, source, categories };
  const visible = (plane: Float32Array, pixels: number[]) => pixels.reduce((sum, i) => sum + plane[i] * weight[i], 0);
  return tileMap(
    region,
    shown,
    (pixels) => {
      const sums = parts.map((part) => visible(part.variance, pixels));
      const most = Math.max(0, ...sums);
      const leading = most > 0 ? parts[sums.indexOf(most)].component : null;
      return {
        value: EYE_NOISE_GAIN * Math.sqrt(visible(variance, pixels) / pixels.length),
        leading: leading ? categories.findIndex(({ colour }) => colour === leading) : -1,
      };
    },
    VISIBLE_NOISE_DEFAULTS.tile,
  );
}

const BINS = 16;

/** How many tiles of a map are how noisy, and where the limit is and the noise that is reported. */
export function tileHistogram({ values, source }: MapEvidence, noise: number, limit: number): HistogramEvidence {
  const most = Math.max(limit * 1.1, ...values) || 1;
  const edges = Array.from({ length: BINS + 1 }, (_, i) => (i * most) / BINS);
  const counts = new Array<number>(BINS).fill(0);
  for (const v of values) counts[Math.min(BINS - 1, Math.floor((v / most) * BINS))]++;
  return {
    type: 'histogram',
    id: 'tiles',
    title: words.tilesTitle,
    source,
    x: { label: words.tilesAxis, unit: 'L*', scale: 'linear' },
    counted: 'tiles',
    edges,
    counts,
    markers: [
      { axis: 'x', value: limit, label: words.limitMark },
      { axis: 'x', value: noise, label: words.noiseMark },
    ],
  };
}
