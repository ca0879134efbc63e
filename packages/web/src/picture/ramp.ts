// False colour: lightness rises evenly from dark blue over green to yellow, a fit of the viridis map (Smith & van der Walt
// 2015) by a polynomial of the sixth degree in t = 0..1.
const COEFFICIENTS = [
  [0.2777, 0.0054, 0.3341],
  [0.1051, 1.4046, 1.3846],
  [-0.3309, 0.2148, 0.0951],
  [-4.6342, -5.7991, -19.3324],
  [6.2283, 14.1799, 56.6906],
  [4.7764, -13.7451, -65.353],
  [-5.4355, 4.6459, 26.3124],
];

/** RGB, 0..1. */
export function ramp(t: number): number[] {
  const u = Math.min(1, Math.max(0, t));
  return [0, 1, 2].map((k) => COEFFICIENTS.reduceRight((sum, c) => sum * u + c[k], 0));
}

/** The same as a function of GLSL. */
export const RAMP_GLSL = `vec3 ramp(float t) {
  t = clamp(t, 0.0, 1.0);
  vec3 sum = vec3(0.0);
${COEFFICIENTS.toReversed()
  .map((c) => `  sum = sum * t + vec3(${c.map((v) => v.toFixed(4)).join(', ')});`)
  .join('\n')}
  return sum;
}`;
