// What shading reads of a surface, 26 numbers each:
// // 0..2 base colour (weight included), 3 metalness, 4 specular weight, 5..7 specular colour, 8 roughness, 9 IOR,
// // 10 transmission weight, 11..13 absorption (1/m), 14..16 transmission tint, 17..19 emitted radiance, 20 thin-walled,
// // 21 base colour map, 22 emission map, 23 metalness and roughness map (-1: none), 24..25 unused
import { ALBEDO_STRIDE, fillAlbedoTable } from './albedoTable.ts';
import type { Surface } from '../scene/index.ts';

export const SURFACE_STRIDE = 26;

export interface SurfaceTable {
  values: Float64Array;
  /** ALBEDO_STRIDE numbers a surface, see albedoTable.ts */
  albedos: Float32Array;
}

export function fillSurface(table: SurfaceTable, index: number, s: Surface, mapIndex: (id?: string) => number): void {
  // Beer-Lambert: the given share of the light is left after the given depth
  const absorption = s.transmission_color.map((c) =>
    s.transmission_depth > 0 ? -Math.log(Math.max(c, 1e-6)) / s.transmission_depth : 0,
  );
  table.values.set(
    [
      ...s.base_color.map((c) => c * s.base_weight),
      s.base_metalness,
      s.specular_weight,
      ...s.specular_color,
      s.specular_roughness,
      s.specular_ior,
      s.transmission_weight,
      ...absorption,
      ...s.transmission_tint,
      ...s.emission_color.map((c) => c * s.emission_luminance),
      s.geometry_thin_walled ? 1 : 0,
      mapIndex(s.maps.base_color),
      mapIndex(s.maps.emission_color),
      mapIndex(s.maps.metalness_roughness),
    ],
    index * SURFACE_STRIDE,
  );
  fillAlbedoTable(table.albedos, index * ALBEDO_STRIDE, s.specular_ior);
}
