import { encode } from 'fast-png';
import { linearToSrgb } from '../color/index.ts';

/** A gradient in UV space, v downwards. Colours are linear RGB, 0..1. */
export interface Gradient {
  /** Along the line from one place to the other, or in circles about the first, up to the distance of the second. */
  kind: 'linear' | 'radial';
  from: [u: number, v: number];
  to: [u: number, v: number];
  start: number[];
  end: number[];
}

/** Colour at a place: even in linear light, and that of the nearer end beyond either. */
export function gradientAt({ end, from, kind, start, to }: Gradient, u: number, v: number): number[] {
  const [ax, ay] = [to[0] - from[0], to[1] - from[1]];
  const [x, y] = [u - from[0], v - from[1]];
  const length = Math.hypot(ax, ay);
  const along =
    length === 0 ? 1 : kind === 'linear' ? (x * ax + y * ay) / (length * length) : Math.hypot(x, y) / length;
  const t = Math.min(1, Math.max(0, along));
  return start.map((c, k) => c + (end[k] - c) * t);
}

/** As a PNG of 16 bits, sRGB encoded: in 8 bits a dark end would show steps. */
export function gradientPng(gradient: Gradient, size = 512): Uint8Array {
  const data = new Uint16Array(size * size * 3);
  for (let y = 0, i = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      for (const c of gradientAt(gradient, (x + 0.5) / size, (y + 0.5) / size)) data[i++] = Math.round(65535 * linearToSrgb(Math.min(1, Math.max(0, c)))); // prettier-ignore
  return encode({ width: size, height: size, data, depth: 16, channels: 3 });
}
