// Lightness, chroma and hue apart from each other: Oklab (Ottosson 2020, "A perceptual color space for image
// processing"), of linear Rec. 709. Unlike CIELAB it keeps the hue of blues and ambers when they are lightened.
const CONES = [
  0.4122214708, 0.5363325363, 0.0514459929, 0.2119034982, 0.6806995451, 0.1073969566, 0.0883024619, 0.2817188376,
  0.6299787005,
];
const LAB = [
  0.2104542553, 0.793617785, -0.0040720468, 1.9779984951, -2.428592205, 0.4505937099, 0.0259040371, 0.7827717662,
  -0.808675766,
];
const FROM_LAB = [0.3963377774, 0.2158037573, -0.1055613458, -0.0638541728, -0.0894841775, -1.291485548];
const FROM_CONES = [
  4.0767416621, -3.3077115913, 0.2309699292, -1.2684380046, 2.6097574011, -0.3413193965, -0.0041960863, -0.7034186147,
  1.707614701,
];

export interface LightnessSaturationHue {
  /** 0 black .. 1 white; above 1 for colours of light brighter than display white. */
  lightness: number;
  /** Chroma over lightness: 0 grey; it stays when a colour is lightened. */
  saturation: number;
  /** Degrees, 0..360; 0 for greys. */
  hue: number;
}

/** Below this chroma a colour counts as grey: its hue is noise. */
const GREY = 1e-6;

/** @param rgb linear Rec. 709, not below 0 */
export function toLightnessSaturationHue(rgb: ArrayLike<number>): LightnessSaturationHue {
  const [l, m, s] = [0, 3, 6].map((row) => Math.cbrt(CONES[row] * rgb[0] + CONES[row + 1] * rgb[1] + CONES[row + 2] * rgb[2])); // prettier-ignore
  const [lightness, a, b] = [0, 3, 6].map((row) => LAB[row] * l + LAB[row + 1] * m + LAB[row + 2] * s);
  const chroma = Math.hypot(a, b);
  if (chroma < GREY || lightness <= 0) return { lightness: Math.max(0, lightness), saturation: 0, hue: 0 };
  return { lightness, saturation: chroma / lightness, hue: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360 };
}

/**
 * Linear Rec. 709. Where the colour cannot be shown within the limit, its saturation gives way, not its hue.
 * @param most greatest value of R, G and B: 1 for a reflectance; Infinity for a colour of light
 */
export function fromLightnessSaturationHue(color: LightnessSaturationHue, most = 1): number[] {
  const inside = (rgb: number[]) => rgb.every((c) => c >= -1e-6 && c <= most + 1e-6);
  const at = (saturation: number) => linearOf({ ...color, saturation });
  let low = 0;
  let high = color.saturation;
  if (!inside(at(high)))
    for (let i = 0; i < 32; i++) {
      const middle = (low + high) / 2;
      if (inside(at(middle))) low = middle;
      else high = middle;
    }
  else low = high;
  return at(low).map((c) => Math.min(most, Math.max(0, c)));
}

function linearOf({ lightness, saturation, hue }: LightnessSaturationHue): number[] {
  const angle = (hue * Math.PI) / 180;
  const a = lightness * saturation * Math.cos(angle);
  const b = lightness * saturation * Math.sin(angle);
  const cones = [0, 2, 4].map((k) => (lightness + FROM_LAB[k] * a + FROM_LAB[k + 1] * b) ** 3);
  return [0, 3, 6].map((row) => FROM_CONES[row] * cones[0] + FROM_CONES[row + 1] * cones[1] + FROM_CONES[row + 2] * cones[2]); // prettier-ignore
}
