import type { Region } from '../../image/index.ts';
import { CAMERA, SurfaceLook, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { looksOver } from './looksOver.ts';

export interface Clipping {
  /** Of the region's pixels, 0..1: those that show something else without the distance. */
  near: number;
  far: number;
  /** Along the axis of the camera, metres: the nearest that near cuts off, the farthest that far does. */
  nearest: number;
  farthest: number;
  /** Numbers of the objects, those that lose most pixels first. */
  nearObjects: number[];
  farObjects: number[];
  /** Of each look, row by row: number of the object that is cut off there, or -1. Empty where nothing can be. */
  map: number[];
}

/** What the near and far distances of the camera cut off in a region: each pixel is looked at with them and without. */
export function clipping(scene: CompiledScene, settings: RenderSettings, region: Region): Clipping {
  const found: Clipping = { near: 0, far: 0, nearest: Infinity, farthest: 0, nearObjects: [], farObjects: [], map: [] };
  const { camera } = scene;
  const [near, far] = [camera[CAMERA.near], camera[CAMERA.far]];
  if (near === 0 && far === Infinity) return found;
  const open = camera.slice();
  open[CAMERA.near] = 0;
  open[CAMERA.far] = Infinity;
  const look = new SurfaceLook({ ...scene, camera: open }, settings, 0);
  const beyond = new Map<number, number>();
  const before = new Map<number, number>();
  const looks = looksOver(region, (x, y) => {
    const place = found.map.push(-1) - 1;
    if (!look.at(x, y)) return;
    const { point, object } = look;
    const depth = [point.px, point.py, point.pz].reduce((sum, p, k) => sum + (p - camera[k]) * camera[CAMERA.forward + k], 0); // prettier-ignore
    const cut = depth < near ? before : depth > far ? beyond : null;
    cut?.set(object, (cut.get(object) ?? 0) + 1);
    if (cut) found.map[place] = object;
    if (cut === before) found.nearest = Math.min(found.nearest, depth);
    if (cut === beyond) found.farthest = Math.max(found.farthest, depth);
  });
  const sum = (counts: Map<number, number>) => [...counts.values()].reduce((all, n) => all + n, 0);
  const byCount = (counts: Map<number, number>) => [...counts].sort((a, b) => b[1] - a[1]).map(([object]) => object);
  found.near = sum(before) / Math.max(1, looks);
  found.far = sum(beyond) / Math.max(1, looks);
  found.nearObjects = byCount(before);
  found.farObjects = byCount(beyond);
  return found;
}
