import { determinant } from '../../math/index.ts';
import type { Light } from '../../scene/index.ts';

/** A light that its transform mirrors, turned to where it would shine without; null where it is not mirrored, or shines all around. */
export function rightedLight(light: Light): Light | null {
  if (light.kind === 'point' || light.kind === 'sphere' || determinant(light.transform) >= 0) return null;
  return { ...light, transform: turnedAround(light.transform) };
}

/** A placement with its third axis, along which lights shine, the other way round. @param transform rows of 3 x 4 */
export const turnedAround = (transform: number[]): number[] => transform.map((v, i) => (i % 4 === 2 ? -v : v));
