// What the occlusion diagnosis shows.
import type { ShotDocument } from '../../scene/index.ts';
import { number, text, type Cell, type ChecklistEvidence, type CurvesEvidence, type HistogramEvidence, type MapEvidence, type PicturesEvidence, type TableEvidence } from '../evidence.ts'; // prettier-ignore
import type { Blocker } from './blockers.ts';
import { packGray } from '../packPicture.ts';
import { evenDistances, type DistanceChoice } from './distanceChoice.ts';
import { READS } from './occlusionDefaults.ts';
import { OCCLUSION_FAULTS, type OcclusionCause } from './occlusionCauses.ts';
import { NOISE_POWER } from './layerNoise.ts';
import { hitDistances, layersOf, opennessAt, type LayerWish, type OcclusionSketch } from './occlusionSketch.ts';
import { words } from './words.ts';

const MOST_ROWS = 12;
const BINS = 24;
/** Pictures of the contact sheet. */
const SHEET = 6;

export const sourceOf = ({ rays, seen }: OcclusionSketch) => words.sketchSource(seen.length, rays);

export function opennessCurves(
  sketch: OcclusionSketch,
  wish: LayerWish,
  { best, steps }: DistanceChoice,
): CurvesEvidence {
  const curve = (label: string, key: 'mean' | 'high' | 'spread') => ({ label, points: steps.map((step): [number, number] => [step.distance, step[key]]) }); // prettier-ignore
  const markers = [{ axis: 'x' as const, value: best, label: words.recommended(best) }];
  const shown = wish.distance >= steps[0].distance && wish.distance <= steps.at(-1)!.distance;
  if (shown && wish.distance !== best) markers.push({ axis: 'x', value: wish.distance, label: words.set(wish.distance) }); // prettier-ignore
  return {
    type: 'curves',
    id: 'openness',
    title: words.curves,
    source: sourceOf(sketch),
    x: { label: words.distance, unit: 'm', scale: 'log' },
    y: { label: words.open, unit: 'share', scale: 'linear' },
    curves: [curve(words.mean, 'mean'), curve(words.high, 'high'), curve(words.spread, 'spread')],
    markers,
  };
}

export function distanceHistogram(sketch: OcclusionSketch, { best }: DistanceChoice): HistogramEvidence {
  const hits = hitDistances(sketch);
  const [low, high] = [hits[Math.floor(hits.length * 0.01)], hits.at(-1)! * 1.0001];
  const edges = Array.from({ length: BINS + 1 }, (_, i) => low * (high / low) ** (i / BINS));
  const counts = Array<number>(BINS).fill(0);
  for (const t of hits) counts[Math.max(0, Math.min(BINS - 1, Math.floor((Math.log(t / low) / Math.log(high / low)) * BINS)))]++; // prettier-ignore
  return {
    type: 'histogram',
    id: 'hits',
    title: words.histogram,
    source: sourceOf(sketch),
    x: { label: words.distance, unit: 'm', scale: 'log' },
    counted: words.raysCounted,
    edges,
    counts,
    markers: [{ axis: 'x', value: best, label: words.recommended(best) }],
  };
}

/** The layer at some distances, each of which darkens it by as much more as the one before. */
export function distanceSheet(sketch: OcclusionSketch, wish: LayerWish, choice: DistanceChoice): PicturesEvidence {
  const all = evenDistances(choice);
  const distances = Array.from({ length: Math.min(SHEET, all.length) }, (_, i) => all[Math.round((i * (all.length - 1)) / Math.max(1, Math.min(SHEET, all.length) - 1))]); // prettier-ignore
  return {
    type: 'pictures',
    id: 'sheet',
    title: words.sheet,
    source: sourceOf(sketch),
    pictures: layersOf(sketch, wish, distances).map((layer, i) => ({ label: words.atDistance(distances[i]), ...packGray(layer, sketch.columns, sketch.rows) })), // prettier-ignore
  };
}

/**
 * Noise of the layer by its rays: spread evenly, as they are, and as random ones would leave it (the binomial law).
 * @param now rays of a pixel, and the noise that they leave, L*; measured where the layer was rendered
 * @param random noise that one random ray would leave
 */
