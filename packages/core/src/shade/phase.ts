// The phase function of Henyey & Greenstein 1941, "Diffuse radiation in the galaxy". Directions are those in which light
// travels, or both the other way round: it is symmetric.

/** The event of scattering in a volume, beside the lobes of a surface. */
export const VOLUME = 3;

/** Density per steradian of a turn. @param g mean cosine, -1..1, without the ends */
export function phase(cosine: number, g: number): number {
  const d = 1 + g * g - 2 * g * cosine;
  return (1 - g * g) / (4 * Math.PI * d * Math.sqrt(d));
}

/** A direction after a turn from (x, y, z) (unit length) with the density of phase(), into out[0..2]. @returns the cosine of the turn */
export function samplePhase(
  x: number,
  y: number,
  z: number,
  g: number,
  u: number,
  v: number,
  out: Float64Array,
): number {
  let cosine = 1 - 2 * u;
  if (Math.abs(g) > 1e-3) {
    const s = (1 - g * g) / (1 - g + 2 * g * u);
    cosine = Math.min(1, Math.max(-1, (1 + g * g - s * s) / (2 * g)));
  }
  const sine = Math.sqrt(1 - cosine * cosine);
  const a = sine * Math.cos(2 * Math.PI * v);
  const b = sine * Math.sin(2 * Math.PI * v);
  // a frame about the direction (Duff et al. 2017)
  const sign = z >= 0 ? 1 : -1;
  const p = -1 / (sign + z);
  const q = x * y * p;
  out[0] = a * (1 + sign * x * x * p) + b * q + cosine * x;
  out[1] = a * sign * q + b * (sign + y * y * p) + cosine * y;
  out[2] = -a * sign * x - b * y + cosine * z;
  return cosine;
}
