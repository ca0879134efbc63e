/** Common practice where no source is named; chosen on the pictures of bench/fireflies.ts, which says what they find. */
export const FIREFLY_DEFAULTS = {
  /** Half the side of the surroundings, pixels. */
  reach: 3,
  /** So many times as bright as the median of its surroundings. */
  times: 2,
  /** Further out than so many robust standard deviations of the logarithm of luminance. */
  deviations: 5,
  /** The least standard deviation of the logarithm that surroundings are taken to have. */
  leastSpread: 0.1,
  /** Brighter than its surroundings by so much, L*. */
  visible: 4,
  /** Fewer samples than this carry the excess of a firefly; a highlight is seen by more. */
  carriers: 2.5,
  /** Surroundings of the same object, depth and normal count, where there are so many of them. */
  least: 10,
  /** Depths that are further apart belong to another surface, as a share. */
  depthStep: 0.05,
  /** Cosine of the angle between normals of one surface. */
  normalStep: 0.8,
} as const;
/** Noisy surroundings hide fireflies that a second look at their own pixel tells (confirmFireflies.ts). */
export const HIDDEN_FIREFLIES: FireflyOptions = { ...FIREFLY_DEFAULTS, deviations: 2.5 };
/** Of the renders of such a pixel, so many may be as far off: of what is more common, more samples are the cure. */
export const RARE = 1 / 12;
export type FireflyOptions = { -readonly [K in keyof typeof FIREFLY_DEFAULTS]: number };

/** Layers that finding them reads. */
export const FIREFLY_LAYERS = /^(beauty|emission|background|spread|brightest|samples|object|depth|normal)$/;
/** Layers that the diagnosis reads, of the proof and of what it renders. */
export const DIAGNOSED_LAYERS = /^(beauty|emission|background|error|spread|brightest|samples|object|depth|normal|albedo|rays|cut\..*)$/; // prettier-ignore
