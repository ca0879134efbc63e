// How numbers are written, everywhere: in findings and evidence, on the command line and in the interface.
import type { Estimate } from '../math/index.ts';

export type { Estimate };

export const inL = (lightness: number) => `${lightness.toFixed(lightness < 0.1 ? 2 : 1)} L*`;
/** @param share 0..1 */
export const percent = (share: number) => `${Math.round(share * 100)} %`;
/** With a digit more where it is small. @param share 0..1 */
export const finePercent = (share: number) => `${(share * 100).toFixed(share < 0.0995 ? 1 : 0)} %`;
export const inSeconds = (seconds: number) =>
  seconds < 10
    ? `${seconds.toFixed(1)} s`
    : seconds < 120
      ? `${Math.round(seconds)} s`
      : `${(seconds / 60).toFixed(1)} min`;
/** In units of 1000. */
export const inMegabytes = (bytes: number) => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`;
export const plainNumber = (v: number) =>
  v === 0 ? '0' : Math.abs(v) < 0.001 || Math.abs(v) >= 1e4 ? v.toExponential(1) : v.toFixed(Math.abs(v) < 1 ? 3 : 2);
const whole = (v: number) => (Number.isInteger(v) ? String(v) : v.toFixed(1));

/** What numbers of evidence and effects can be in; '' is a plain number, and a share runs from 0 to 1. */
export const UNITS = {
  '': plainNumber,
  share: finePercent,
  'L*': inL,
  s: inSeconds,
  ms: (v: number) => `${plainNumber(v)} ms`,
  bytes: inMegabytes,
  count: whole,
  px: (v: number) => `${v > 0 && v < 0.1 ? Number(v.toPrecision(1)) : v >= 100 ? Math.round(v) : whole(v)} px`,
  m: (v: number) => {
    const size = Math.abs(v);
    if (size >= 1e4) return `${Number((v / 1000).toPrecision(3))} km`;
    return size > 0 && size < 0.1 ? `${plainNumber(v * 1000)} mm` : `${plainNumber(v)} m`;
  },
  EV: (v: number) => `${v > 0 ? '+' : ''}${v.toFixed(v === Math.round(v) ? 0 : 1)} EV`,
} as const;
export type Unit = keyof typeof UNITS;

export const formatNumber = (value: number, unit: Unit): string => UNITS[unit](value);

/** "2.2 to 5.9 L*"; null where the range does not show. */
export function formatRange({ low, high }: Pick<Estimate, 'low' | 'high'>, unit: Unit): string | null {
  const [from, to] = [low, high].map((v) => formatNumber(v, unit));
  const sign = / \S+$/.exec(to)?.[0] ?? '';
  return from === to ? null : `${from.endsWith(sign) ? from.slice(0, from.length - sign.length) : from} to ${to}`;
}

/** "2.9 L* (2.2 to 5.9 L*)"; the value alone where its range does not show. */
export function formatEstimate(estimate: Estimate, unit: Unit): string {
  const [at, range] = [formatNumber(estimate.value, unit), formatRange(estimate, unit)];
  return range === null ? at : `${at} (${range})`;
}
