// Hit distances of occlusion rays over a region. From them the layer follows for every distance and falloff without a render.
import type { Region } from '../../image/index.ts';
import { isClear, OcclusionProbe, rayOpenness, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { OCCLUSION_DEFAULTS } from './occlusionDefaults.ts';

export interface OcclusionSketch {
  region: Region;
  /** Every so many pixels one is looked through, each way. */
  step: number;
  columns: number;
  rows: number;
  /** Of each look, row by row: object that is seen, -1 for the background; whether it is clear. */
  object: Int32Array;
  clear: Uint8Array;
  /** Object that is seen behind clear surfaces; -1: none. */
  behind: Int32Array;
  /** Metres from the camera, and metres above the surface where rays set out. */
  depth: Float32Array;
  offset: Float32Array;
  rays: number;
  // rays numbers a look
  /** Distance to the nearest surface, and to what stops a ray where clear surfaces do not count, m; Infinity: none. */
  any: Float32Array;
  solid: Float32Array;
  /** Squared sine of the angle to the normal. */
  away: Float32Array;
  /** Whether it goes below the face that is seen (OcclusionProbe). */
  below: Uint8Array;
  /** Object of the nearest; -1: none. */
  blocker: Int32Array;
  /** Looks that show a surface. */
  seen: number[];
}

/** What a layer is made with. */
export interface LayerWish {
  /** Metres; 0: no limit. */
  distance: number;
  falloff: number;
  /** Whether clear surfaces count: where they do not, light passes them, and what is behind them is seen. */
  clearSurfaces: boolean;
}

/**
 * @param pause is awaited after each row
 * @param report share of the work that is done, 0..1
 */
export async function occlusionSketch(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  pause: () => Promise<void> = async () => {},
  report: (share: number) => void = () => {},
): Promise<OcclusionSketch> {
  const { looks, rays } = OCCLUSION_DEFAULTS;
  const step = Math.ceil(Math.sqrt((region.width * region.height) / looks));
  const [columns, rows] = [Math.ceil(region.width / step), Math.ceil(region.height / step)];
  const count = columns * rows;
  const sketch: OcclusionSketch = {
    region,
    step,
    columns,
    rows,
    object: new Int32Array(count).fill(-1),
    clear: new Uint8Array(count),
    behind: new Int32Array(count).fill(-1),
    depth: new Float32Array(count),
    offset: new Float32Array(count),
    rays,
    any: new Float32Array(count * rays).fill(Infinity),
    solid: new Float32Array(count * rays).fill(Infinity),
    away: new Float32Array(count * rays),
    below: new Uint8Array(count * rays),
    blocker: new Int32Array(count * rays).fill(-1),
    seen: [],
  };
  const probe = new OcclusionProbe(scene, settings, rays);
  const middle = Math.floor(step / 2);
  for (let row = 0, i = 0; row < rows; row++) {
    const y = Math.min(region.height - 1, row * step + middle);
    for (let column = 0; column < columns; column++, i++) {
      const x = Math.min(region.width - 1, column * step + middle);
      if (!probe.at(region.x + x, region.y + y)) continue;
      sketch.seen.push(i);
      sketch.object[i] = probe.look.object;
      sketch.clear[i] = isClear(scene, probe.look.object) ? 1 : 0;
      sketch.behind[i] = probe.behind;
      sketch.depth[i] = probe.look.distance;
      sketch.offset[i] = probe.look.point.offset;
      sketch.below.set(probe.below, i * rays);
      sketch.any.set(probe.any, i * rays);
      sketch.solid.set(probe.solid, i * rays);
      sketch.away.set(probe.away, i * rays);
      sketch.blocker.set(probe.blocker, i * rays);
    }
    report((row + 1) / rows);
    await pause();
  }
  return sketch;
}

/** The layer at one look, 0..1; 1 where it shows no surface. */
export function opennessAt({ any, rays, solid }: OcclusionSketch, look: number, wish: LayerWish): number {
  const distances = wish.clearSurfaces ? any : solid;
  const reach = wish.distance || Infinity;
  let open = 0;
  for (let k = look * rays; k < (look + 1) * rays; k++) open += rayOpenness(distances[k], reach, wish.falloff);
  return open / rays;
}

/** The layer at every look. */
export function layerOf(sketch: OcclusionSketch, wish: LayerWish): Float32Array {
  const layer = new Float32Array(sketch.object.length).fill(1);
  for (const look of sketch.seen) layer[look] = opennessAt(sketch, look, wish);
  return layer;
}

export interface LayerReading {
  mean: number;
  /** Standard deviation over the looks: how much it tells surfaces apart. */
  spread: number;
  /** Quartiles. */
  low: number;
  high: number;
}

/** A layer over what shows a surface. */
export function readLayer({ seen }: OcclusionSketch, layer: Float32Array): LayerReading {
  const values = Float32Array.from(seen, (look) => layer[look]).sort();
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const spread = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
  const at = (q: number) => values[Math.round(q * (values.length - 1))];
  return { mean, spread, low: at(0.25), high: at(0.75) };
}

/**
 * The layers of several distances, from one look at each ray where there is no falloff: forty of them one by one took four times
 * as long.
 * @param distances metres, shortest first
 */
export function layersOf(
  sketch: OcclusionSketch,
  wish: Omit<LayerWish, 'distance'>,
  distances: number[],
): Float32Array[] {
  if (wish.falloff > 0) return distances.map((distance) => layerOf(sketch, { ...wish, distance }));
  const { any, object, rays, seen, solid } = sketch;
  const hits = wish.clearSurfaces ? any : solid;
  const layers = distances.map(() => new Float32Array(object.length).fill(1));
  const stops = new Uint32Array(distances.length + 1);
  for (const look of seen) {
    stops.fill(0);
    for (let k = look * rays; k < (look + 1) * rays; k++) stops[firstBeyond(distances, hits[k])]++;
    let stopped = 0;
    layers.forEach((layer, i) => {
      stopped += stops[i];
      layer[look] = 1 - stopped / rays;
    });
  }
  return layers;
}

/** Index of the first of ascending values that is above another one. */
function firstBeyond(values: number[], than: number): number {
  let [low, high] = [0, values.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle] > than) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** All distances that rays reached, shortest first. */
export function hitDistances({ any, rays, seen }: OcclusionSketch): Float32Array {
  const found: number[] = [];
  for (const look of seen)
    for (let k = look * rays; k < (look + 1) * rays; k++) if (any[k] < Infinity) found.push(any[k]);
  return Float32Array.from(found).sort();
}

/** Share of the rays that meet something within a distance. @param reach metres; Infinity: at all */
export function stoppedShare({ any, rays, seen }: OcclusionSketch, reach: number): number {
  let count = 0;
  for (const look of seen) for (let k = look * rays; k < (look + 1) * rays; k++) if (any[k] < reach) count++;
  return count / (seen.length * rays);
}
