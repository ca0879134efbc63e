import type { RenderSettings } from '../scene/index.ts';
import { OcclusionCone } from './ambientOcclusion.ts';
import type { CompiledScene } from './compile.ts';
import { isClear, SurfaceLook } from './surfaceLook.ts';

/**
 * Occlusion rays from what the middle of a pixel shows, followed without a limit of distance: how far each one gets, and
 * what stops it. From these distances the layer can be computed for any limit and falloff.
 */
export class OcclusionProbe {
  /** Of each ray: distance to the nearest surface that blocks it, and to the nearest that is not clear; Infinity is none. */
  readonly any: Float32Array;
  readonly solid: Float32Array;
  /** Squared sine of its angle to the normal: rays of a narrower cone are those below that of its edge. */
  readonly away: Float32Array;
  /** Object of the nearest that blocks it, or -1. */
  readonly blocker: Int32Array;
  readonly look: SurfaceLook;
  private readonly cone = new OcclusionCone();

  /** @param rays of each pixel @param thread number of the calling thread among those that use this scene, 0..63 */
  constructor(
    private readonly scene: CompiledScene,
    private readonly settings: RenderSettings,
    readonly rays: number,
    thread = 0,
  ) {
    this.any = new Float32Array(rays);
    this.solid = new Float32Array(rays);
    this.away = new Float32Array(rays);
    this.blocker = new Int32Array(rays);
    this.look = new SurfaceLook(scene, settings, thread);
  }

  /** @returns whether the pixel shows a surface */
  at(px: number, py: number): boolean {
    if (!this.look.at(px, py)) return false;
    const { any, away, blocker, cone, scene, solid } = this;
    const { crossing, path, point, visibility } = this.look;
    const { ray } = cone;
    cone.begin(path, point, this.settings.occlusion.cone);
    crossing.setOut(point, 1, ray);
    ray.reach = Infinity;
    for (let k = 0; k < this.rays; k++) {
      cone.aim(path, k);
      away[k] = cone.away;
      visibility.findObstacle(ray, true, true);
      any[k] = solid[k] = ray.distance;
      blocker[k] = ray.distance === Infinity ? -1 : ray.object;
      if (blocker[k] < 0 || !isClear(scene, ray.object)) continue;
      visibility.findObstacle(ray, false, true);
      solid[k] = ray.distance;
    }
    return true;
  }
}
