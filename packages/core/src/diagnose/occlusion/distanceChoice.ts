// Which distance suits a shot. The layer is to tell surfaces apart (a wide spread of its values) while those that stand free
// stay light: of all distances at which the upper quartile is at least READS.light open, the one with the widest spread.
//
// Tried before: a share of the size of the scene (a tenth: 0.4 m for a room of 4 m, and 30 m for a yard with a shed of 3 m, where
// it says nothing of the shed), and the median of the hit distances (wrong wherever most rays leave the scene). The spread
// needs no size and no unit.
import { OCCLUSION_DEFAULTS, READS } from './occlusionDefaults.ts';
import { hitDistances, layersOf, readLayer, type LayerReading, type LayerWish, type OcclusionSketch } from './occlusionSketch.ts'; // prettier-ignore

export interface DistanceStep extends LayerReading {
  distance: number;
}
export interface DistanceChoice {
  /** Shortest first, evenly spaced by their logarithm. */
  steps: DistanceStep[];
  /** Metres, in two figures: the best, and between which the layer still reads. */
  best: number;
  from: number;
  to: number;
}

/** A share of the spread of the best distance with which a layer still reads. */
const STILL = 0.7;
/** Under an open sky the spread stays as it is from some distance on: the shortest that comes so near to the widest is as good. */
const AS_WIDE = 0.85;
const CANDIDATES = 40;

/** @returns null where no ray meets anything: there is no occlusion at any distance */
export function chooseDistance(sketch: OcclusionSketch, wish: Omit<LayerWish, 'distance'>): DistanceChoice | null {
  const hits = hitDistances(sketch);
  if (hits.length === 0) return null;
  const at = (q: number) => hits[Math.round(q * (hits.length - 1))];
  const [near, far] = [at(0.01), at(0.999) * 1.05];
  const distances = Array.from({ length: CANDIDATES }, (_, i) => near * (far / near) ** (i / (CANDIDATES - 1)));
  const layers = layersOf(sketch, wish, distances);
  const steps = distances.map((distance, i): DistanceStep => ({ distance, ...readLayer(sketch, layers[i]) }));
  // where even short distances leave it dark (a scene of cracks), the shortest is the lightest
  const light = steps.filter(({ high }) => high >= READS.light);
  const chosen = light.length > 0 ? light : steps.slice(0, 1);
  const most = widest(chosen).spread;
  const best = chosen.find(({ spread }) => spread >= AS_WIDE * most)!;
  const reads = steps.filter(({ high, spread }) => high >= READS.stillLight && spread >= STILL * best.spread);
  const [from, to] = [reads[0] ?? best, reads.at(-1) ?? best];
  return { steps, best: rounded(best.distance), from: rounded(from.distance), to: rounded(to.distance) };
}

const widest = (steps: DistanceStep[]) => steps.reduce((best, step) => (step.spread > best.spread ? step : best));

/** Two figures. */
export const rounded = (distance: number) => Number(distance.toPrecision(2));

/** Distances that are evenly spaced by what they do: each darkens the layer by as much as the one before. */
export function evenDistances({ steps }: DistanceChoice): number[] {
  const count = OCCLUSION_DEFAULTS.distances;
  const [first, last] = [steps[0], steps.at(-1)!];
  const distances = Array.from({ length: count }, (_, i) => {
    const mean = first.mean + ((last.mean - first.mean) * i) / (count - 1);
    const at = steps.findIndex((step) => step.mean <= mean);
    if (at <= 0) return at === 0 ? first.distance : last.distance;
    const [a, b] = [steps[at - 1], steps[at]];
    const share = a.mean === b.mean ? 0 : (a.mean - mean) / (a.mean - b.mean);
    return a.distance * (b.distance / a.distance) ** share;
  });
  return distances.map((d) => Number(d.toPrecision(3))).filter((d, i, all) => i === 0 || d > all[i - 1]);
}
