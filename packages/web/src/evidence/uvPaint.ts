import { fromBase64, type UvEvidence } from '@dusting/core/diagnose';
import { ramp } from '../picture/ramp.ts';
import { colourOf } from './palette.ts';

type Layer = UvEvidence['layers'][number];

/** What a layer with names may say: what is usual is grey, the rest stands out. */
const NAMED = ['#4a4a4a', '#56b4e9', '#d55e00'];
export const namedColour = (place: number): string => NAMED[place] ?? colourOf(undefined, place);

/** Lowest and highest value of a plane that are a number; those of 2 % at either end do not count. */
export function shownRange(plane: Float32Array): [number, number] {
  const sorted = plane.filter((v) => Number.isFinite(v)).sort();
  if (sorted.length === 0) return [0, 1];
  const [low, high] = [0.02, 0.98].map((share) => sorted[Math.round(share * (sorted.length - 1))]);
  return high > low ? [low, high] : [low, low + Math.max(1e-9, Math.abs(low))];
}

/** A plane in false colour, or in the colours of its names; what is no number stays clear. */
export function paintPlane(plane: Float32Array, width: number, names: Layer['names'], [low, high]: [number, number]) {
  const height = plane.length / width;
  const canvas = Object.assign(document.createElement('canvas'), { width, height });
  const context = canvas.getContext('2d')!;
  const image = context.createImageData(width, height);
  const colours = (names ?? []).map((_, i) => [1, 3, 5].map((at) => parseInt(namedColour(i).slice(at, at + 2), 16)));
  plane.forEach((value, i) => {
    if (Number.isNaN(value)) return;
    const rgb = names ? colours[value] : ramp((value - low) / (high - low)).map((c) => Math.round(255 * c));
    image.data.set([...rgb, 255], i * 4);
  });
  context.putImageData(image, 0, 0);
  return canvas;
}

/** Edges as evidence has them. // u, v, u, v an edge */
export function uvEdges(base64: string): Float32Array {
  return new Float32Array(fromBase64(base64).buffer);
}
