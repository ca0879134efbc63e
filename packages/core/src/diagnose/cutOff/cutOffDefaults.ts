export const CUT_OFF_DEFAULTS = {
  /** Shares of the light that remedies keep, and below which nothing is said to be cut off. Common practice, no source. */
  keep: [0.9, 0.99],
  visible: 0.01,
};
