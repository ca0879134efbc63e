export const OCCLUSION_DEFAULTS = {
  /** Pixels that are looked through at most, evenly over the region, and rays of each. */
  looks: 9000,
  rays: 64,
  /** Distances that the layer is shown for. */
  distances: 16,
  /** L* by which a remedy must change the layer to count as a cause. */
  visible: 1,
} as const;

/**
 * When a layer reads well: its brighter surfaces, the upper quartile of the pixels, are at least so open at the distance that
 * is recommended, and at the farthest that still reads. Common practice, no source.
 */
export const READS = { light: 0.85, stillLight: 0.7 } as const;
