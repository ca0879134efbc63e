// What shading reads of a surface: SURFACE names the places of its numbers. Maps are numbers of textures, -1 for none.
import { ALBEDO_STRIDE, reflectionAlbedos } from './albedoTable.ts';
import type { Surface } from '../scene/index.ts';

export const SURFACE = {
  baseColor: 0, // RGB, weight included
  metalness: 3,
  specularWeight: 4,
  specularColor: 5, // RGB
  roughness: 8,
  ior: 9, // for red, green, blue
  transmission: 12,
  extinction: 13, // RGB, 1/m: absorption and scattering inside
  tint: 16, // RGB
  emission: 19, // RGB radiance
  thin: 22,
  opacity: 23,
  cutoff: 24, // 0: opacity is a share; above: less than it is a hole, the rest is whole
  priority: 25,
  diffuseRoughness: 26,
  anisotropy: 27,
  anisotropyAngle: 28, // radians from the tangent
  coat: 29,
  coatColor: 30, // RGB
  coatRoughness: 33,
  coatIor: 34,
  normalStrength: 35,
  baseMap: 36,
  emissionMap: 37,
  metalRoughMap: 38,
  normalMap: 39,
  opacityMap: 40,
  transmissionMap: 41,
  specularMap: 42,
  specularColorMap: 43,
  coatMap: 44,
  coatRoughnessMap: 45,
  scattering: 46, // RGB, 1/m
  phase: 49, // mean cosine
  unseen: 50, // 1: bounds a volume without being there as a surface
  bumpMap: 51,
  bumpStrength: 52, // metres
  mapped: 53, // 1: some parameter depends on the place
  plain: 54, // 1: its boundary does nothing but refract
  emissionReach: 55, // metres, Infinity for no limit
  emissionBounces: 56,
  stride: 57,
} as const;

/** Places of the tables of a surface among its albedos, in units of ALBEDO_STRIDE. */
export const ALBEDOS = { reflection: 0, coat: 1, count: 2 } as const;

export interface SurfaceTable {
  /** SURFACE.stride numbers a surface. */
  values: Float64Array;
  /** ALBEDOS.count tables of ALBEDO_STRIDE numbers a surface, see albedoTable.ts */
  albedos: Float32Array;
}

export function fillSurface(table: SurfaceTable, index: number, s: Surface, mapIndex: (id?: string) => number): void {
  const { extinction, scattering } = volumeOf(s);
  table.values.set(
    [
      ...s.base_color.map((c) => c * s.base_weight),
      s.base_metalness,
      s.specular_weight,
      ...s.specular_color,
      s.specular_roughness,
      ...dispersedIor(s.specular_ior, s.transmission_dispersion_abbe_number, s.transmission_dispersion_scale),
      s.transmission_weight,
      ...extinction,
      ...s.transmission_tint,
      ...s.emission_color.map((c) => c * s.emission_luminance),
      s.geometry_thin_walled ? 1 : 0,
      s.geometry_opacity,
      s.opacity_cutoff,
      s.medium_priority,
      s.base_diffuse_roughness,
      s.specular_roughness_anisotropy,
      (s.specular_anisotropy_rotation * Math.PI) / 180,
      s.coat_weight,
      ...s.coat_color,
      s.coat_roughness,
      s.coat_ior,
      s.normal_strength,
      mapIndex(s.maps.base_color),
      mapIndex(s.maps.emission_color),
      mapIndex(s.maps.metalness_roughness),
      mapIndex(s.maps.normal),
      mapIndex(s.maps.opacity),
      mapIndex(s.maps.transmission),
      mapIndex(s.maps.specular),
      mapIndex(s.maps.specular_color),
      mapIndex(s.maps.coat),
      mapIndex(s.maps.coat_roughness),
      ...scattering,
      s.transmission_scatter_anisotropy,
      isUnseen(s) ? 1 : 0,
      mapIndex(s.maps.bump),
      s.bump_strength,
      Object.values(s.maps).some((map) => map !== undefined) ? 1 : 0,
      isPlain(s) ? 1 : 0,
      s.emission_reach || Infinity,
      s.emission_bounces,
    ],
    index * SURFACE.stride,
  );
  const at = index * ALBEDOS.count * ALBEDO_STRIDE;
  const put = (place: number, values: Float32Array) => table.albedos.set(values, at + place * ALBEDO_STRIDE);
  put(ALBEDOS.reflection, reflectionAlbedos(s.specular_ior));
  if (s.coat_weight > 0) put(ALBEDOS.coat, reflectionAlbedos(s.coat_ior));
}

/**
 * Coefficients of the inside, 1/m, RGB. Beer-Lambert: transmission_color is left after transmission_depth; the scattering
 * is transmission_scatter over that depth, and where it exceeds the extinction, absorption is raised evenly until none is
 * negative (OpenPBR Surface 1.1, "Translucent base"; from memory).
 */
export function volumeOf(s: Surface): { extinction: number[]; scattering: number[] } {
  const depth = s.transmission_depth;
  if (depth === 0) return { extinction: [0, 0, 0], scattering: [0, 0, 0] };
  const scattering = s.transmission_scatter.map((c) => c / depth);
  const absorption = s.transmission_color.map((c, k) => -Math.log(Math.max(c, 1e-6)) / depth - scattering[k]);
  const missing = Math.max(0, -Math.min(...absorption));
  return { extinction: absorption.map((a, k) => a + missing + scattering[k]), scattering };
}

/** Whether the boundary does nothing to light: fog without a skin. */
export function isUnseen(s: Surface): boolean {
  return isPlain(s) && s.specular_ior === 1 && s.transmission_dispersion_scale === 0;
}

/** Whether the boundary does nothing to light but refract it: between media of one index it is not there. */
function isPlain(s: Surface): boolean {
  const white = s.transmission_tint.every((c) => c === 1) && s.maps.base_color === undefined;
  const plain = s.base_metalness === 0 && s.coat_weight === 0 && !s.geometry_thin_walled && s.emission_luminance === 0;
  const clear =
    s.transmission_weight === 1 && s.maps.transmission === undefined && s.maps.metalness_roughness === undefined;
  return clear && white && plain;
}

/** Fraunhofer lines F, d and C in micrometres. */
const LINES = { blue: 0.4861, yellow: 0.5876, red: 0.6563 };
/** Wavelengths that stand for red, green and blue. */
const PRIMARIES = [0.61, 0.545, 0.46];

/**
 * Refractive indices for red, green and blue: Cauchy's formula with two terms through the index at the d line and the
 * Abbe number V = (n_d - 1) / (n_F - n_C) (Born & Wolf, Principles of Optics, 2.3 and 4.7).
 * @param scale 0 no dispersion .. 1 that of the Abbe number
 */
export function dispersedIor(ior: number, abbe: number, scale: number): number[] {
  const between = 1 / LINES.blue ** 2 - 1 / LINES.red ** 2;
  const b = (scale * (ior - 1)) / (abbe * between);
  return PRIMARIES.map((wavelength) => ior + b * (1 / wavelength ** 2 - 1 / LINES.yellow ** 2));
}
