// All wording of the occlusion diagnosis.
import { finePercent, formatNumber, inL, percent } from '../units.ts';

/** Three figures: distances are chosen, not measured to the millimetre. */
const metres = (v: number) => (v < 0.1 ? formatNumber(v, 'm') : `${Number(v.toPrecision(3))} m`);
const openness = (v: number) => `${percent(v)} open`;
const rays = (n: number) => `${n} ray${n === 1 ? '' : 's'}`;

export const words = {
  outside: 'the region lies outside the picture',
  probing: 'Following occlusion rays',
  nothingSeen: (pixels: number) => `No pixel of this region shows a surface (${pixels} pixels looked through).`,
  nothingMet: 'No ray meets anything at any distance: nothing here occludes.',
  noLayer:
    'this picture has no occlusion layer: choose it in the layers of the frame, or render it with "Occlusion samples" above 0',
  onlyBackground: 'no pixel of this region shows a surface',

  closed: (share: number, mean: number) =>
    `Without a distance limit ${finePercent(share)} of the rays meet something: the layer is ${openness(mean)} on average.`,
  far: (distance: number, mean: number) =>
    `A distance of ${metres(distance)} reaches across what is seen here: the layer is ${openness(mean)} on average.`,
  near: (distance: number, share: number, size: number) =>
    `Only ${finePercent(share)} of the rays meet something within ${metres(distance)}, and objects here measure ${metres(size)}: the layer is next to empty.`,
  reads: (distance: number, mean: number) =>
    `${distance > 0 ? `A distance of ${metres(distance)}` : 'No distance limit'} suits this region: the layer is ${openness(mean)} on average.`,
  unit: (distance: number, unit: string, meant: number) =>
    `${distance} would fit if it was meant in ${unit}: that is ${metres(meant)}. Distances are in metres here.`,
  suits: (best: number, from: number, to: number) =>
    `${metres(best)} tells the surfaces apart best (${metres(from)} to ${metres(to)} still read).`,
  grey: (name: string, distance: number) => `From ${metres(distance)} on ${name} goes grey.`,
  clear: (share: number, name: string) =>
    `Clear surfaces stop ${finePercent(share)} of the rays that are stopped, most of them ${name}: glass darkens what stands beside it.`,
  hidden: (share: number, name: string) =>
    `${name} is hidden from the camera and stops ${finePercent(share)} of the rays that are stopped.`,
  behind: (share: number) =>
    `In ${percent(share)} of the region the layer shows glass, and nothing of what stands behind it.`,
  noise: (noise: number, count: number) => `${rays(count)} a pixel leave ${inL(noise)} of noise in the layer.`,
  off: 'The layer is not rendered: it has 0 samples.',

  causeClosed: 'No distance limit in a closed space',
  causeFar: 'A distance that reaches too far',
  causeNear: 'A distance too short for this scene',
  causeClear: 'Clear surfaces that occlude',
  causeHidden: (name: string) => `${name}, hidden from the camera, occludes`,
  causeNoise: 'Too few rays for the layer',
  causeOff: 'The layer is switched off',

  setDistance: (from: number, to: number) => `Set the occlusion distance ${from > 0 ? `from ${metres(from)} ` : ''}to ${metres(to)}`, // prettier-ignore
  passClear: 'Let occlusion rays pass clear surfaces',
  noShadow: (name: string) => `Let ${name} cast no shadows`,
  setSamples: (from: number, to: number) => `Set the occlusion samples from ${from} to ${to}`,
  switchOn: (samples: number, distance: number) => `Render the layer with ${samples} samples and a distance of ${metres(distance)}`, // prettier-ignore
  onlyLayer: 'Nothing but the layer changes.',
  raysCost: (by: number) => `${by < 10 ? by.toFixed(1) : Math.round(by)} times the occlusion rays.`,
  shadowGone: 'Its shadows are gone from the picture as well.',

  dial: 'The layer by distance, falloff and cone',
  sketchSource: (looks: number, count: number) =>
    `computed: ${count} rays from each of ${looks} pixels, followed without a limit; ± ${(50 / Math.sqrt(count)).toFixed(0)} % in a pixel`,
  curves: 'Openness by distance',
  distance: 'distance',
  open: 'open',
  mean: 'mean',
  high: 'lightest quarter',
  spread: 'spread (standard deviation)',
  set: (distance: number) => `set: ${metres(distance)}`,
  recommended: (distance: number) => `recommended: ${metres(distance)}`,
  histogram: 'How far the rays get',
  raysCounted: 'rays',
  objects: 'What is seen, and from which distance on it goes grey',
  objectColumns: ['object', 'pixels', 'open now', 'open at the recommended distance', 'goes grey from'],
  never: 'never',
  blockers: 'What stops the rays',
  blockerColumns: ['object', 'of the rays stopped', 'kind'],
  kinds: { solid: 'solid', clear: 'clear', hidden: 'hidden from the camera' },
  map: 'Noise of the layer, mean of each tile',
  mapSource: (count: number) => `predicted: ${rays(count)} a pixel, spread evenly`,
  checks: 'Checks of the layer',
  checksSource: 'computed from the rays of this region and the settings',
  passed: {
    off: 'The layer is rendered',
    closed: 'A distance limit, or a scene that is open',
    far: 'The distance leaves what stands free light',
    near: 'The distance reaches what stands close',
    unit: 'The distance is in metres',
    clear: 'Clear surfaces stop few of the rays',
    hidden: 'Nothing hidden from the camera stops many rays',
    noise: 'Enough rays for the noise limit',
  },

  frame: (mean: number, low: number, high: number) =>
    `The layer is ${openness(mean)} on average, nine tenths of its pixels between ${percent(low)} and ${percent(high)}.`,
  crushed: (share: number) => `${percent(share)} of the pixels are black: what was there cannot be brought back.`,
  grain: (noise: number) => `Neighbouring pixels differ by ${inL(noise)}.`,
  multiplied: (mean: number, darkest: number) =>
    `Multiplied into the picture at full strength, this layer takes ${inL(mean)} on average, and ${inL(darkest)} of its darkest tenth.`,
  twice: (share: number) =>
    `${percent(share)} of the light here is indirect diffuse, which is darker in corners by itself: multiplied in, the layer darkens them twice.`,
  composite: 'The layer multiplied into the picture',
  compositeSource: 'computed from the layers, without a render; the Look panel has it for the whole picture',
  asRendered: 'as rendered',
  halfStrength: 'half strength',
  fullStrength: 'full strength',
  needsScene: 'Distance, blockers and what it should be need the scene.',
  rangeHistogram: 'Values of the layer',
  pixels: 'pixels',
  readSource: 'measured in the layer',
};
