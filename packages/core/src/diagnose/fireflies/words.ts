// All wording of the firefly diagnosis.
import { finePercent, formatEstimate, inL, plainNumber, type Estimate } from '../units.ts';
import type { DepthKind } from '../limits/depthLimits.ts';
import { LIMIT_NAMES } from '../limits/words.ts';
import type { FireflyCause, FireflyStory } from './fireflyCauses.ts';

const short = (v: number) => String(Number(v.toPrecision(3)));
const list = (names: string[]) => [...new Set(names)].join(' and ');
const times = (v: number) => `${v < 10 ? v.toFixed(1) : Math.round(v)} times`;

const CAUSES: Record<FireflyCause, string> = {
  behindGlass: 'A small emitter behind glass, hit by chance',
  caustic: 'A caustic: light that reaches a rough surface by way of a smooth one',
  nearLight: 'A light very close to a surface',
  environmentSpot: 'A small bright spot in the environment, hit by chance',
  texel: 'Overexposed texels in an emission texture',
  byChance: 'Light that is hit by chance',
};

export const words = {
  sources: { environment: 'the environment', surfaces: 'emissive surfaces', background: 'the background' } as Record<string, string>, // prettier-ignore
  cause: (cause: FireflyCause) => CAUSES[cause],

  none: (pixels: number) => `No fireflies in this region (${pixels} pixels).`,
  found: (count: number, pixels: number) =>
    `${count} ${count === 1 ? 'firefly' : 'fireflies'} in this region, one pixel in ${Math.round(pixels / count)}.`,
  confirmed: (count: number) =>
    `Small highlights may be among them beyond the ${count} brightest, which were rendered again with other samples.`,
  brightest: (x: number, y: number, ratio: number) =>
    `The brightest, at (${x}, ${y}), is ${times(ratio)} as bright as its surroundings.`,
  /** Of the largest clusters; what the second shares with the first is not said again. */
  clusters: ([first, second]: { count: number; story: FireflyStory }[], replayed: number, all: number) => {
    const way = ({ story }: { story: FireflyStory }) => `from ${story.light}${story.through.length > 0 ? ` through ${list(story.through)}` : ''}`; // prettier-ignore
    const start =
      replayed < all ? `Of the ${replayed} brightest, ${first.count} come` : `${first.count} of ${all} come`;
    const other = second ? `, ${second.count} ${way(second) === way(first) ? '' : `${way(second)} `}onto ${second.story.onto}` : ''; // prettier-ignore
    return `${start} ${way(first)} onto ${first.story.onto}${other}.`;
  },
  uncertain: 'Estimated from pixels: the file carries no sample statistics, so small highlights may be among them.',
  beside: (frames: number, lasting: number) =>
    `Estimated from pixels, and from ${frames > 1 ? 'the frames before and after' : 'the frame next to it'}: ${lasting === 0 ? 'nothing that stands out here stands out there' : `${lasting} more ${lasting === 1 ? 'pixel stands' : 'pixels stand'} out there as well, and ${lasting === 1 ? 'is a highlight' : 'are highlights'}`}.`,
  noScene: 'The picture alone does not say which paths made them: diagnose the scene itself to see the cause and the cures.', // prettier-ignore
  foreign: 'The brightest samples could not be replayed: the picture was rendered from another version of the scene.',
  notNumbers: (count: number) => `${count} pixels are not a number and cannot be judged.`,
  otherSize: (width: number, height: number, wanted: number, wantedHeight: number) =>
    `a frame before or after has ${width} x ${height} pixels, and this one ${wanted} x ${wantedHeight}`,
  otherPlace: 'a frame before or after covers another part of the frame',
  noBeauty: 'this picture has no beauty layer: fireflies are counted in the beauty',
  more: (from: number, to: number, left: Estimate, all: number) =>
    left.value >= all
      ? `More samples do not help: ${to} instead of ${from} are predicted to make ${formatEstimate(left, 'count')} fainter ones of ${all}.`
      : `From ${from} to ${to} pixel samples, ${formatEstimate(left, 'count')} of ${all} fireflies are predicted to be left.`,
  noCure: 'Nothing that was tried on a part of the region leaves fewer; the table of cures says how many each leaves.',
  tail: (index: Estimate) =>
    index.value < 2
      ? `Their variance does not settle (tail index ${formatEstimate(index, '')}, below 2).`
      : `Tail index ${formatEstimate(index, '')}.`,

  story: ({ light, onto, through }: Pick<FireflyStory, 'light' | 'onto' | 'through'>) =>
    `from ${light}${through.length > 0 ? ` through ${list(through)}` : ''} onto ${onto}`,

  clustersTitle: 'What the paths of the fireflies share',
  clustersSource: (replayed: number) => `measured: the brightest sample of ${replayed} fireflies, replayed`,
  clusterColumns: ['path', 'notation', 'fireflies', 'of their excess', 'cause'],
  map: 'Where the fireflies are, by cause',
  mapSource: 'measured: fireflies in each tile, and the cause of most of them',
  pixels: 'Brightest fireflies',
  pixelsSource: (confirmed: boolean) =>
    confirmed
      ? 'measured: pixels that stand out by a few samples, and are not bright again with other samples'
      : 'estimated from the picture',
  pixelsValue: 'times its surroundings',
  pixel: (carriers: number | null, story: string | null) =>
    [carriers === null ? null : `carried by ${carriers < 1.5 ? '1 sample' : `about ${carriers.toFixed(0)} samples`}`, story].filter(Boolean).join(', '), // prettier-ignore
  paths: 'The path that made a firefly',
  pathsSource: 'replayed: the brightest sample of the pixel',
  path: (x: number, y: number, sample: number, luminance: number, notation: string) =>
    `pixel (${x}, ${y}), sample ${sample}: luminance ${plainNumber(luminance)}, ${notation}`,
  chance: (density: number, on: string, light: string) =>
    `chosen by chance, with a density of ${plainNumber(density)} per steradian, on ${on}; the ray hits ${light}`,
  grown: (factor: number, on: string) => `throughput grows ${times(factor)} on ${on}`,
  near: (on: string, light: string) => `${light} is sampled from ${on}`,
  clamp: 'What a clamp leaves and what it costs',
  clampSource: (samples: number) =>
    `computed: fireflies left from the replayed samples; light lost from a render of the region (${samples} pixel samples)`,
  clampAxis: 'clamp, luminance of a sample',
  clampLeft: (kind: string) => `fireflies left, ${kind} clamp`,
  clampLost: (kind: string) => `light lost, ${kind} clamp`,
  clampShare: 'share',
  tailTitle: 'Brightest samples of the pixels of the region',
  tailSource: 'measured: the brightest sample of each pixel over the luminance of the region',
  tailAxis: 'brightest sample, times the mean luminance',

  accountTitle: 'Rendering the region with an account of its light',
  lookAgain: 'Rendering the candidates again with other samples',
  replay: 'Replaying the brightest samples',
  rehearse: (title: string) => `Rendering part of the region: ${title}`,

  raiseSamples: (from: number, to: number) => `Raise pixel samples from ${from} to ${to}`,
  samplesSide: 'Each firefly gets fainter, and new ones come: see the tail index.',
  setClamp: (kind: string, from: number, to: number) =>
    from > 0 ? `Lower the ${kind} clamp from ${short(from)} to ${short(to)}` : `Set the ${kind} clamp to ${short(to)}`, // prettier-ignore
  clampSide: (lost: number) =>
    `Takes ${finePercent(lost)} of the light that clamps can reach, real highlights included, and makes the picture darker than it should be.`,
  clearShadows: 'Let shadow rays pass through glass, tinted by it',
  clearShadowsSide: 'Light passes straight through glass, without refraction: caustics behind it are lost.',
  standIn: (name: string, seeThrough: boolean) =>
    `Replace the light of ${name} with stand-in lights${seeThrough ? ', and let shadow rays pass through glass' : ''}`,
  standInSide: (least: number, most: number, doubt: number) =>
    `${least > 0.95 && most < 1.05 ? 'Sends the same light into every direction within 5 %' : `The same power, but ${finePercent(1 - least)} less in some directions and ${finePercent(most - 1)} more in others`}. Caustics of it are lost.${doubt > 0.01 ? ` Its power is known to ${finePercent(doubt)}.` : ''}`,
  sunName: (i: number, all: number) => (all > 1 ? `sun of the environment ${i + 1}` : 'sun of the environment'),
  sun: (suns: number, seeThrough: boolean) =>
    `Move the bright ${suns > 1 ? `spots of the environment into ${suns} suns` : 'spot of the environment into a sun'} of the same irradiance${seeThrough ? ', and let shadow rays pass through glass' : ''}`,
  sunSide: (lost: number) =>
    `Glass and mirrors do not show it any more, and caustics of it are lost.${lost > 0.001 ? ` ${finePercent(lost)} of the light of the environment is cut off and stands in no sun.` : ''}`,
  reach: (name: string, metres: number) => `Limit the reach of ${name} to ${plainNumber(metres)} m`,
  reachSide: (name: string) => `What lies farther away loses the light of ${name}.`,
  cures: 'Cures compared',
  curesSource: (parts: number, pixels: number) =>
    `measured on ${pixels} pixels${parts > 1 ? ` in ${parts} parts, the busiest and others that stand for the rest; fireflies and time for the region` : ' of the region'}; each with other samples; time by the rays; noise in the present time and samples for the present noise by the square root of the samples`,
  curesColumns: ['cure', 'fireflies', 'noise', 'mean luminance', 'highlights', 'frame time', 'noise in the present time', 'samples for equal noise', 'time for equal noise'], // prettier-ignore
  clampObjects: 'Light that clamps take, by what the camera sees; pixels of fireflies left out',
  clampObjectsSource: 'measured: light that clamps take of the pixels of an object, over all of its light',
  seenObject: 'object',
  clampTakes: 'What clamps take from the region',
  clampTakesSource: (width: number, height: number) => `rendered: ${width} x ${height} pixels, and the light that is missing in each`, // prettier-ignore
  takenNow: 'taken by the present clamps',
  takenBy: (title: string) => `taken: ${title.charAt(0).toLowerCase()}${title.slice(1)}`,
  clampEats: (name: string, share: number) =>
    `The clamps that are set take up to ${finePercent(share)} of the light of ${name}, where it is no firefly.`,
  clampWouldEat: (title: string, name: string, share: number) =>
    `${title}, and ${name} loses ${finePercent(share)} of its light.`,
  otherSeed: 'As it is, with other samples',
  boil: 'Where a denoised sequence would boil',
  boilSource: (width: number, height: number) => `measured: the look without noise of ${width} x ${height} pixels with two seeds, and how far it differs`, // prettier-ignore
  boils: (share: number, limit: number) =>
    share < 0.001
      ? `Denoised, its busiest part differs by less than ${inL(limit)} from one seed to the next.`
      : `Denoised, ${finePercent(share)} of its busiest part still differ by more than ${inL(limit)} from one seed to the next.`,
  noHighlights: 'none here',
  asItIs: 'As it is',
  floor: (value: number) => `Set the roughness floor after the first bounce to ${value}`,
  depth: (kind: DepthKind, from: number, to: number) => `Lower the ${LIMIT_NAMES[kind]} from ${from} to ${to}`,
  depthSide: (kind: DepthKind, to: number, lost: number) =>
    `Ends the paths of fireflies, and takes ${finePercent(lost)} of the light of this region: all that comes by ${to > 0 ? `more than ${to} ` : ''}${kind === 'total' ? '' : `${kind} `}${to === 1 ? 'event' : 'events'}.`,
  outliers: (groups: number) => `Leave out the outliers among ${groups} groups of samples in each pixel`,
  outliersSide: 'Takes away what few samples bring, whether it belongs there or not, and is no cure of the cause.',
  floorSide: 'Caustics get softer, and so do reflections in reflections.',
};
