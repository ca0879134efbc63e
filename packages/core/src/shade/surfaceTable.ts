// What shading reads of a surface. SURFACE has the place of each field; here stands how many numbers it has. Maps are numbers
// of textures, -1 for none.
import { layOutRow, writeRow } from '../math/index.ts';
import { ALBEDO_STRIDE, reflectionAlbedos } from './albedoTable.ts';
import type { Surface } from '../scene/index.ts';

export const SURFACE = layOutRow({
  baseColor: 3, // RGB, weight included
  metalness: 1,
  specularWeight: 1,
  specularColor: 3, // RGB
  roughness: 1,
  ior: 3, // for red, green, blue
  transmission: 1,
  extinction: 3, // RGB, 1/m: absorption and scattering inside
  tint: 3, // RGB
  emission: 3, // RGB radiance
  thin: 1,
  opacity: 1,
  cutoff: 1, // 0: opacity is a share; above: less than it is a hole, the rest is whole
  priority: 1,
  diffuseRoughness: 1,
  anisotropy: 1,
  anisotropyAngle: 1, // radians from the tangent
  coat: 1,
  coatColor: 3, // RGB
  coatRoughness: 1,
  coatIor: 1,
  normalStrength: 1,
  baseMap: 1,
  emissionMap: 1,
  metalRoughMap: 1,
  normalMap: 1,
  opacityMap: 1,
  transmissionMap: 1,
  specularMap: 1,
  specularColorMap: 1,
  coatMap: 1,
  coatRoughnessMap: 1,
  scattering: 3, // RGB, 1/m
  phase: 1, // mean cosine
  unseen: 1, // 1: bounds a volume without being there as a surface
  bumpMap: 1,
  bumpStrength: 1, // metres
  bumpFine: 1, // 1: the map displaces as well, and counts for what is finer than the faces; metres of the mesh
  mapped: 1, // 1: some parameter depends on the place
  plain: 1, // 1: its boundary does nothing but refract
  emissionReach: 1, // metres, Infinity for no limit
  emissionBounces: 1,
  occlusion: 1, // strength
  occlusionTint: 3, // RGB
});

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
  const { bump, displacement } = s.maps;
  const fine = s.displacement_bump && displacement !== undefined && s.displacement_kind === 'height' && bump === undefined; // prettier-ignore
  writeRow(table.values, index * SURFACE.stride, SURFACE, {
    baseColor: s.base_color.map((c) => c * s.base_weight),
    metalness: s.base_metalness,
    specularWeight: s.specular_weight,
    specularColor: s.specular_color,
    roughness: s.specular_roughness,
    ior: dispersedIor(s.specular_ior, s.transmission_dispersion_abbe_number, s.transmission_dispersion_scale),
    transmission: s.transmission_weight,
    extinction,
    tint: s.transmission_tint,
    emission: s.emission_color.map((c) => c * s.emission_luminance),
    thin: s.geometry_thin_walled ? 1 : 0,
    opacity: s.geometry_opacity,
    cutoff: s.opacity_cutoff,
    priority: s.medium_priority,
    diffuseRoughness: s.base_diffuse_roughness,
    anisotropy: s.specular_roughness_anisotropy,
    anisotropyAngle: (s.specular_anisotropy_rotation * Math.PI) / 180,
    coat: s.coat_weight,
    coatColor: s.coat_color,
    coatRoughness: s.coat_roughness,
    coatIor: s.coat_ior,
    normalStrength: s.normal_strength,
    baseMap: mapIndex(s.maps.base_color),
    emissionMap: mapIndex(s.maps.emission_color),
    metalRoughMap: mapIndex(s.maps.metalness_roughness),
    normalMap: mapIndex(s.maps.normal),
    opacityMap: mapIndex(s.maps.opacity),
    transmissionMap: mapIndex(s.maps.transmission),
    specularMap: mapIndex(s.maps.specular),
    specularColorMap: mapIndex(s.maps.specular_color),
    coatMap: mapIndex(s.maps.coat),
    coatRoughnessMap: mapIndex(s.maps.coat_roughness),
    scattering,
    phase: s.transmission_scatter_anisotropy,
    unseen: isUnseen(s) ? 1 : 0,
    bumpMap: mapIndex(fine ? displacement : bump),
    bumpStrength: fine ? s.displacement_scale : s.bump_strength,
    bumpFine: fine ? 1 : 0,
    mapped: Object.values(s.maps).some((map) => map !== undefined) ? 1 : 0,
    plain: isPlain(s) ? 1 : 0,
    emissionReach: s.emission_reach || Infinity,
    emissionBounces: s.emission_bounces,
    occlusion: s.occlusion_strength,
    occlusionTint: s.occlusion_tint,
  });
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
