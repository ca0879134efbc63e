// All wording of the occlusion diagnosis.
import { finePercent, formatNumber, inL, percent } from '../units.ts';

/** Three figures: distances are chosen, not measured to the millimetre. */
const metres = (v: number) => (v < 0.1 ? `${Number((v * 1000).toPrecision(3))} mm` : `${Number(v.toPrecision(3))} m`);
const openness = (v: number) => `${percent(v)} open`;
/** Of so many surfaces, those beside the first. */
const more = (count: number) => `${count - 1} more surface${count > 2 ? 's' : ''}`;
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
  near: (distance: number, share: number, size: number, pixels: number) =>
    `Only ${finePercent(share)} of the rays meet something within ${metres(distance)}, which is ${formatNumber(pixels, 'px')} where most is seen; objects here measure ${metres(size)}: the layer is next to empty.`,
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
  behind: (share: number, names: string[]) =>
    `In ${percent(share)} of what is seen the layer shows glass, and nothing of what stands behind it: ${names.join(', ')}.`,
  noise: (noise: number, count: number) => `${rays(count)} a pixel leave ${inL(noise)} of noise in the layer.`,
  off: 'The layer is not rendered: it has 0 samples.',

  precision: (offset: number, distance: number) =>
    `Rays set out ${metres(offset)} above their surfaces, since numbers are no closer together so far out in a mesh. That is ${finePercent(offset / distance)} of the distance of ${metres(distance)}: what is closer is missed, and edges show steps and blotches.`,
  facets: (name: string, drop: number) =>
    `${name} shows its faces: its smooth normals lean away from them by so much that the layer drops by up to ${inL(drop)} at their corners.`,
  flat: (contrast: number, name: string) =>
    `Sides that meet, like those of ${name}, are ${inL(contrast)} apart in the picture: light comes to both alike. `,
  turned: (degrees: number, contrast: number) =>
    `The environment turned to ${degrees}° sets them ${inL(contrast)} apart.`,
  clouded: (contrast: number) => `A sky that is darker at the horizon sets them ${inL(contrast)} apart.`,

  inSurfaces: (name: string, count: number, taken: number) =>
    `${name}${count > 1 ? ` and ${more(count)} multiply` : ' multiplies'} the layer into ${count > 1 ? 'their' : 'its'} base: it takes ${inL(taken)} there on average.`,
  surfacesTwice: (name: string, count: number, taken: number, share: number): string =>
    `${words.inSurfaces(name, count, taken)} ${percent(share)} of the light here is indirect diffuse, which darkens corners by itself: they are darkened twice.`,
  clay: 'This is a clay look: the picture is the layer, and nothing is lit.',
  causeSurfaces: 'Occlusion in surfaces that indirect light reaches',
  outOfSurfaces: (name: string, count: number) => `Take the occlusion out of ${name}${count > 1 ? ` and ${more(count)}` : ''}`, // prettier-ignore
  wherePut: 'They grow lighter in corners, in every picture.',

  causeClosed: 'No distance limit in a closed space',
  causeFar: 'A distance that reaches too far',
  causeNear: 'A distance too short for this scene',
  causeClear: 'Clear surfaces that count in the layer',
  causeHidden: (name: string) => `${name}, hidden from the camera, occludes`,
  causeNoise: 'Too few rays for the layer',
  causePrecision: 'Numbers too coarse for the distance',
  causeFacets: (name: string) => `Faces of ${name} that show`,
  causeFlat: (name: string) => `Flat shading between sides, as of ${name}`,
  causeOff: 'The layer is switched off',

  setDistance: (from: number, to: number) => `Set the occlusion distance ${from > 0 ? `from ${metres(from)} ` : ''}to ${metres(to)}`, // prettier-ignore
  passClear: 'Let the layer pass clear surfaces, as far as they are clear',
  noShadow: (name: string) => `Let ${name} cast no shadows`,
  setSamples: (from: number, to: number) => `Set the occlusion samples from ${from} to ${to}`,
  switchOn: (samples: number, distance: number) => `Render the layer with ${samples} samples and a distance of ${metres(distance)}`, // prettier-ignore
  finer: (name: string, count: number) => `Subdivide ${name}${count > 1 ? ` and ${count - 1} more` : ''} twice`,
  turnSky: (from: number, to: number) => `Turn the environment from ${from}° to ${to}°`,
  cloudSky: 'Make the sky three times as bright overhead as at the horizon',
  otherLight: 'All light of the environment changes, and its shadows.',
  rounder: 'Its outline grows rounder, and it takes 16 times the triangles.',
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
  sides: 'Sides that meet, and how far apart skies set them',
  sidesSource:
    'measured in the picture; skies computed from open rays of these sides, as bright as the picture; 10 L* and more is plenty',
  sideColumns: (turns: boolean) => ['object', 'sides', 'picture', 'plain sky', 'overcast sky', ...(turns ? ['environment, best turn'] : [])], // prettier-ignore
  between: (one: string, other: string) => `${one} and ${other}`,
  up: 'up',
  down: 'down',
  heading: (degrees: number) => `${degrees}°`,
  turns: 'Contrast between sides by the turn of the environment',
  turnsSource: 'computed from open rays of these sides; other lights and bounces as in the picture',
  rotation: 'rotation, degrees',
  contrast: 'contrast',
  nowAt: (contrast: number) => `now: ${inL(contrast)}`,
  bestTurn: (degrees: number) => `best: ${degrees}°`,
  clearPictures: 'The layer with clear surfaces and without',
  clearCounts: 'clear surfaces count',
  clearPasses: 'passed, weighted by what they let through',
  contrastTable: (share: number) => `What glass takes, by the contrast of the layer: mean of the ${percent(share)} of the pixels that differ`, // prettier-ignore
  contrastSource: 'computed from the sketch; contrast is the exponent of the layer where it is multiplied in',
  contrastColumns: ['contrast', 'clear surfaces count', 'passed', 'darker by'],
  map: 'Noise of the layer, mean of each tile',
  mapSource: (count: number) => `predicted: ${rays(count)} a pixel, spread evenly`,
  noiseCurve: 'Noise of the layer by its rays',
  noiseCurveSource: (measured: boolean) =>
    `${measured ? 'measured at the rays it has' : 'predicted'}, otherwise predicted: the binomial law, and what even points leave of it`,
  raysOfPixel: 'rays a pixel',
  noiseAxis: 'noise',
  evenRays: 'spread evenly, as they are',
  randomRays: 'random',
  limit: (limit: number) => `limit: ${inL(limit)}`,
  nowRays: (count: number) => `now: ${count}`,
  checks: 'Checks of the layer',
  checksSource: 'computed from the rays of this region and the settings',
  passed: {
    off: 'The layer is rendered',
    closed: 'A distance limit, or a scene that is open',
    far: 'The distance leaves what stands free light',
    near: 'The distance reaches what stands close',
    unit: 'The distance is in metres',
    clear: 'Clear surfaces stop few of the rays and hide little',
    hidden: 'Nothing hidden from the camera stops many rays',
    noise: 'Enough rays for the noise limit',
    precision: 'Numbers are fine enough for the distance',
    facets: 'No faces show in the layer',
    surfaces: 'No corner is darkened twice by surfaces',
    flat: 'Sides that meet are told apart, or no sky would do it',
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
  inverted: (mean: number) =>
    `The layer is turned over: corners are lighter than open surfaces. The right way round it is ${openness(mean)} on average; turn it over before it is multiplied in.`,
  causeInverted: 'The layer is turned over',
  eightBits: 'Its values are those of 8 bits: steps of 0.4 % show as bands where a contrast is raised.',
  curve: (curve: 'decoded' | 'squared' | 'encoded', mean: number, plain: number) =>
    ({
      decoded: `Its values are those of an 8-bit file that was read as color, as pictures are. If they were written as plain data, the layer is ${openness(plain)} on average, and not ${percent(mean)}: write it as OpenEXR.`,
      squared: `Its values are squares of 8-bit steps: as they were written, the layer is ${openness(plain)} on average, and not ${percent(mean)}.`,
      encoded: `Its values are encoded for a screen: without that the layer is ${openness(plain)} on average, and not ${percent(mean)}. A display transform has no place in a data layer.`,
    })[curve],
  causeCurve: 'The layer went through a curve that is meant for pictures',
  needsScene: 'Distance, blockers and what it should be need the scene.',
  rangeHistogram: 'Values of the layer',
  pixels: 'pixels',
  readSource: 'measured in the layer',
};
