import type { RenderSettings } from '../scene/index.ts';
import type { SurfacePoint } from '../shade/index.ts';
import type { Crossing } from './crossing.ts';
import { SLOT, type Path } from './path.ts';
import { SideRay, type Visibility } from './visibility.ts';

const point = new Float64Array(2);
const ray = new SideRay();

/**
 * Share of a cone about the normal that is open, 0..1, weighted by the cosine: 1 with nothing in the way. What lies
 * within the distance closes it, the farther the less: (1 - t / distance)^falloff, wholly at falloff 0.
 */
export function sampleOcclusion(
  path: Path,
  first: SurfacePoint,
  crossing: Crossing,
  { samples, distance, falloff, cone, clearSurfaces }: RenderSettings['occlusion'],
  visibility: Visibility,
  sample: number,
): number {
  const { nx, ny, nz } = first;
  const reach = distance || Infinity;
  const widest = Math.sin((cone * Math.PI) / 180) ** 2;
  const sign = nz >= 0 ? 1 : -1;
  const a = -1 / (sign + nz);
  const b = nx * ny * a;
  crossing.setOut(first, 1, ray);
  ray.time = path.time;
  ray.reach = reach;
  const fades = reach < Infinity && falloff > 0;
  let open = 0;
  for (let k = 0; k < samples; k++) {
    path.sample(SLOT.occlusion, sample * samples + k, point);
    const r = Math.sqrt(point[0] * widest);
    const x = r * Math.cos(2 * Math.PI * point[1]);
    const y = r * Math.sin(2 * Math.PI * point[1]);
    const z = Math.sqrt(1 - r * r);
    ray.dx = x * (1 + sign * nx * nx * a) + y * b + z * nx;
    ray.dy = x * sign * b + y * (sign + ny * ny * a) + z * ny;
    ray.dz = -x * sign * nx - y * ny + z * nz;
    visibility.findObstacle(ray, clearSurfaces, fades);
    if (ray.distance === Infinity) open++;
    else if (fades) open += 1 - (1 - ray.distance / reach) ** falloff;
  }
  return open / samples;
}
