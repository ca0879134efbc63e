// What an occlusion layer tells by itself, where there is no scene: frames of other renderers.
import { lightness } from '../../color/index.ts';
import { InputError } from '../../formats/index.ts';
import type { Picture, Region } from '../../image/index.ts';
import { quantile } from '../../math/index.ts';
import type { Cause, Diagnosis } from '../contract.ts';
import type { HistogramEvidence } from '../evidence.ts';
import { doubleDarkening } from './doubleDarkening.ts';
import { isInverted, layerCurve, LAYER_CURVES } from './layerCoding.ts';
import { occlusionPlane, surfacePixels } from './occlusionPlane.ts';
import { words } from './words.ts';

const BINS = 20;
/** A pixel is black below this; a layer is crushed where so many are. Common practice, no source. */
const BLACK = 0.002;
const CRUSHED = 0.02;

/** @throws InputError where the picture has no occlusion layer */
export function readFrameLayer(picture: Picture, region: Region): Diagnosis {
  const whole = occlusionPlane(picture, region);
  if (!whole) throw new InputError(words.noLayer);
  const shows = surfacePixels(picture, region);
  const plane = whole.filter((_, i) => shows(i));
  if (plane.length === 0) throw new InputError(words.onlyBackground);
  const mean = plane.reduce((sum, v) => sum + v, 0) / plane.length;
  const black = plane.filter((v) => v < BLACK).length / plane.length;
  const noise = grain(whole, region.width);
  const sentences = [words.frame(mean, quantile(plane, 0.05), quantile(plane, 0.95)), words.grain(noise)];
  if (black > CRUSHED) sentences.push(words.crushed(black));
  const causes: Cause[] = [];
  const fault = (id: string, title: string, sentence: string) => {
    causes.push({ id, title, share: null, about: [], evidence: ['values'] });
    sentences.push(sentence);
  };
  if (isInverted(whole, region.width, shows)) fault('inverted', words.causeInverted, words.inverted(1 - mean));
  const curve = layerCurve(plane);
  if (curve === 'plain') sentences.push(words.eightBits);
  else if (curve) fault('curve', words.causeCurve, words.curve(curve, mean, plane.reduce((sum, v) => sum + LAYER_CURVES[curve](v), 0) / plane.length)); // prettier-ignore
  const twice = doubleDarkening(picture, region);
  if (twice) sentences.push(...twice.sentences);
  sentences.push(words.needsScene);
  return {
    kind: 'occlusion',
    region,
    summary: sentences.join('\n'),
    causes,
    evidence: [histogramOf(plane), ...(twice ? [twice.pictures] : [])],
    remedies: [],
    measured: { openness: mean, black, grain: noise },
  };
}

/**
 * Noise in L*, from differences of second order along rows: even slopes, which surfaces have, cancel (Immerkær 1996, along one
 * direction). The median keeps edges out; 0.6745 sigma is the median of the absolute value of a normal variable.
 */
function grain(plane: Float32Array, width: number): number {
  const differences: number[] = [];
  for (let i = 1; i + 1 < plane.length; i++)
    if (i % width !== 0 && (i + 1) % width !== 0) differences.push(Math.abs(lightness(plane[i - 1]) - 2 * lightness(plane[i]) + lightness(plane[i + 1]))); // prettier-ignore
  return differences.length > 0 ? quantile(differences, 0.5) / 0.6745 / Math.sqrt(6) : 0;
}

function histogramOf(plane: Float32Array): HistogramEvidence {
  const counts = Array<number>(BINS).fill(0);
  for (const v of plane) counts[Math.min(BINS - 1, Math.max(0, Math.floor(v * BINS)))]++;
  return {
    type: 'histogram',
    id: 'values',
    title: words.rangeHistogram,
    source: words.readSource,
    x: { label: words.open, unit: 'share', scale: 'linear' },
    counted: words.pixels,
    edges: Array.from({ length: BINS + 1 }, (_, i) => i / BINS),
    counts,
    markers: [],
  };
}
