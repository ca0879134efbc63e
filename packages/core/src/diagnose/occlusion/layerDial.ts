// The layer of a region for every distance, falloff and cone, from the distances that its rays reached.
//
// For some distances, evenly spaced by what they do to the layer, the share of the rays that meet something nearer is kept, as
// 16 numbers of four bytes a pixel; in between it is blended by the logarithm. Falloff is summed over these steps: rays of one
// step are taken to lie evenly in it by the logarithm. The layer of the rays themselves is met to 0.015 open on average, with
// and without a falloff (test). They come from a render of every pixel where their data can be kept, and else from the looks.
import { hitCones } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import type { DialEvidence, DialPlace } from '../evidence.ts';
import { base64 } from '../packPicture.ts';
import { evenDistances, type DistanceChoice } from './distanceChoice.ts';
import { sourceOf } from './occlusionEvidence.ts';
import type { OcclusionSketch } from './occlusionSketch.ts';
import { sketchRender } from './sketchRender.ts';
import { words } from './words.ts';

const awayOf = (cone: number) => Math.sin((cone * Math.PI) / 180) ** 2;

export async function layerDial(
  sketch: OcclusionSketch,
  context: Pick<DiagnosisContext, 'keep' | 'pause' | 'scene' | 'use'>,
  { clearSurfaces, cone, falloff }: RenderSettings['occlusion'],
  choice: DistanceChoice,
): Promise<DialEvidence> {
  const values = evenDistances(choice);
  const cones = hitCones(cone);
  const differs = sketch.any.some((v, i) => v !== sketch.solid[i]);
  const clear = differs ? [true, false] : [clearSurfaces];
  const { region } = sketch;
  const rendered = context.keep && (await sketchRender(context, region, values, clear));
  const [width, height] = rendered ? [region.width, region.height] : [sketch.columns, sketch.rows];
  const shares = rendered ? { kept: await context.keep!(rendered.bytes) } : { base64: base64(lookPlanes(sketch, values, cones, clear)) }; // prettier-ignore
  const path = (name: string) => `/${context.use}/occlusion/${name}`;
  return {
    type: 'dial',
    id: 'distances',
    title: words.dial,
    source: rendered ? words.renderSource(rendered.rays) : sourceOf(sketch),
    region,
    axis: { label: words.distance, unit: 'm', scale: 'log' },
    values,
    cones,
    clear,
    width,
    height,
    shares,
    start: { distance: choice.best, falloff, cone, clear: clearSurfaces },
    sets: { distance: path('distance'), falloff: path('falloff'), cone: path('cone'), clear: path('clearSurfaces') },
  };
}

function lookPlanes(sketch: OcclusionSketch, values: number[], cones: number[], clear: boolean[]): Uint8Array {
  const planes = clear.flatMap((blocks) => cones.flatMap((c) => stoppedPlanes(sketch, blocks, awayOf(c), values)));
  const size = sketch.object.length;
  const bytes = new Uint8Array(planes.length * size);
  planes.forEach((plane, i) => bytes.set(plane, i * size));
  return bytes;
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
    return weights.map((weight, v) => ({ at: (first + v) * size, by: (part * weight) / 255 }));
  };
  const planes = [...planesOf(inner, 1 - share), ...planesOf(outer, share)].filter(({ by }) => by !== 0);
  return sumPlanes(shares, planes, size);
}

/**
 * 1 less the sum of some planes. Block by block for the cache, four planes in one loop, whole numbers, and a table for each
 * plane were tried: none was faster, as reading the bytes takes the time.
 * @param planes first byte of each, and what it counts
 */
function sumPlanes(shares: Uint8Array, planes: { at: number; by: number }[], size: number): Float32Array {
  const layer = new Float32Array(size).fill(1);
  for (const { at, by } of planes) {
    const plane = shares.subarray(at, at + size);
    for (let i = 0; i < size; i++) layer[i] -= by * plane[i];
  }
  for (let i = 0; i < size; i++) layer[i] = Math.min(1, Math.max(0, layer[i]));
  return layer;
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
