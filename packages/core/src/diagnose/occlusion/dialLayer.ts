// The layer at one place of the dial, fast enough to follow the hand.
import type { DialEvidence, DialPlace } from '../evidence.ts';

/** Place of a cone's edge, even in rays. @param cone degrees */
export const awayOf = (cone: number): number => Math.sin((cone * Math.PI) / 180) ** 2;

/** Each plane begins at a whole word, so that four pixels are read at once. */
export const planeBytes = (pixels: number): number => 4 * Math.ceil(pixels / 4);

/** The layer at a place of the dial, 0..1: beyond its ends it is that of the ends. @param shares its planes */
export function dialLayer(
  { clear, cones, height, values, width }: Pick<DialEvidence, 'clear' | 'cones' | 'height' | 'values' | 'width'>,
  shares: Uint8Array,
  place: DialPlace,
): Float32Array {
  const size = width * height;
  const reach = Math.min(values.at(-1)!, Math.max(values[0], place.distance));
  // shares of planes that add up to the layer's darkness
  const weights = stepWeights(values, reach, place.falloff);
  const blocks = Math.max(0, clear.indexOf(place.clear));
  const above = cones.findIndex((cone) => cone >= place.cone);
  const outer = above < 0 ? cones.length - 1 : above;
  const inner = Math.max(0, outer - 1);
  const span = awayOf(cones[outer]) - awayOf(cones[inner]);
  const share = span > 0 ? Math.min(1, Math.max(0, (awayOf(place.cone) - awayOf(cones[inner])) / span)) : 1;
  const planesOf = (cone: number, part: number) => {
    const first = (blocks * cones.length + cone) * values.length;
    return weights.map((weight, v) => ({ at: (first + v) * planeBytes(size), by: part * weight }));
  };
  const planes = [...planesOf(inner, 1 - share), ...planesOf(outer, share)].filter(({ by }) => by !== 0);
  return sumPlanes(shares, planes, size);
}

/** Words of a part that stays in the cache while all planes are added to it. */
const PART = 4096;
/** The weights of all planes together, in whole numbers: 255 times as much still fits into two bytes. */
const WHOLE = 257;
const PAIR = 0x00ff00ff;
const { imul } = Math;

/**
 * 1 less the sum of some planes, to 0.002. Four pixels are read as a word, and each multiplication counts for two of them, as
 * bytes 0 and 2 or 1 and 3 of the word: no sum runs over into its neighbor, since the weights add up to 1 at most.
 * 1280 x 720 pixels of 32 planes: byte by byte in single precision 89 ms, by words 40, by words of four planes at once 23.
 * @param shares in 255 parts @param planes first byte of each, and what it counts, 0..1
 */
function sumPlanes(shares: Uint8Array, planes: { at: number; by: number }[], size: number): Float32Array {
  const words = new Uint32Array(shares.buffer, shares.byteOffset, shares.length / 4);
  const count = planeBytes(size) / 4;
  const layer = new Float32Array(4 * count);
  const [even, odd] = [new Uint32Array(PART), new Uint32Array(PART)];
  const quads = fours(planes);
  for (let start = 0; start < count; start += PART) {
    const part = Math.min(PART, count - start);
    even.fill(0);
    odd.fill(0);
    for (const [a, b, c, d] of quads) {
      const [atA, atB, atC, atD] = [a.at + start, b.at + start, c.at + start, d.at + start];
      const [byA, byB, byC, byD] = [a.by, b.by, c.by, d.by];
      for (let i = 0; i < part; i++) {
        const p = words[atA + i];
        const q = words[atB + i];
        const r = words[atC + i];
        const s = words[atD + i];
        even[i] += imul(p & PAIR, byA) + imul(q & PAIR, byB) + imul(r & PAIR, byC) + imul(s & PAIR, byD);
        odd[i] += imul((p >>> 8) & PAIR, byA) + imul((q >>> 8) & PAIR, byB) + imul((r >>> 8) & PAIR, byC) + imul((s >>> 8) & PAIR, byD); // prettier-ignore
      }
    }
    for (let i = 0, o = 4 * start; i < part; i++) {
      layer[o++] = 1 - (even[i] & 0xffff) / 65535;
      layer[o++] = 1 - (odd[i] & 0xffff) / 65535;
      layer[o++] = 1 - (even[i] >>> 16) / 65535;
      layer[o++] = 1 - (odd[i] >>> 16) / 65535;
    }
  }
  return layer.subarray(0, size);
}

/** Planes by fours, by words and whole weights. What is rounded off one weight is added to the next. */
function fours(planes: { at: number; by: number }[]): { at: number; by: number }[][] {
  let [sum, used] = [0, 0];
  const whole = planes.map(({ at, by }) => {
    sum += by * WHOLE;
    const rounded = Math.round(sum) - used;
    used += rounded;
    return { at: at / 4, by: rounded };
  });
  while (whole.length % 4 !== 0) whole.push({ at: 0, by: 0 });
  return Array.from({ length: whole.length / 4 }, (_, i) => whole.slice(4 * i, 4 * i + 4));
}

/**
 * With what each share of stopped rays counts: a ray stopped at t closes by (1 - t / reach)^falloff, so the shares F of the
 * steps add up to the sum of (F[i] - F[i - 1]) x the mean of that over the step.
 */
function stepWeights(values: number[], reach: number, falloff: number): number[] {
  const weights = values.map(() => 0);
  const closes = (t: number) => (falloff > 0 ? Math.max(0, 1 - t / reach) ** falloff : 1);
  // Simpson's rule over a step that is even by the logarithm
  const mean = (from: number, to: number) => (closes(from) + 4 * closes(from > 0 ? Math.sqrt(from * to) : to / 2) + closes(to)) / 6; // prettier-ignore
  for (let i = 0, from = 0; i < values.length && from < reach; from = values[i++]) {
    const to = Math.min(values[i], reach);
    const by = mean(from, to);
    // of the last step a part: its end is blended between the two planes
    const part = to === values[i] || i === 0 ? 1 : Math.log(to / from) / Math.log(values[i] / from);
    weights[i] += by * part;
    if (i > 0) weights[i - 1] -= by * part;
  }
  return weights;
}
