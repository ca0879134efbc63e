import type { RenderSettings } from '../scene/index.ts';
import type { CompiledScene } from './compile.ts';
import { SURFACE, SurfacePoint } from '../shade/index.ts';
import { SurfaceLook } from './surfaceLook.ts';
import { SideRay } from './visibility.ts';

/** Surfaces on the way to a light that are noted. */
const MOST_MET = 64;

/** Rays from what the middle of a pixel shows towards lights: everything that stands between, whether it casts a shadow or not. */
export class ShadowProbe {
  /** The first `count`, nearest first: object, distance in metres, and how much of it is there for the ray, 0..1. */
  count = 0;
  readonly object = new Int32Array(MOST_MET);
  readonly distance = new Float64Array(MOST_MET);
  readonly opacity = new Float64Array(MOST_MET);
  readonly look: SurfaceLook;
  private readonly ray = new SideRay();
  private readonly scratch: SurfacePoint;

  /** @param thread number of the calling thread among those that use this scene, 0..63 */
  constructor(
    private readonly scene: CompiledScene,
    settings: RenderSettings,
    thread = 0,
  ) {
    this.look = new SurfaceLook(scene, settings, thread);
    this.scratch = new SurfacePoint(scene.surfaces, scene.textures);
  }

  at(px: number, py: number): boolean {
    return this.look.at(px, py);
  }

  /** Cosine between the normal of the place and a direction, as it is shaded. */
  facing(dx: number, dy: number, dz: number): number {
    const { nx, ny, nz } = this.look.point;
    return nx * dx + ny * dy + nz * dz;
  }

  /** The same of the flat face, on the side that is seen. */
  flatFacing(dx: number, dy: number, dz: number): number {
    const { gx, gy, gz } = this.look.point;
    return gx * dx + gy * dy + gz * dz;
  }

  /**
   * How far something goes from a place until it meets a surface of another object; Infinity where it meets none.
   * @param object whose own surface is passed @param direction of length 1
   */
  landing([ox, oy, oz]: readonly number[], object: number, [dx, dy, dz]: readonly number[]): number {
    const { ray } = this;
    const { hit } = this.look.visibility;
    Object.assign(ray, { ox, oy, oz, dx, dy, dz, time: 0 });
    let tMin = 0;
    for (let met = 0; met < MOST_MET; met++) {
      if (!this.look.visibility.plainHit(ray, tMin)) return Infinity;
      if (hit.instance !== object) return hit.t;
      tMin = hit.t;
    }
    return Infinity;
  }

  /** Notes what stands in a direction up to a distance. @param dx, dy, dz of length 1 */
  toward(dx: number, dy: number, dz: number, distance: number): void {
    const { ray, scene, scratch } = this;
    const { crossing, point, visibility } = this.look;
    crossing.setOut(point, 1, ray);
    ray.time = this.look.path.time;
    ray.dx = dx;
    ray.dy = dy;
    ray.dz = dz;
    this.count = 0;
    let tMin = 0;
    for (let met = 0; met < MOST_MET; met++) {
      if (!visibility.plainHit(ray, tMin) || visibility.hit.t >= distance) return;
      const { hit, reader } = visibility;
      tMin = hit.t;
      const surface = reader.surfaceOf(hit.instance) * SURFACE.stride;
      // what bounds a volume alone is not there
      if (scene.surfaces.values[surface + SURFACE.unseen] > 0) continue;
      this.object[this.count] = hit.instance;
      this.distance[this.count] = hit.t;
      this.opacity[this.count] = reader.opacity(hit, ray, scratch);
      this.count++;
    }
  }
}