export function noiseCurve(
  now: { rays: number; noise: number; measured: boolean },
  random: number,
  limit: number,
): CurvesEvidence {
  const rays = Array.from({ length: 11 }, (_, i) => 2 ** i);
  const by = now.noise / (random * now.rays ** -NOISE_POWER);
  return {
    type: 'curves',
    id: 'noiseByRays',
    title: words.noiseCurve,
    source: words.noiseCurveSource(now.measured),
    x: { label: words.raysOfPixel, unit: 'count', scale: 'log' },
    y: { label: words.noiseAxis, unit: 'L*', scale: 'log' },
    curves: [
      { label: words.evenRays, points: rays.map((n): [number, number] => [n, by * random * n ** -NOISE_POWER]) },
      { label: words.randomRays, points: rays.map((n): [number, number] => [n, by * random * n ** -0.5]) },
    ],
    markers: [
      { axis: 'y', value: limit, label: words.limit(limit) },
      { axis: 'x', value: now.rays, label: words.nowRays(now.rays) },
    ],
  };
}

export interface SeenObject {
  id: string;
  name: string;
  /** Of the looks that show a surface. */
  share: number;
  now: number;
  best: number;
  /** Metres; null: at no distance. */
  greyFrom: number | null;
}

/** Objects that are seen, those that cover most first. */
export function seenObjects(
  sketch: OcclusionSketch,
  wish: LayerWish,
  { best, steps }: DistanceChoice,
  document: ShotDocument,
  ids: string[],
): SeenObject[] {
  const looks = new Map<number, number[]>();
  for (const look of sketch.seen) {
    const of = looks.get(sketch.object[look]);
    if (of) of.push(look);
    else looks.set(sketch.object[look], [look]);
  }
  const mean = (of: number[], distance: number) => of.reduce((sum, look) => sum + opennessAt(sketch, look, { ...wish, distance }), 0) / of.length; // prettier-ignore
  return [...looks]
    .sort(([, a], [, b]) => b.length - a.length)
    .slice(0, MOST_ROWS)
    .map(([object, of]) => ({
      id: ids[object],
      name: document.objects[ids[object]].name,
      share: of.length / sketch.seen.length,
      now: mean(of, wish.distance),
      best: mean(of, best),
      greyFrom: steps.find(({ distance }) => mean(of, distance) < READS.stillLight)?.distance ?? null,
    }));
}

const link = ({ id, name }: { id: string; name: string }): Cell => ({ type: 'link', text: name, to: { type: 'object', id, name } }); // prettier-ignore

export function objectTable(sketch: OcclusionSketch, objects: SeenObject[]): TableEvidence {
  const rows = objects.map((o) => [
    link(o),
    number(o.share, 'share'),
    number(o.now, 'share'),
    number(o.best, 'share'),
    o.greyFrom === null ? text(words.never) : number(o.greyFrom, 'm'),
  ]);
  return { type: 'table', id: 'objects', title: words.objects, source: sourceOf(sketch), columns: words.objectColumns, rows }; // prettier-ignore
}

export function blockerTable(sketch: OcclusionSketch, blockers: Blocker[]): TableEvidence {
  const rows = blockers.slice(0, MOST_ROWS).map((b) => [link(b), number(b.share, 'share'), text(words.kinds[b.kind])]);
  return { type: 'table', id: 'blockers', title: words.blockers, source: sourceOf(sketch), columns: words.blockerColumns, rows }; // prettier-ignore
}

/** @param noise of each look, L* @param rays of a pixel */
export function noiseMapOf(
  { columns, region, rows, step }: OcclusionSketch,
  noise: Float32Array,
  rays: number,
): MapEvidence {
  // tiles of whole looks
  const looks = Math.max(1, Math.round(8 / step));
  const [across, down] = [Math.ceil(columns / looks), Math.ceil(rows / looks)];
  const values = Array.from({ length: across * down }, (_, i) => {
    const [x, y] = [(i % across) * looks, Math.floor(i / across) * looks];
    let sum = 0;
    let count = 0;
    for (let row = y; row < Math.min(rows, y + looks); row++)
      for (let column = x; column < Math.min(columns, x + looks); column++, count++) sum += noise[row * columns + column]; // prettier-ignore
    return Number((sum / count).toPrecision(4));
  });
  return { type: 'map', id: 'noise', title: words.map, source: words.mapSource(rays), unit: 'L*', region, tile: looks * step, columns: across, rows: down, values }; // prettier-ignore
}

export function checksOf(causes: OcclusionCause[]): ChecklistEvidence {
  return {
    type: 'checklist',
    id: 'checks',
    title: words.checks,
    source: words.checksSource,
    checks: OCCLUSION_FAULTS.flatMap((fault): ChecklistEvidence['checks'] => {
      const found = causes.filter((cause) => cause.fault === fault);
      if (found.length === 0) return [{ text: words.passed[fault], state: 'passed', about: [] }];
      return found.map(({ about, text }) => ({ text, state: 'failed', about }));
    }),
  };
}
