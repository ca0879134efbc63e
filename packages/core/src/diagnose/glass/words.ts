// All wording of the glass diagnosis.
import { finePercent, formatNumber, inL, inSeconds, percent } from '../units.ts';
import type { Depths } from '../limits/depthLimits.ts';
import type { FaultKind } from './glassDefaults.ts';

const metres = (v: number) => formatNumber(v, 'm');
const rgb = (tint: readonly number[]) => tint.map((c) => Number(c.toFixed(3))).join(', ');
const CHANNELS = ['red', 'green', 'blue'];
const critical = (ior: number) => `${((Math.asin(1 / ior) * 180) / Math.PI).toFixed(1)}°`;
const bodies = (count: number) => (count > 1 ? ` (and ${count - 1} more pair${count > 2 ? 's' : ''})` : '');

const PASSED: Record<FaultKind, string> = {
  reversed: 'Faces look outwards',
  mixedFaces: 'All faces of a body look the same way',
  open: 'Bodies are closed',
  innerWall: 'Inner walls face the hollow',
  thinOnSolid: 'No closed body is marked as thin-walled',
  overlap: 'Bodies that overlap have different medium priorities',
  gap: 'No thin layer of air between bodies',
  thinWall: 'Walls are thicker than the ray offset',
  noIndex: 'Indices of refraction are above 1',
  nearIndex: 'No index is close to 1',
  blackTint: 'Tints let all channels through',
  darkInside: 'Absorption leaves light at the real thickness',
  blackBase: 'No black base under partly transmitting glass',
  blackMap: 'Tint textures are black nowhere',
  opacityMap: 'No gradient in the opacity slot',
  mapping: 'Objects of one surface are mapped the same way round',
  unseenBehind: 'Rays through glass meet what the camera sees',
  shadows: 'Shadows of glass let light through',
  totalReflection: 'Total reflection does not cover the view through a body',
};

