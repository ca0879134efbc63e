export const CUT_OFF_DEFAULTS = {
  /** Shares of the light that remedies keep, and below which nothing is said to be cut off. Common practice, no source. */
  keep: [0.9, 0.99],
  visible: 0.01,
  /** Depth of "open" limits: paths are followed so far. */
  open: 64,
  /** Camera samples of the open render, over the region, and for a pixel. */
  samples: 60_000,
  most: 64,
};
