import type { Surface } from '../../scene/index.ts';
import { fresnelDielectric, paneReflectance, volumeOf } from '../../shade/index.ts';

/** What one wall of glass leaves of light that comes straight on, without what is reflected more than once, RGB 0..1. */
export interface WallTransmittance {
  /** By reflection alone. */
  passed: number;
  /** By tint, transmission weight and absorption too. */
  rgb: [number, number, number];
  /** Interfaces that tint. */
  interfaces: number;
}

/** @param length inside of the wall, metres */
export function wallTransmittance(surface: Surface, length: number): WallTransmittance {
  const {
    geometry_thin_walled: isThin,
    specular_ior,
    specular_weight,
    transmission_tint,
    transmission_weight,
  } = surface;
  const face = fresnelDielectric(1, specular_ior);
  const passed = isThin ? 1 - specular_weight * paneReflectance(face) : (1 - specular_weight * face) ** 2;
  const { extinction } = volumeOf(surface);
  const interfaces = isThin ? 1 : 2;
  const left = (k: number) => passed * (transmission_weight * transmission_tint[k]) ** interfaces * Math.exp(-extinction[k] * (isThin ? 0 : length)); // prettier-ignore
  return { passed, interfaces, rgb: [left(0), left(1), left(2)] };
}
