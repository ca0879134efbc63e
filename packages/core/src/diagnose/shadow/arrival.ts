import { luminance } from '../../color/index.ts';
import type { Light } from '../../scene/index.ts';
import { transformDirection } from '../../math/index.ts';
import { shineCosine, type Toward } from './lightPoints.ts';

/**
 * Irradiance that a light would bring to a place with nothing in between, from its middle: radiance times area and both cosines over the
 * square of the distance, intensity over the square of the distance, or what a sun brings across its beam (Lambert). Near a large light this
 * is too much.
 * @param facing cosine at the place
 * @returns luminance, W/m2
 */
export function arrival(light: Light, toward: Toward, facing: number): number {
  const { color, exposure, kind, strength } = light;
  const [r, g, b] = color;
  const power = luminance(r, g, b) * strength * 2 ** exposure * Math.max(0, facing);
  if (kind === 'sun') return power;
  const perSquare = power / toward.distance ** 2;
  if (kind === 'point') return perSquare;
  const cosine = shineCosine(light, toward);
  if (kind === 'spot') return perSquare * coneShare(light, cosine);
  return perSquare * areaOf(light) * Math.max(0, cosine);
}

/** As the tracer fades a spot between its inner and its outer cone. */
function coneShare({ innerCone = 0, outerCone = 45 }: Light, cosine: number): number {
  const [inner, outer] = [innerCone, outerCone].map((angle) => Math.cos((angle * Math.PI) / 180));
  return Math.min(1, Math.max(0, (cosine - outer) / Math.max(1e-3, inner - outer))) ** 2;
}

/** What of a light is seen from straight before it, m2. */
function areaOf({ kind, transform, width = 1, height = 1, radius = 0.5 }: Light): number {
  if (kind === 'sphere') return Math.PI * radius ** 2;
  const [x, y] = [
    [1, 0, 0],
    [0, 1, 0],
  ].map((axis) => Math.hypot(...transformDirection(transform, axis)));
  return (kind === 'disc' ? Math.PI * radius ** 2 : width * height) * x * y;
}
