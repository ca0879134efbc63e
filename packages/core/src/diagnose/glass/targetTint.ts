// The tint or the absorption that gives a wanted colour behind glass.
import { luminance } from '../../color/index.ts';

export interface TargetGlass {
  /** Interfaces that tint: two for each wall, one for a thin pane; and the length inside of all of them, metres. */
  interfaces: number;
  length: number;
}

export interface TintAnswer {
  /** transmission_tint that yields the colour by itself. */
  tint: number[];
  /** transmission_color for a transmission_depth of `length`, that yields it by itself; null without a length. */
  colour: number[] | null;
  /** Channels that no filter can reach: they are wanted brighter than the light that comes in. */
  tooBright: number[];
}

/**
 * A filter of n interfaces leaves tint^n, absorption over a length leaves colour^(length / depth) (Beer-Lambert).
 * @param wanted linear RGB behind the glass, relative to the light that comes in
 * @param lost RGB that reflections leave of the light, 0..1: what the interfaces reflect is no tint
 */
export function targetTint(
  wanted: number[],
  { interfaces, length }: TargetGlass,
  lost: number[] = [1, 1, 1],
): TintAnswer {
  const share = wanted.map((w, k) => (lost[k] > 0 ? w / lost[k] : 0));
  const reachable = share.map((s) => Math.min(1, Math.max(0, s)));
  return {
    tint: reachable.map((s) => s ** (1 / Math.max(1, interfaces))),
    colour: length > 0 ? reachable : null,
    tooBright: share.flatMap((s, k) => (s > 1 + 1e-9 ? [k] : [])),
  };
}

/**
 * A tint of the same hue and of a wanted luminance, no channel above 1: mixed with white where scaling alone would not do, since
 * a filter cannot brighten. Black has no hue and becomes grey.
 */
export function lightenTint([r, g, b]: number[], wanted: number): number[] {
  const now = luminance(r, g, b);
  const most = Math.max(r, g, b);
  if (most === 0) return [wanted, wanted, wanted];
  const full = [r, g, b].map((c) => c / most);
  const scaled = now / most;
  if (scaled >= wanted) return full.map((c) => (c * wanted) / scaled);
  const white = (wanted - scaled) / (1 - scaled);
  return full.map((c) => c + white * (1 - c));
}
