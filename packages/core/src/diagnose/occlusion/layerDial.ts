// The layer of a region for every distance, falloff and cone, from a sketch of the distances that its rays reached.
//
// For some distances, evenly spaced by what they do to the layer, the share of the rays that meet something nearer is kept; in
// between it is blended by the logarithm. Falloff is summed over these steps: rays of one step are taken to lie evenly in it by
// the logarithm. The layer of the rays themselves is met to 0.015 open on average, with and without a falloff (test).
import type { RenderSettings } from '../../scene/index.ts';
import type { DialEvidence, DialPlace } from '../evidence.ts';
import { base64 } from '../packPicture.ts';
import { evenDistances, type DistanceChoice } from './distanceChoice.ts';
import { sourceOf } from './occlusionEvidence.ts';
import type { OcclusionSketch } from './occlusionSketch.ts';
import { words } from './words.ts';

/** Cones narrower than that of the shot, degrees. */
const CONES = [30, 45, 60];

const awayOf = (cone: number) => Math.sin((cone * Math.PI) / 180) ** 2;

export function layerDial(
  sketch: OcclusionSketch,
  { clearSurfaces, cone, falloff }: RenderSettings['occlusion'],
  choice: DistanceChoice,
  use: string,
): DialEvidence {
  const values = evenDistances(choice);
  const cones = [...CONES.filter((c) => c < cone), cone];
  const differs = sketch.any.some((v, i) => v !== sketch.solid[i]);
  const clear = differs ? [true, false] : [clearSurfaces];
  const planes = clear.flatMap((blocks) => cones.flatMap((c) => stoppedPlanes(sketch, blocks, awayOf(c), values)));
  const size = sketch.object.length;
  const bytes = new Uint8Array(planes.length * size);
  planes.forEach((plane, i) => bytes.set(plane, i * size));
  const path = (name: string) => `/${use}/occlusion/${name}`;
  return {
    type: 'dial',
    id: 'distances',
    title: words.dial,
    source: sourceOf(sketch),
    axis: { label: words.distance, unit: 'm', scale: 'log' },
    values,
    cones,
    clear,
    width: sketch.columns,
    height: sketch.rows,
    shares: base64(bytes),
    start: { distance: choice.best, falloff, cone, clear: clearSurfaces },
    sets: { distance: path('distance'), falloff: path('falloff'), cone: path('cone'), clear: path('clearSurfaces') },
  };
}

/** Of the rays no farther from the normal than a cone, in 255 parts, those that meet something before each distance. */
function stoppedPlanes(
  { any, away, object, rays, seen, solid }: OcclusionSketch,
  clear: boolean,
  widest: number,
  values: number[],
): Uint8Array[] {
  const planes = values.map(() => new Uint8Array(object.length));
  const distances = clear ? any : solid;
  for (const look of seen) {
    const found: number[] = [];
    // single precision: the edge of the cone belongs to it
    for (let k = look * rays; k < (look + 1) * rays; k++) if (away[k] <= widest * (1 + 1e-6)) found.push(distances[k]);
    if (found.length === 0) continue;
    values.forEach((value, i) => {
      const stopped = found.reduce((count, d) => count + (d < value ? 1 : 0), 0);
      planes[i][look] = Math.round((255 * stopped) / found.length);
    });
  }
  return planes;
}

/** The planes of a dial as they came. */
export const dialShares = ({ shares }: DialEvidence) => Uint8Array.from(atob(shares), (c) => c.charCodeAt(0));

/** The layer at a place of the dial, 0..1: beyond its ends it is that of the ends. @param shares as dialShares gives them */
export function dialLayer(
  { clear, cones, height, values, width }: DialEvidence,
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
  const layer = new Float32Array(size).fill(1);
  for (const [cone, part] of [
    [inner, 1 - share],
    [outer, share],
  ] as const) {
    if (part === 0) continue;
    const first = (blocks * cones.length + cone) * values.length;
    weights.forEach((weight, v) => {
      if (weight === 0) return;
      const at = (first + v) * size;
      for (let i = 0; i < size; i++) layer[i] -= (part * weight * shares[at + i]) / 255;
    });
  }
  return layer.map((v) => Math.min(1, Math.max(0, v)));
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
