/** Order of the checks: what is broken first, then what is only dark. */
export const FAULT_KINDS = [
  'reversed',
  'mixedFaces',
  'open',
  'innerWall',
  'thinOnSolid',
  'overlap',
  'gap',
  'thinWall',
  'noIndex',
  'nearIndex',
  'blackTint',
  'darkInside',
  'blackBase',
  'blackMap',
  'opacityMap',
  'mapping',
  'unseenBehind',
  'shadows',
  'totalReflection',
] as const;
export type FaultKind = (typeof FAULT_KINDS)[number];

/** Luminance that is left: below `inside` a body counts as dark, cures aim at `wanted`, and leave `least` of each channel. Common practice, no source. */
export const DARK = { inside: 0.05, wanted: 0.4, least: 0.1 };

export const GLASS_DEFAULTS = {
  /** Share of the glass pixels, and of the light, that recommended depths complete. Common practice, no source. */
  complete: 0.99,
  /** L* by which a cure must change the glass to count as a cause. */
  visible: 0.3,
  /** Cures that are rehearsed at most. */
  most: 8,
};
