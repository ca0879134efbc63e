/**
 * Noise limits in L* at the shadow check that a shot can begin with. About 1 L* can just be told apart side by side (CIE
 * 15); what moves crawls at half of that. Common practice, no source.
 */
export const NOISE_LIMITS = {
  still: 1,
  sequence: 0.5,
  'look test': 3,
} as const;
