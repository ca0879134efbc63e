import { lightness } from '../../color/index.ts';

/**
 * How far two luminances are apart, L*: as they are, or brighter by the stops of the shadow check where that shows more. What is
 * white there shows nothing, and dark places show little as they are.
 */
export function apartAt(stops: number, a: number, b: number): number {
  const at = (gain: number) => Math.abs(lightness(gain * a) - lightness(gain * b));
  return Math.max(at(1), at(2 ** stops));
}
