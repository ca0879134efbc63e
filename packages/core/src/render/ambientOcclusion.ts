import type { RenderSettings } from '../scene/index.ts';
import type { SurfacePoint } from '../shade/index.ts';
import type { Crossing } from './crossing.ts';
import { SLOT, type Path } from './path.ts';
import { SideRay, type Visibility } from './visibility.ts';

const point = new Float64Array(2);

/** Rays from a place into a cone about its normal, distributed by the cosine. */
export class OcclusionCone {
  readonly ray = new SideRay();
  /** Squared sine of the angle between the ray and the normal. */
  away = 0;
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
    this.away = point[0] * this.widest;
    const r = Math.sqrt(this.away);
    const x = r * Math.cos(2 * Math.PI * point[1]);
    const y = r * Math.sin(2 * Math.PI * point[1]);
    const z = Math.sqrt(1 - r * r);
    ray.dx = x * (1 + sign * nx * nx * a) + y * b + z * nx;
    ray.dy = x * sign * b + y * (sign + ny * ny * a) + z * ny;
    ray.dz = -x * sign * nx - y * ny + z * nz;
  }
}

const tracerCone = new OcclusionCone();

/**
 * How open one ray of a cone is that met something at a distance (Infinity: nothing), 0..1. What lies within the reach
 * closes it, the farther the less: (1 - t / reach)^falloff, wholly at falloff 0 and where there is no limit.
 */
export function rayOpenness(distance: number, reach: number, falloff: number): number {
  if (distance === Infinity || distance >= reach) return 1;
  return falloff > 0 && reach < Infinity ? 1 - (1 - distance / reach) ** falloff : 0;
}

/** Share of a cone about the normal that is open, 0..1, weighted by the cosine: 1 with nothing in the way. */
export function sampleOcclusion(
  path: Path,
  first: SurfacePoint,
  crossing: Crossing,
  { samples, distance, falloff, cone, clearSurfaces }: RenderSettings['occlusion'],
  visibility: Visibility,
  sample: number,
): number {
  const { ray } = tracerCone;
  tracerCone.begin(path, first, cone);
  crossing.setOut(first, 1, ray);
  ray.reach = distance || Infinity;
  const fades = ray.reach < Infinity && falloff > 0;
  let open = 0;
  for (let k = 0; k < samples; k++) {
    tracerCone.aim(path, sample * samples + k);
    visibility.findObstacle(ray, clearSurfaces, fades);
    open += fades ? rayOpenness(ray.distance, ray.reach, falloff) : ray.distance === Infinity ? 1 : 0;
  }
  return open / samples;
}
