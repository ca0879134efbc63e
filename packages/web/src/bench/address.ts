// What is looked at, in the address of the page: a link opens the same view.
import { DISPLAY_TRANSFORMS } from '@dusting/core/color';
import type { Region } from '@dusting/core/image';
import {
  CHANNELS,
  DIFFERENCE_KINDS,
  GAINS,
  MODES,
  type CompareMode,
  type DifferenceKind,
  type View,
} from '../picture/view.ts';

export interface Address {
  /** Names of proofs, such as "P3" or "T1". */
  proof: string | null;
  beside: string | null;
  mode: CompareMode;
  /** Layer of the other one; null: the same. */
  besideLayer: string | null;
  difference: DifferenceKind;
  gain: number;
  /** Angle of the wipe, degrees. */
  angle: number;
  layer: string;
  channel: View['channel'];
  transform: View['transform'];
  exposure: number;
  gamma: number;
  shadowCheck: number;
  region: Region | null;
  /** Frame pixel in the middle, and how large a pixel is; null where the whole picture is fitted in. */
  place: { x: number; y: number; scale: number } | null;
}
export const ADDRESS_DEFAULTS: Address = {
  proof: null,
  beside: null,
  mode: 'one',
  besideLayer: null,
  difference: 'signed',
  gain: 1,
  angle: 0,
  layer: 'beauty',
  channel: 'color',
  transform: 'srgb',
  exposure: 0,
  gamma: 1,
  shadowCheck: 0,
  region: null,
  place: null,
};

const round = (v: number) => Number(v.toFixed(3));

/** Only what differs from the defaults. */
export function toQuery(address: Address): Record<string, string> {
  const { region, place, ...plain } = address;
  const query: Record<string, string> = {};
  for (const [key, value] of Object.entries(plain))
    if (value !== null && value !== ADDRESS_DEFAULTS[key as keyof typeof plain]) query[key] = String(value);
  if (region) query.region = [region.x, region.y, region.width, region.height].join(',');
  if (place) query.place = [place.x, place.y, place.scale].map(round).join(',');
  return query;
}

/** What cannot be understood stands at its default: an old or mistyped link opens what it can. */
export function fromQuery(query: Record<string, unknown>): Address {
  const text = (key: string) => (typeof query[key] === 'string' ? query[key] : null);
  const oneOf = <T extends string>(key: string, values: readonly T[], otherwise: T) =>
    values.find((v) => v === query[key]) ?? otherwise;
  const number = (key: string, low: number, high: number) => {
    const value = Number(text(key) ?? NaN);
    return Number.isFinite(value) ? Math.min(high, Math.max(low, value)) : 0;
  };
  const numbers = (key: string, count: number) => {
    const values = (text(key) ?? '').split(',').map(Number);
    return values.length === count && values.every(Number.isFinite) ? values : null;
  };
  const name = (key: string) => (/^[PT]\d+$/.test(text(key) ?? '') ? text(key) : null);
  const region = numbers('region', 4)?.map(Math.round);
  const place = numbers('place', 3);
  return {
    proof: name('proof'),
    beside: name('beside'),
    mode: oneOf('mode', MODES, 'one'),
    besideLayer: text('besideLayer'),
    difference: oneOf('difference', DIFFERENCE_KINDS, 'signed'),
    gain: GAINS.find((g) => g === Number(text('gain'))) ?? 1,
    angle: Math.round(number('angle', -360, 360)),
    layer: text('layer') ?? 'beauty',
    channel: oneOf('channel', CHANNELS, 'color'),
    transform: oneOf('transform', DISPLAY_TRANSFORMS, 'srgb'),
    exposure: number('exposure', -30, 30),
    gamma: text('gamma') === null ? 1 : number('gamma', 0.2, 5) || 1,
    shadowCheck: Math.round(number('shadowCheck', 0, 2)),
    region: region && region[2] > 0 && region[3] > 0 ? { x: region[0], y: region[1], width: region[2], height: region[3] } : null, // prettier-ignore
    place: place && place[2] > 0 ? { x: place[0], y: place[1], scale: Math.min(128, Math.max(0.05, place[2])) } : null,
  };
}
