// All wording of the sampling plan.
import { inL, inSeconds, percent } from '../diagnose/index.ts';
import type { SplitKind } from '../render/index.ts';
import { countOf, type Counts } from './counts.ts';

export const planWords = {
  counts: (counts: Counts, kinds: SplitKind[]) =>
    [`${counts.pixelSamples} pixel samples`, ...kinds.map((kind) => `${countOf(counts, kind)} ${kind}`)].join(', '), // prettier-ignore
  now: (noise: number, seconds: number) => `As it is set now: ${inL(noise)} in ${inSeconds(seconds)} a frame.`,
  meets: (limit: number, counts: string, seconds: number) =>
    `The limit of ${inL(limit)} is met in the least time with ${counts}: ${inSeconds(seconds)} a frame.`,
  misses: (limit: number, counts: string, noise: number) =>
    `Within the bounds the limit of ${inL(limit)} is not reached: ${counts} bring the noise down to ${inL(noise)}.`,
  within: (limit: number) => `The noise is within the limit of ${inL(limit)} as it is.`,
  titles: {
    present: 'as set now',
    plan: 'the limit, in the least time',
    sameTime: 'least noise in the time of now',
    sameNoise: 'same noise in the least time',
    halfTime: 'least noise in half the time of now',
    adaptive: 'the limit, adaptive',
  },
  waste: (kind: SplitKind, from: number, to: number) => `${from} ${kind} samples where ${to} would do`,
  noiseStays: (grown: number) => `the noise stays at ${percent(grown)} of now`,
  deep: (limit: string, from: number, to: number) => `A ${limit} depth of ${from} where ${to} would do`,
  darker: (by: number) => `no tile grows darker by more than ${inL(by)}`,
  large: (name: string, size: number, needed: number) =>
    needed > 1
      ? `The texture "${name}" is ${size} texels wide where ${needed} would do`
      : `The texture "${name}" (${size} texels wide) is seen nowhere`,
  tooFine: 'told by a coarse look at the frame',
  wideFilter: (kind: string, width: number, usual: number) =>
    `A ${kind} filter ${width} pixels wide blurs: up to ${usual} is usual. Its width costs no time.`,
  presentAdaptive:
    'Sampling is adaptive as it is set now: its noise and time are predicted as if every tile took all samples.',
  notAdaptive: 'Adaptive sampling would not be quicker here.',
  fewPixels: (count: number) =>
    `${count} pixel samples are fewer than the usual 9: edges and fine lines may show steps.`,
  moving: (count: number) => `This shot moves: 16 to 32 pixel samples are usual for motion, here are ${count}.`,
  manySplits: (kind: SplitKind, all: number) =>
    `${all} ${kind} samples for a pixel in all are more than the 512 that are called extreme in the trade: look for the cause of the noise before paying for it.`,
  volume: (all: number) => `${all} volume samples for a pixel are fewer than the usual 16.`,
  tail: (index: number) =>
    `A few very bright samples carry much of the noise (tail index ${index.toFixed(1)}; below 2 the variance has no end): more samples help less than their root, and the prediction is uncertain upwards. Look for fireflies first.`,
  beyond: (kind: SplitKind, pilot: number) =>
    `More than the ${pilot} ${kind} samples of the pilot were not measured: extrapolated from the last doublings.`,
};
