import type { RenderSettings } from '../scene/index.ts';
import { OcclusionCone } from './ambientOcclusion.ts';
import { BehindClear } from './behindClear.ts';
import type { CompiledScene } from './compile.ts';
import { isClear, SurfaceLook } from './surfaceLook.ts';

/** Numbers of this sequence are spread evenly over 0..1, whatever their count (the golden ratio; Weyl 1916). */
const spread = (k: number) => (k * 0.6180339887498949) % 1;

/**
 * Occlusion rays from what the middle of a pixel shows, followed without a limit of distance: how far each one gets, and
 * what stops it. From these distances the layer can be computed for any limit and falloff, with clear surfaces and without.
 */
export class OcclusionProbe {
  /**
   * Of each ray: distance to the nearest surface, and where clear surfaces do not count, to what stops it then; Infinity is
   * none. The latter sets out from what is seen behind glass, as many rays as light comes from there.
   */
  readonly any: Float32Array;
  readonly solid: Float32Array;
  /** Squared sine of its angle to the normal: rays of a narrower cone are those below that of its edge. */
  readonly away: Float32Array;
  /** Whether it sets out below the face that is seen, towards which a smooth normal leans: its own surface stops it at once. */
  readonly below: Uint8Array;
  /** Object of the nearest, or -1. */
  readonly blocker: Int32Array;
  /** Which way each goes: three numbers. */
  readonly directions: Float32Array;
  readonly look: SurfaceLook;
  /** Object that is seen behind glass, or -1. */
  behind = -1;
  private readonly cone = new OcclusionCone();
  private readonly beyond: BehindClear;

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
    this.below = new Uint8Array(rays);
    this.blocker = new Int32Array(rays);
    this.directions = new Float32Array(rays * 3);
    this.look = new SurfaceLook(scene, settings, thread);
    this.beyond = new BehindClear(scene, this.look.visibility, this.look.makeStack);
  }

  /** @returns whether the pixel shows a surface */
  at(px: number, py: number): boolean {
    if (!this.look.at(px, py)) return false;
    const { any, away, below, beyond, blocker, cone, directions, scene, solid } = this;
    const { crossing, object, path, point, visibility } = this.look;
    const { ray } = cone;
    this.behind = -1;
    const isGlass = isClear(scene, object);
    if (isGlass) {
      beyond.look(path, point, crossing, 0);
      this.behind = beyond.object;
    }
    cone.begin(path, point, this.settings.occlusion.cone);
    crossing.setOut(point, 1, ray);
    ray.reach = Infinity;
    for (let k = 0; k < this.rays; k++) {
      cone.aim(path, k);
      away[k] = cone.away;
      below[k] = ray.dx * point.gx + ray.dy * point.gy + ray.dz * point.gz < 0 ? 1 : 0;
      directions[k * 3] = ray.dx;
      directions[k * 3 + 1] = ray.dy;
      directions[k * 3 + 2] = ray.dz;
      visibility.findObstacle(ray, true);
      any[k] = solid[k] = ray.distance;
      blocker[k] = ray.distance === Infinity ? -1 : ray.object;
      if (isGlass && spread(k) < beyond.share) solid[k] = Infinity;
      else if (blocker[k] >= 0 && isClear(scene, ray.object)) {
        cone.findSolid(path, path.medium, visibility, k);
        solid[k] = ray.distance;
      }
    }
    if (this.behind < 0) return true;
    cone.begin(path, beyond.point, this.settings.occlusion.cone);
    beyond.crossing.setOut(beyond.point, 1, ray);
    for (let k = 0; k < this.rays; k++) {
      if (spread(k) >= beyond.share) continue;
      cone.aim(path, k);
      cone.findSolid(path, beyond.medium, visibility, k);
      solid[k] = ray.distance;
    }
    return true;
  }
}
