import type { RenderSettings } from '../scene/index.ts';
import { SURFACE, type SurfacePoint } from '../shade/index.ts';
import { BehindClear } from './behindClear.ts';
import type { CompiledScene } from './compile.ts';
import type { Crossing } from './crossing.ts';
import type { MediumStack } from './mediumStack.ts';
import type { HitSketch } from './hitSketch.ts';
import { SLOT, type Path } from './path.ts';
import { SideRay, type Visibility } from './visibility.ts';

const point = new Float64Array(2);

/** Rays from a place into a cone about its normal, distributed by the cosine. */
export class OcclusionCone {
  readonly ray = new SideRay();
  /** Squared sine of the angle between the ray and the normal. */
  away = 0;
  /** The same as a share of that at the edge of the cone: even in rays. */
  ring = 0;
  private widest = 1;
  private nx = 0;
  private ny = 0;
  private nz = 1;
  // an orthonormal frame about the normal (Duff et al. 2017)
  private sign = 1;
  private a = 0;
  private b = 0;

  /** @param angle of the cone, from its axis to its edge, degrees */
  begin(path: Path, { nx, ny, nz }: SurfacePoint, angle: number): void {
    this.widest = Math.sin((angle * Math.PI) / 180) ** 2;
    this.nx = nx;
    this.ny = ny;
    this.nz = nz;
    this.sign = nz >= 0 ? 1 : -1;
    this.a = -1 / (this.sign + nz);
    this.b = nx * ny * this.a;
    this.ray.time = path.time;
  }

  /** Turns the ray into the direction of a point of the path's sequence. */
  aim(path: Path, index: number): void {
    const { a, b, nx, ny, nz, ray, sign } = this;
    path.sample(SLOT.occlusion, index, point);
    this.ring = point[0];
    this.away = point[0] * this.widest;
    const r = Math.sqrt(this.away);
    const x = r * Math.cos(2 * Math.PI * point[1]);
    const y = r * Math.sin(2 * Math.PI * point[1]);
    const z = Math.sqrt(1 - r * r);
    ray.dx = x * (1 + sign * nx * nx * a) + y * b + z * nx;
    ray.dy = x * sign * b + y * (sign + ny * ny * a) + z * ny;
    ray.dz = -x * sign * nx - y * ny + z * nz;
  }

  /** What stops the ray of a point of the sequence where clear surfaces let light pass. @param medium before the place */
  findSolid(path: Path, medium: MediumStack, visibility: Visibility, index: number): void {
    path.sample(SLOT.held, index, point);
    visibility.findSolid(this.ray, medium, point[0]);
  }
}

/**
 * How open one ray of a cone is that met something at a distance (Infinity: nothing), 0..1. What lies within the reach
 * closes it, the farther the less: (1 - t / reach)^falloff, wholly at falloff 0 and where there is no limit.
 */
export function rayOpenness(distance: number, reach: number, falloff: number): number {
  if (distance === Infinity || distance >= reach) return 1;
  return falloff > 0 && reach < Infinity ? 1 - (1 - distance / reach) ** falloff : 0;
}

/** The occlusion layer at what a camera sample meets. */
export class OcclusionLayer {
  private readonly cone = new OcclusionCone();
  private readonly behind: BehindClear;
  private readonly samples: number;

  constructor(
    private readonly scene: CompiledScene,
    private readonly settings: RenderSettings['occlusion'],
    private readonly visibility: Visibility,
    makeStack: () => MediumStack,
    private readonly hits: HitSketch | null = null,
  ) {
    this.behind = new BehindClear(scene, visibility, makeStack);
    // a clay look has at least one
    this.samples = Math.max(1, settings.samples);
  }

  /**
   * How open it is, 0..1. Where clear surfaces do not count, it is that of what is seen behind them, as often as light comes
   * from there.
   * @param path whose camera ray has met `first` at `crossing`; its media are those before it
   */
  openness(path: Path, first: SurfacePoint, crossing: Crossing, sample: number): number {
    const { behind, scene, settings } = this;
    if (!settings.clearSurfaces && scene.surfaces.values[first.surface * SURFACE.stride + SURFACE.transmission] > 0) {
      behind.look(path, first, crossing, sample);
      path.sample(SLOT.behind, sample, point);
      if (point[0] < behind.share)
        return behind.object < 0
          ? this.seeThrough()
          : this.sampleCone(path, behind.point, behind.crossing, behind.medium, sample);
    }
    return this.sampleCone(path, first, crossing, path.medium, sample);
  }

  /** Share of a cone about the normal that is open, weighted by the cosine: 1 with nothing in the way. */
  private sampleCone(path: Path, from: SurfacePoint, crossing: Crossing, medium: MediumStack, sample: number): number {
    const { cone, hits, samples, settings, visibility } = this;
    const { ray } = cone;
    cone.begin(path, from, settings.cone);
    crossing.setOut(from, 1, ray);
    const reach = settings.distance || Infinity;
    ray.reach = hits ? Math.max(reach, hits.far) : reach;
    // how far the nearest is matters where it fades, and where it is counted
    const nearest = hits !== null || (reach < Infinity && settings.falloff > 0);
    let open = 0;
    for (let k = 0; k < samples; k++) {
      const index = sample * samples + k;
      cone.aim(path, index);
      if (settings.clearSurfaces) visibility.findObstacle(ray, nearest);
      else cone.findSolid(path, medium, visibility, index);
      open += rayOpenness(ray.distance, reach, settings.falloff);
      hits?.add(ray.distance, cone.ring);
    }
    return open / samples;
  }

  /** Nothing stands behind what is clear: all rays are open. */
  private seeThrough(): number {
    const { hits, samples } = this;
    for (let k = 0; hits && k < samples; k++) hits.add(Infinity, (k + 0.5) / samples);
    return 1;
  }
}
