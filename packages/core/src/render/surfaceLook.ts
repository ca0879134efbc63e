import { SURFACE } from '../shade/index.ts';
import { CAMERA } from './camera.ts';
import type { CompiledScene } from './compile.ts';
import { OBJECT } from './compileGeometry.ts';
import { PixelLook } from './pixelLook.ts';

/** Boundaries inside of other media that a look passes at most. */
const MOST_HIDDEN = 64;

/** Looks at what the middle of a pixel shows, as a camera ray meets it: the place that other rays set out from. */
export class SurfaceLook extends PixelLook {
  /** Object that the pixel shows. */
  object = -1;

  /** @returns whether the pixel shows a surface */
  at(px: number, py: number): boolean {
    const { camera, crossing, path, point, scene, visibility } = this;
    this.aim(px, py);
    const along = path.dx * camera[CAMERA.forward] + path.dy * camera[CAMERA.forward + 1] + path.dz * camera[CAMERA.forward + 2]; // prettier-ignore
    path.tMin = path.from = camera[CAMERA.near] / along;
    path.tMax = camera[CAMERA.far] / along;
    // a boundary inside of other media is no surface: the look goes on behind it
    for (let passed = 0; ; passed++) {
      if (passed > MOST_HIDDEN || !visibility.closest(path, passed)) return false;
      path.to = visibility.hit.t;
      if (!crossing.read(path)) break;
      path.medium.copyFrom(crossing.beyond);
      path.from = path.tMin = path.to + crossing.last;
    }
    const { hit, reader } = visibility;
    reader.place(hit, path, point, false);
    point.relativeIor = 0;
    point.roughnessFloor = 0;
    point.prepare(scene.objects[hit.instance * OBJECT.stride + OBJECT.surface], path);
    this.object = hit.instance;
    return true;
  }
}

/** Whether light can pass through the surface of an object. */
export function isClear({ objects, surfaces }: CompiledScene, object: number): boolean {
  const surface = objects[object * OBJECT.stride + OBJECT.surface];
  return surfaces.values[surface * SURFACE.stride + SURFACE.transmission] > 0;
}
