// The layer of a region for every distance, falloff and cone, from the distances that its rays reached.
//
// For some distances, evenly spaced by what they do to the layer, the share of the rays that meet something nearer is kept, as
// 16 numbers of four bytes a pixel; in between it is blended by the logarithm. Falloff is summed over these steps: rays of one
// step are taken to lie evenly in it by the logarithm. The layer of the rays themselves is met to 0.015 open on average, with
// and without a falloff (test). They come from a render of every pixel where their data can be kept, and else from the looks.
import { hitCones } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import type { DialEvidence } from '../evidence.ts';
import { base64 } from '../packPicture.ts';
import { awayOf, planeBytes } from './dialLayer.ts';
import { evenDistances, type DistanceChoice } from './distanceChoice.ts';
import { sourceOf } from './occlusionEvidence.ts';
import type { OcclusionSketch } from './occlusionSketch.ts';
import { sketchRender } from './sketchRender.ts';
import { words } from './words.ts';

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
  const each = planeBytes(sketch.object.length);
  const bytes = new Uint8Array(planes.length * each);
  planes.forEach((plane, i) => bytes.set(plane, i * each));
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
