/**
 * Fresnel reflectance of a dielectric boundary for unpolarised light (Born & Wolf, Principles of Optics, 1.5.2).
 * @param cosine of the angle of incidence, 0..1
 * @param eta refractive index beyond the boundary over the one before it
 * @returns 0..1; 1 beyond the angle of total reflection
 */
export function fresnelDielectric(cosine: number, eta: number): number {
  const sine2 = (1 - cosine * cosine) / (eta * eta);
  if (sine2 >= 1) return 1;
  const beyond = Math.sqrt(1 - sine2);
  const parallel = (eta * cosine - beyond) / (eta * cosine + beyond);
  const perpendicular = (cosine - eta * beyond) / (cosine + eta * beyond);
  return (parallel * parallel + perpendicular * perpendicular) / 2;
}

/** Reflectance of one pane with all its internal reflections, both faces alike: 2R / (1 + R) (Stokes 1862). */
export function paneReflectance(faceReflectance: number): number {
  return (2 * faceReflectance) / (1 + faceReflectance);
}

/** Schlick 1994: reflectance of a metal from its value at normal incidence. */
export function fresnelMetal(cosine: number, normal: number): number {
  const c = 1 - Math.min(1, Math.max(0, cosine));
  const c2 = c * c;
  return normal + (1 - normal) * c2 * c2 * c;
}
