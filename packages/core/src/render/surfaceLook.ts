import { SURFACE } from '../shade/index.ts';
import { clipRay } from './camera.ts';
import type { CompiledScene } from './compile.ts';
import { OBJECT } from './compileGeometry.ts';
import type { Crossing } from './crossing.ts';
import type { Path } from './path.ts';
import { PixelLook } from './pixelLook.ts';
import type { Visibility } from './visibility.ts';

/** Boundaries inside of other media that a look passes at most. */
const MOST_HIDDEN = 64;

/**
 * Follows the camera's ray of a path to the first surface, without light: into visibility.hit and `crossing`, with the media
 * before it in path.medium. A boundary inside of other media is no surface.
 * @param index of the sample
 * @returns whether there is one between the clip planes
 */
export function toSurface(
  path: Path,
  camera: Float64Array,
  visibility: Visibility,
  crossing: Crossing,
  index: number,
): boolean {
  clipRay(path, camera);
  path.from = path.tMin;
  for (let passed = 0; ; passed++) {
    if (passed > MOST_HIDDEN || !visibility.closest(path, index)) return false;
    path.to = visibility.hit.t;
    if (!crossing.read(path)) return true;
    path.medium.copyFrom(crossing.beyond);
    path.from = path.tMin = path.to + crossing.last;
  }
}

/** Looks at what the middle of a pixel shows, as a camera ray meets it: the place that other rays set out from. */
export class SurfaceLook extends PixelLook {
  /** Object that the pixel shows. */
  object = -1;
  /** Distance from the camera along the ray, metres. */
  distance = Infinity;

  /** @returns whether the pixel shows a surface */
  at(px: number, py: number): boolean {
    const { crossing, path, point, scene, visibility } = this;
    this.aim(px, py);
    if (!toSurface(path, this.camera, visibility, crossing, 0)) return false;
    const { hit, reader } = visibility;
    reader.place(hit, path, point, false);
    point.relativeIor = 0;
    point.roughnessFloor = 0;
    point.prepare(scene.objects[hit.instance * OBJECT.stride + OBJECT.surface], path);
    this.object = hit.instance;
    this.distance = hit.t;
    return true;
  }
}

/** Whether light can pass through the surface of an object. */
export function isClear({ objects, surfaces }: CompiledScene, object: number): boolean {
  const surface = objects[object * OBJECT.stride + OBJECT.surface];
  return surfaces.values[surface * SURFACE.stride + SURFACE.transmission] > 0;
}