export const words = {
  passed: PASSED,
  noScene: 'The glass diagnosis needs the scene: these are frames without one',
  noGlass: (pixels: number) => `No pixel of this region shows glass (${pixels} pixels traced through their middle).`,
  needs: (share: number, { total, transmission }: Depths, depth: number | null) =>
    share > 0.995
      ? `Transmission depth ${transmission} and total depth ${total} complete all glass pixels of this region.`
      : `Transmission depth ${transmission} and total depth ${total} complete ${percent(share)} of the glass pixels; ${depth === null ? 'some need more than 64 interfaces' : `99 % need ${depth}`} (traced without limits).`,
  beyond: (share: number) => `${finePercent(share)} of the rays were still inside glass after 64 interfaces.`,
  nothing: 'No cause was found for dark or wrong glass here: no limit and no fault changes it by more than 0.3 L*.',
  causes: (found: { title: string; share: number }[]) => {
    const named = found.map(({ share, title }) => ({ share: percent(share), title: `${title[0].toLowerCase()}${title.slice(1)}` })); // prettier-ignore
    if (named.length === 1) return `The cause: ${named[0].title}.`;
    const [first, ...others] = named;
    return `Of what was found wrong, ${first.share} is ${first.title}; ${others.map((o) => `${o.share} ${o.title}`).join('; ')}.`;
  },
  held: (transmission: number, total: number) =>
    `Raising the transmission depth of ${transmission} changes nothing while the total depth is ${total}.`,
  whyNotMore: (depth: number, share: number, next: number, more: number, seconds: number) =>
    `Depth ${depth} completes ${finePercent(share)} of the glass pixels; ${next} would complete ${finePercent(more)} more for ${inSeconds(seconds)} in this region.`,

  causeDepth: (limits: string[]) => `Depth limits that are too low: ${limits.join(', ')}`,
  cause: {
    reversed: 'Faces that look inwards',
    mixedFaces: 'Faces that look both ways',
    open: 'An open mesh',
    innerWall: 'An inner wall that faces the wrong way',
    thinOnSolid: 'Solid glass marked as thin-walled',
    overlap: 'Overlapping media of one priority',
    gap: 'A thin layer of air between two bodies',
    thinWall: 'Walls thinner than the ray offset',
    noIndex: 'An index of refraction of 1',
    nearIndex: 'An index of refraction close to 1',
    blackTint: 'A tint that lets too little through',
    darkInside: 'Absorption too strong for the thickness',
    blackBase: 'A black base color under the glass',
    blackMap: 'A tint texture that is black in places',
    opacityMap: 'A gradient in the opacity slot',
    mapping: 'A texture mapped the other way round',
    unseenBehind: 'An object that glass does not show',
    shadows: 'Shadows of glass that let nothing through',
    totalReflection: 'Total reflection',
  } satisfies Record<FaultKind, string> as Record<FaultKind, string>,

  reversed: (name: string) =>
    `${name} has its faces turned inwards: rays that enter it count as leaving, and the indices of refraction are swapped.`,
  mixedFaces: (name: string, edges: number) =>
    `Faces of ${name} look both ways (${edges} edges between them): unify the normals in the modelling application.`,
  open: (name: string, rim: number) =>
    `${name} is open (${rim} edges with one face): rays enter its medium and never leave it. Close the mesh, or mark its surface as thin-walled.`,
  innerWall: (name: string, shells: number) =>
    `${name} has ${shells === 1 ? 'an inner wall' : `${shells} inner walls`} that face outwards: the hollow counts as glass. Turn the faces of the inner wall.`,
  thinOnSolid: (name: string, thickness: number) =>
    `${name} is closed (walls about ${metres(thickness)} thick) but marked as thin-walled: it bends no light, and each wall counts as two panes.`,
  overlap: (vessel: string, filling: string, count: number) =>
    `${vessel} and ${filling}${bodies(count)} overlap with the same medium priority: which of them fills the overlap depends on the side the ray comes from.`,
  gap: (filling: string, vessel: string, count: number, gap: number) =>
    `Between ${filling} and ${vessel}${bodies(count)} lies ${metres(gap)} of air along the ray: two more interfaces each way, and total reflection where they should touch.`,
  thinWall: (name: string, share: number) =>
    `Walls of ${name} are no thicker than the ray offset in ${percent(share)} of the looks through it: rays may skip a wall. Thicken it or move the scene to the origin.`,
  noIndex: (surface: string) => `${surface} has an index of refraction of 1: it neither bends nor reflects light.`,
  nearIndex: (surface: string, ior: number) =>
    `${surface} has an index of ${ior}: it bends light by next to nothing, but reflects totally from ${critical(ior)} on inside, a hard edge in the picture.`,
  blackTint: (surface: string, tint: number[]) =>
    `The transmission tint of ${surface} is ${rgb(tint)}: it lets next to nothing through.`,
  missingChannel: (surface: string, tint: number[]) =>
    `The transmission tint of ${surface} is ${rgb(tint)}: no ${CHANNELS.filter((_, k) => tint[k] < 0.02).join(' and no ')} light passes its first interface.`,
  darkInside: (name: string, length: number, left: number) =>
    `${name} absorbs all but ${finePercent(left)} of the light over its mean length of ${metres(length)}.`,
  blackBase: (surface: string, weight: number) =>
    `${surface} transmits ${percent(weight)} and shows a black base with the rest: that share of the light is lost at each interface.`,
  blackMap: (texture: string, surface: string, share: number) =>
    `The texture ${texture} filters the light through ${surface}, and is black on ${percent(share)} of its area: nothing passes there, whatever the depth.`,
  opacityMap: (texture: string, surface: string, share: number) =>
    `The texture ${texture} controls the opacity of ${surface}, and ${percent(share)} of it lies between clear and opaque: a gradient of coverage, which removes the glass instead of tinting it.`,
  mapping: (name: string, other: string, texture: string) =>
    `${texture} stands upside down on ${name} against ${other}, which has the same surface.`,
  unseenBehind: (name: string, share: number) =>
    `${name} is hidden from reflections and refractions: ${percent(share)} of the glass pixels look past it, at what lies behind.`,
  catcherBehind: (name: string, share: number) =>
    `${name} only catches shadows, and does so for what the camera sees straight: ${percent(share)} of the glass pixels would show it, and show what lies behind it, without shadows.`,
  shadows: 'Shadow rays stop at glass: what light the surfaces behind it get comes by chance, as caustics.',
  totalReflection: (name: string, share: number, ior: number) =>
    `${name} reflects totally in ${percent(share)} of the looks through it (from ${critical(ior)} on inside): what is seen there lies beside it, not behind.`,

  showBehind: (name: string) => `Let reflections and refractions see ${name}`,
  makeGround: (name: string) => `Make ${name} a surface that is seen`,
  groundSeen: 'Its own surface is seen in place of what lies behind it: it needs the look of the ground.',
  turnFaces: (name: string) => `Turn the faces of ${name}`,
  makeThin: (surface: string) => `Mark ${surface} as thin-walled`,
  makeSolid: (surface: string) => `Unmark ${surface} as thin-walled`,
  lighten: (from: number[], to: number[]) => `Lighten the transmission tint from ${rgb(from)} to ${rgb(to)}`,
  lengthen: (surface: string, from: number, to: number) =>
    `Set the absorption distance (transmission depth) of ${surface} from ${metres(from)} to ${metres(to)}`,
  allThrough: (surface: string) => `Set the transmission weight of ${surface} to 1`,
  setIor: (from: number, to: number) => `Set the index of refraction from ${from} to ${to}`,
  setPriority: (surface: string, to: number) => `Set the medium priority of ${surface} to ${to}`,
  closeGap: (filling: string, vessel: string, by: number) =>
    `Grow ${filling} by ${metres(by)} into its vessel, and give ${vessel} priority`,
  replaceMap: (texture: string, mean: number[]) => `Replace the texture ${texture} by its mean tint ${rgb(mean)}`,
  moveToTint: (texture: string) => `Move ${texture} from opacity to tint`,
  flip: (texture: string, name: string) => `Turn ${texture} the right way up on ${name}`,
  clearShadows: 'Let tinted light through the shadows of glass',

  /** The same fault of further objects. */
  also: (text: string, others: string[]) =>
    `${text} The same holds for ${others.slice(0, 3).join(', ')}${others.length > 3 ? ` and ${others.length - 3} more` : ''}.`,
  alsoCures: (title: string, more: number) => `${title} and ${more} more`,

  onlyThis: 'No other object changes.',
  allOfSurface: (surface: string) => `All objects with the surface ${surface} change.`,
  moreEvents: 'Light is refracted again: paths need more depth.',
  fewerEvents: 'Two interfaces fewer for each wall: the same depth reaches further.',
  noRefraction: 'Light is not bent any more, and nothing is absorbed inside.',
  priorityWins: (vessel: string, filling: string) => `Where they overlap, ${vessel} replaces ${filling}.`,
  gradientGone: 'The gradient is gone: give the texture a dark end above black to keep it.',
  tintsNow: 'It filters the light instead of removing the glass.',
  ownSurface: (name: string) => `${name} gets a surface and a texture of its own.`,
  softCaustics: 'Light passes glass straight: caustics are lost where shadow rays pass.',

  map: 'Events needed to leave the glass, mean of each tile',
  mapSource: 'computed: rays through the middle of each pixel, refracted without limits',
  histogram: 'Interfaces until the last glass is left',
  interfaces: 'interfaces',
  pixels: 'pixels',
  coverage: 'Glass pixels completed by transmission depth',
  depthAxis: 'transmission depth',
  coverageAxis: 'glass pixels',
  totalOpen: 'total depth raised with it',
  totalAt: (total: number) => `total depth at ${total}`,
  set: (depth: number) => `set: ${depth}`,
  recommended: (depth: number) => `recommended: ${depth}`,
  time: 'Time of this region by transmission depth',
  timeSource: (samples: number) =>
    `predicted: rays of a render with open limits (${samples} pixel samples), total depth raised along; time goes with the rays`,
  timeAxis: 'time of the region',
  bodies: 'What each body lets through',
  bodiesSource: 'computed: along the rays through the pixels that show it; one wall straight on at its mean length',
  bodyColumns: ['body', 'IOR', 'pixels', 'interfaces', 'length inside', 'one wall', 'all the way', 'light left'],
  layers: 'Light left behind walls of each surface',
  layersSource: 'computed: straight on, with the reflections of the interfaces, at the mean length inside',
  layersAxis: 'walls',
  leftAxis: 'light left',
  checks: 'Checks of the glass',
  checksSource: 'computed from meshes, surfaces, textures and the rays through this region',
  noise: 'Noise of glass by light path',
  noiseSource: (pixels: number, samples: number) => `measured: ${samples} samples of each of ${pixels} pixels, replayed; shares of the variance of L*, each kind of path by itself`, // prettier-ignore
  noiseColumns: ['light', 'share of the noise', 'reduced by'],
  ways: {
    reflected: 'reflected by glass',
    through: 'lights and sky seen through glass',
    behind: 'surfaces seen through glass',
    caustic: 'thrown by glass onto a surface (caustic)',
    rest: 'all other light',
  },
  answers: {
    reflected: 'specular samples',
    through: 'transmission samples',
    behind: 'transmission samples, and light samples',
    caustic: 'letting shadow rays pass glass; samples hardly help',
    rest: 'see the noise diagnosis',
  },
  noiseLeads: (way: string, share: number, answer: string) => `${percent(share)} of the noise here comes from light of one kind: ${way}. It is reduced by ${answer}.`, // prettier-ignore
  faultyPlaces: 'Open edges, and edges where faces flip',
  faultySource:
    'computed from the edges of the meshes: those with one face, and those along which two faces run the same way',
  faultyEdges: (open: number, turned: number) =>
    [open > 0 ? `${open} open edge${open === 1 ? '' : 's'}` : '', turned > 0 ? `${turned} edge${turned === 1 ? '' : 's'} at which faces turn over` : ''].filter(Boolean).join(', '), // prettier-ignore
  variants: 'What moves it',
  pictures: 'The region with each change',
  cures: 'The region with each remedy',
  curesTable: 'What each remedy changes',
  openTitle: 'Rendering the region with open depth limits',
  walking: 'Tracing through the glass',
  checking: 'Checking meshes, surfaces and textures',
  variant: {
    environment: 'environment turned by 40°',
    refraction: 'half the refraction',
    limits: 'depth limits open',
    mesh: 'meshes smoothed once more',
    plainShadows: 'shadow rays pass glass untinted',
  },
  mover: (title: string, mean: number) => `Most of the picture here changes with "${title}" (${inL(mean)} on average).`,
};
