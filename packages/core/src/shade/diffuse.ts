// Diffuse reflection with roughness that keeps its energy: Fujii's form of Oren & Nayar's model with a reciprocal term
// for light that is scattered more than once (Portsmouth, Kutz & Hill 2024, "EON: A practical energy-preserving rough
// diffuse BRDF"; from memory). Roughness 0 is Lambert's law.
const SINGLE = 1 / 2 - 2 / (3 * Math.PI);
const MEAN = 2 / 3 - 28 / (15 * Math.PI);

/** Albedo of single scattering for a white surface, by the cosine of one direction. */
export function roughDiffuseAlbedo(cosine: number, roughness: number): number {
  const a = 1 / (1 + SINGLE * roughness);
  const c = Math.max(1e-4, Math.min(1, cosine));
  const s = Math.sqrt(1 - c * c);
  const g = s * (Math.acos(c) - s * c) + (2 / 3) * ((s / c) * (1 - s * s * s) - s);
  return a * (1 + (roughness * g) / Math.PI);
}

/**
 * Pi times the reflectance value for one colour channel: 1 for a white Lambert surface.
 * @param albedo 0..1
 * @param cosineOut and cosineIn of the two directions, above 0
 * @param between cosine of the angle between the two directions
 */
export function roughDiffuse(albedo: number, cosineOut: number, cosineIn: number, between: number, roughness: number) {
  if (roughness === 0) return albedo;
  const a = 1 / (1 + SINGLE * roughness);
  const s = between - cosineOut * cosineIn;
  const single = a * (1 + roughness * (s > 0 ? s / Math.max(cosineOut, cosineIn) : s));
  const mean = a * (1 + MEAN * roughness);
  const again = (albedo * albedo * mean) / (1 - albedo * (1 - mean));
  const lost = (1 - roughDiffuseAlbedo(cosineOut, roughness)) * (1 - roughDiffuseAlbedo(cosineIn, roughness));
  return albedo * single + (again * lost) / Math.max(1e-7, 1 - mean);
}
