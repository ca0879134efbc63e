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
  sketching: 'Counting how far they get, for every pixel',
  renderSource: (rays: number) => `every pixel, ${rays} rays each`,
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
    `Only ${finePercent(share)} of the rays meet something within ${metres(distance)}, which is ${formatNumber(pixels, 'px')} at the median depth; objects here measure ${metres(size)}: the layer is next to empty.`,
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
    `In ${percent(share)} of the visible surfaces the layer shows glass, and nothing of what stands behind it: ${names.join(', ')}.`,
  noise: (noise: number, count: number, later: number) =>
    `${rays(count)} a pixel leave ${inL(noise)} of noise in the layer; ${4 * count} would leave about ${inL(later)}.`,
  off: 'The layer is not rendered: it has 0 samples.',

  precision: (offset: number, distance: number) =>
    `Ray origins are offset ${metres(offset)} from their surfaces, because vertex positions are that coarse in a mesh of this extent. That is ${finePercent(offset / distance)} of the distance of ${metres(distance)}: occluders closer than that are missed, and edges show steps and blotches.`,
  facets: (name: string, drop: number) =>
    `${name} shows its facets: its smooth normals deviate so far from its faces that the layer drops by up to ${inL(drop)} at their corners.`,
  flat: (contrast: number, name: string) =>
    `Adjacent sides, like those of ${name}, differ by only ${inL(contrast)} in the picture: both get the same light. `,
  turned: (degrees: number, contrast: number) =>
    `Turning the environment to ${degrees}° separates them by ${inL(contrast)}.`,
  clouded: (contrast: number) => `A sky that is darker at the horizon separates them by ${inL(contrast)}.`,

  inSurfaces: (name: string, count: number, taken: number) =>
    `${name}${count > 1 ? ` and ${more(count)} multiply` : ' multiplies'} the layer into ${count > 1 ? 'their' : 'its'} base color: those pixels are ${inL(taken)} darker on average.`,
  surfacesTwice: (name: string, count: number, taken: number, share: number): string =>
    `${words.inSurfaces(name, count, taken)} ${percent(share)} of the light here is indirect diffuse, which already darkens corners: they are darkened twice.`,
  clay: 'This is a clay look: the picture is the layer, and nothing is lit.',
  causeSurfaces: 'Occlusion in surfaces that indirect light reaches',
  outOfSurfaces: (name: string, count: number) => `Take the occlusion out of ${name}${count > 1 ? ` and ${more(count)}` : ''}`, // prettier-ignore
  wherePut: 'Their corners get lighter in every render.',

  causeClosed: 'No distance limit in a closed space',
  causeFar: 'A distance that reaches too far',
  causeNear: 'A distance too short for this scene',
  causeClear: 'Clear surfaces that count in the layer',
  causeHidden: (name: string) => `${name}, hidden from the camera, occludes`,
  causeNoise: 'Too few rays for the layer',
  causePrecision: 'Vertex positions too coarse for the distance',
  causeFacets: (name: string) => `Visible facets on ${name}`,
  causeFlat: (name: string) => `Flat shading between adjacent sides, such as those of ${name}`,
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
  rounder: 'Its outline gets rounder, with 16 times the triangles.',
  onlyLayer: 'Only the layer changes.',
  layerUsed: 'The layer changes, and the picture wherever it is multiplied in or shown.',
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
  sheet: 'The layer at distances evenly spaced by their effect',
  atDistance: (distance: number) => metres(distance),
  histogram: 'How far the rays get',
  raysCounted: 'rays',
  objects: 'What is seen, and from which distance on it goes grey',
  objectColumns: ['object', 'pixels', 'open now', 'open at the recommended distance', 'goes grey from'],
  never: 'never',
  blockers: 'What stops the rays',
  blockerColumns: ['object', 'of the rays stopped', 'kind'],
  kinds: { solid: 'solid', clear: 'clear', hidden: 'hidden from the camera' },
  sides: 'Adjacent sides, and how each sky separates them',
  sidesSource:
    'measured in the picture; skies computed from the unblocked rays of these sides, at the brightness of the picture',
  sideColumns: (turns: boolean) => ['object', 'sides', 'picture', 'plain sky', 'overcast sky', ...(turns ? ['environment, best turn'] : [])], // prettier-ignore
  between: (one: string, other: string) => `${one} and ${other}`,
  up: 'up',
  down: 'down',
  heading: (degrees: number) => `${degrees}°`,
  turns: 'Contrast between adjacent sides by environment rotation',
  turnsSource:
    'computed from the unblocked rays of these sides; other lights and bounces as in the picture; differences above 10 L* count as 10',
  rotation: 'rotation, degrees',
  contrast: 'contrast',
  nowAt: (contrast: number) => `now: ${inL(contrast)}`,
  bestTurn: (degrees: number) => `best: ${degrees}°`,
  clearPictures: 'The layer with clear surfaces and without',
  clearCounts: 'clear surfaces count',
  clearPasses: 'passed, weighted by what they let through',
  contrastTable: (share: number) => `Darkening by glass at each contrast, mean of ${percent(share)} of the pixels`, // prettier-ignore
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
    precision: 'Vertex positions are fine enough for the distance',
    facets: 'No facets show in the layer',
    surfaces: 'No surface darkens its corners twice',
    flat: 'Adjacent sides differ in lightness, or no sky would separate them',
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
    `The layer is inverted: corners are lighter than open surfaces. Inverted back it is ${openness(mean)} on average; invert it before multiplying it in.`,
  causeInverted: 'The layer is inverted',
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
