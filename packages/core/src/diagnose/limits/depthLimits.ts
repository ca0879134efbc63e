// What other depth limits would keep of the light and cost in rays, from a render with open limits that kept account of its
// paths (render/pathTallies.ts). Exact for that render: a path with limits lacks the events beyond them and nothing else.
import { SPLIT_LOBES, TALLY_GROUPS, type PathCounts } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { sum } from './clampLimits.ts';

export type Depths = RenderSettings['depth'];
export type DepthKind = keyof Depths;
export const DEPTH_KINDS: DepthKind[] = [...SPLIT_LOBES, 'total'];

type Row = PathCounts['depths'][number];
const total = (events: Row['events']) => events[0] + events[1] + events[2] + events[3];
const countOf = (events: Row['events'], kind: DepthKind) =>
  kind === 'total' ? total(events) : events[SPLIT_LOBES.indexOf(kind)];

export const isKept = ({ events }: Row, limits: Depths) => DEPTH_KINDS.every((kind) => countOf(events, kind) <= limits[kind]); // prettier-ignore

/** Luminance in each group of pixels, and rays, of the paths within the limits. */
export function within(rows: Row[], limits: Depths): { light: number[]; rays: number } {
  const light = new Array<number>(TALLY_GROUPS).fill(0);
  let rays = 0;
  for (const row of rows) {
    if (!isKept(row, limits)) continue;
    rays += row.rays;
    row.light.forEach((v, g) => (light[g] += v));
  }
  return { light, rays };
}

export const OPEN: Depths = { diffuse: Infinity, specular: Infinity, transmission: Infinity, volume: Infinity, total: Infinity }; // prettier-ignore

/** No limits but some. */
export const openBut = (from: Depths, fixed: DepthKind[]): Depths => ({ ...OPEN, ...Object.fromEntries(fixed.map((kind) => [kind, from[kind]])) }); // prettier-ignore

/** Share of the light beyond each value of one limit, while the others are open: from 0 to the deepest path that was met. */
export function lostBeyond(rows: Row[], kind: DepthKind): number[] {
  const byCount: number[] = [];
  for (const { events, light } of rows) {
    const count = countOf(events, kind);
    byCount[count] = (byCount[count] ?? 0) + sum(light);
  }
  const all = sum(byCount.map((v) => v ?? 0));
  let kept = 0;
  return Array.from(byCount, (v) => Math.max(0, 1 - (kept += v ?? 0) / (all || 1)));
}

/** Depths to which limits are raised: beyond the first few a step more is not worth a choice. */
const STEPS = [0, 1, 2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 24, 32, 40, 48, 64];

/**
 * The limits that keep a share of the light, raised from `from` where most light is won for the rays. Each step raises one limit,
 * with the total depth where that would hold it back.
 * @param share of the light of all paths, 0..1
 * @param fixed limits that stay: the light beyond them is not asked for
 */
export function limitsThatKeep(rows: Row[], from: Depths, share: number, fixed: DepthKind[] = []): Depths {
  const wanted = share * sum(within(rows, openBut(from, fixed)).light);
  const free = DEPTH_KINDS.filter((kind) => !fixed.includes(kind));
  let limits = from;
  for (;;) {
    const now = within(rows, limits);
    const light = sum(now.light);
    if (light >= wanted) return lowered(rows, limits, from, wanted);
    let best: { limits: Depths; worth: number } | null = null;
    for (const next of raised(limits, free)) {
      const then = within(rows, next);
      const won = Math.min(wanted, sum(then.light)) - light;
      if (!(won > 0)) continue;
      const worth = won / Math.max(1, then.rays - now.rays);
      if (!best || worth > best.worth) best = { limits: next, worth };
    }
    // paths that three limits hold back: all of them are raised
    if (!best && free.every((kind) => limits[kind] >= STEPS.at(-1)!)) return limits;
    limits = best?.limits ?? allRaised(limits, free);
  }
}

/** Each limit as low as the wanted light allows, those first that have come furthest. */
function lowered(rows: Row[], limits: Depths, from: Depths, wanted: number): Depths {
  const kinds = DEPTH_KINDS.toSorted((a, b) => limits[b] - from[b] - (limits[a] - from[a]));
  let low = limits;
  for (const kind of kinds) {
    const values = [from[kind], ...STEPS.filter((v) => v > from[kind] && v < low[kind])];
    const enough = values.find((v) => sum(within(rows, { ...low, [kind]: v }).light) >= wanted);
    if (enough !== undefined) low = { ...low, [kind]: enough };
  }
  return low;
}

const allRaised = (limits: Depths, free: DepthKind[]): Depths => ({ ...limits, ...Object.fromEntries(free.map((kind) => [kind, STEPS.find((v) => v > limits[kind]) ?? limits[kind]])) }); // prettier-ignore

/** All limits that are one raise further, alone, and in pairs, since a path may be held by two. */
function raised(limits: Depths, free: DepthKind[]): Depths[] {
  const single = free.flatMap((kind) => STEPS.filter((v) => v > limits[kind]).map((v) => ({ ...limits, [kind]: v }))); // prettier-ignore
  const withTotal = single.flatMap((next) => STEPS.filter((v) => v > limits.total && next.total === limits.total).map((v) => ({ ...next, total: v }))); // prettier-ignore
  return [...single, ...withTotal];
}
