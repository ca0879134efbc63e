// All wording of the shadow diagnosis.
import type { Light } from '../../scene/index.ts';
import type { Reference } from '../reference.ts';
import { finePercent, formatNumber, inL, percent, type Estimate } from '../units.ts';
import type { PassReason } from './blockers.ts';
import type { ChainEnd } from './lightChain.ts';

const metres = (v: number) => (v < 0.1 ? formatNumber(v, 'm') : `${Number(v.toPrecision(3))} m`);

export const words = {
  noBeauty: 'the shadow diagnosis needs a beauty picture in color: say on the Layers panel which layer it is',
  parts: (contrast: number, share: number, dark: number, edge: number, plain: boolean) =>
    `${percent(share)} of this region is darker by ${inL(contrast)}${plain ? ', its textures evened out' : ''}: it lies at ${inL(dark)}, and the edge between both parts is ${Number(Math.max(1, edge).toPrecision(2))} px wide.`,
  noParts: (contrast: number, readable: number, even: boolean) =>
    `The darker part of this region is ${inL(contrast)} darker than the rest${even ? ', its textures evened out' : ''}: no shadow stands out, which takes ${inL(readable)}.`,
  floor: (floor: number) => `Nothing but 1 % of it is darker than ${inL(floor)}.`,
  frameNoise: ({ high, low, value }: Estimate) =>
    `Its noise is about ${inL(value)} (${inL(low)} to ${inL(high)}) at the shadow check, estimated from the pixels.`,
  frameDepth: (depth: number) => `By its shadow layer, shadows take ${inL(depth)} of it where they fall.`,
  frameNeedsScene:
    'Which light it is, what stands in between, and why a shadow is missing or soft, needs the scene: bring it in as a shot of its own.',
  histogram: 'Lightness of this region',
  histogramSource: 'measured in the pixels; the split leaves most variance between both parts',
  lightness: 'lightness',
  pixels: 'pixels',
  darkPart: 'dark part',
  litPart: 'lit part',
  outside: 'the region lies outside the picture',
  asking: 'Asking each light what stands in its way',
  nothingSeen: 'No pixel of this region shows a surface.',
  noLights: 'The shot has no lights: its environment and glowing surfaces throw soft shadows only.',

  open: (light: string) => `Nothing stands between this region and ${light}: its shadows fall elsewhere.`,
  shadow: (light: string, share: number, by: string, contrast: number | null) =>
    `${by} throws a shadow of ${light} on ${percent(share)} of this region${contrast === null ? '' : `, ${inL(contrast)} deep`}.`,
  passes: (name: string, light: string, share: number, reason: Exclude<PassReason, 'range'>) =>
    `${name} stands between ${light} and ${percent(share)} of this region, ${WHY[reason]}.`,
  outOfRange: (
    name: string,
    light: Pick<Light, 'name' | 'shadowFrom' | 'shadowTo'>,
    from: number,
    to: number,
    share: number,
  ) =>
    `${name} stands ${span(from, to)} from ${percent(share)} of this region, and ${light.name} throws the shadows of what stands ${rangeWords(light)} alone.`,
  coarse: (name: string, light: string, share: number) =>
    `The faces of ${name} are coarse: on ${percent(share)} of this region its smooth normals face ${light} while its flat faces turn away from it, which leaves a hard, stepped edge.`,
  normals: (name: string, light: string, share: number) =>
    `The normals of ${name} turn away from ${light} on ${percent(share)} of this region where its faces look at it: it is black there, as if it were a back.`,
  doubled: (name: string, other: string) =>
    `${name} stands where ${other} stands and shines the same way: all light and all shadows of both are there twice.`,
  clipped: (side: 'near' | 'far', at: number, reached: number, share: number, names: string) =>
    `The camera shows nothing ${side === 'far' ? 'beyond' : 'within'} ${metres(at)}: ${percent(Math.max(share, 0.01))} of this region would show ${names}, ${side === 'far' ? 'up to' : 'from'} ${metres(reached)} away.`,
  coplanar: (name: string, other: string, share: number, apart: number) =>
    `Faces of ${name} and ${other} are coplanar on ${finePercent(share)} of this region: rounding decides which one a ray hits. They stop fighting ${metres(apart)} apart.`,
  rayEnds: (distance: number, share: number, reach: number) =>
    `Rays end after ${metres(distance)} and return the sky: ${percent(share)} of the rays from this region would hit something farther away, up to ${metres(reach)}.`,
  listOf: (about: Reference[]) => about.flatMap((r) => ('name' in r ? [r.name] : [])).join(', '),
  hiddenCaster: (name: string) => `${name}, which the camera does not show,`,
  lightWithout: (light: string, share: number) =>
    `${light} is set to cast no shadows; something stands in its way for ${percent(share)} of this region.`,
  placeWithout: (name: string, share: number) =>
    `${name} is set to receive no shadows; ${percent(share)} of this region would be in one.`,
  tinted: (light: string, color: readonly number[]) =>
    `The shadow color of ${light} is ${color.map((c) => Number(c.toFixed(2))).join(', ')}: its shadows let that share of its light through.`,
  notLinked: (light: string, name: string) =>
    `${light} is not linked to ${name}: it brings no light here, and no shadow.`,
  mirrored: (light: string, share: number) =>
    `The transform of ${light} mirrors it, and so turns it around: without the mirror it would shine on ${percent(share)} of this region.`,
  beyondReach: (light: string, reach: number, farthest: number) =>
    `${light} reaches ${metres(reach)}, and this region lies up to ${metres(farthest)} away: no light of it, and no shadow.`,
  glow: (name: string, share: number, floor: number) =>
    `${name} glows: ${percent(share)} of the light of the darkest tenth of this region is its own emission, a floor of ${inL(floor)} that no shadow goes below.`,
  enclosed: (light: string, name: string) =>
    `${light} stands inside of ${name}: nothing of its light gets out, and all that lies around is in shadow.`,
  under: (light: string, name: string, depth: number) =>
    `${light} stands under ${name}, ${metres(depth)} below its surface: no light of it gets here.`,
  floats: (name: string, under: string, gap: number) =>
    `${name} hangs ${metres(gap)} above ${under}: light gets in under it, and its shadow parts from it.`,
  soft: (light: string, width: number, size: number, depth: number) =>
    `${light} makes a soft edge of ${metres(width)}, and what throws the shadow measures ${metres(size)}: on average ${percent(depth)} of its light is stopped, and no core of the shadow is left.`,
  filled: (light: string, contrast: number, fill: string | null) =>
    `The shadow of ${light} is only ${inL(contrast)} deep here${fill === null ? '' : `, filled by ${fill}`}.`,
  filledBy: (way: string, share: number) => `${way} (${percent(share)} of the light here)`,
  facesAway: (light: string, share: number) => `${percent(share)} of this region faces away from ${light}: that is its dark side, and no shadow.`, // prettier-ignore
  nothing: 'Nothing was found that keeps a shadow away here.',

  cause: {
    flag: (name: string) => `${name} casts no shadows`,
    clear: (name: string) => `Shadow rays pass ${name}, which is clear`,
    hole: (name: string) => `${name} is cut out by its opacity`,
    back: (name: string) => `${name} is single-sided, and turns its back to this place`,
    range: (light: string) => `What stands here lies outside of the shadow range of ${light}`,
    coarse: (name: string) => `The faces of ${name} are too coarse for its smooth normals`,
    normals: (name: string) => `The normals of ${name} do not follow its faces`,
    doubled: (name: string, other: string) => `${name} doubles ${other}`,
    clipped: (side: 'near' | 'far', names: string) => `The ${side} distance of the camera cuts off ${names}`,
    rayEnds: 'The ray distance ends rays too early',
    coplanar: (name: string, other: string) => `${name} and ${other} have coplanar faces`,
    lightWithout: (light: string) => `${light} casts no shadows`,
    placeWithout: (name: string) => `${name} receives no shadows`,
    mirrored: (light: string) => `A mirroring transform turns ${light} away`,
    tinted: (light: string) => `A shadow color that lets ${light} through`,
    glow: (name: string) => `${name} glows in the darkest part`,
    notLinked: (light: string) => `${light} is not linked to what is seen here`,
    beyondReach: (light: string) => `${light} does not reach this far`,
    enclosed: (light: string, name: string) => `${light} stands inside of ${name}`,
    under: (light: string, name: string) => `${light} stands under ${name}`,
    floats: (name: string, under: string) => `${name} hangs above ${under}`,
    soft: (light: string) => `${light} is too large for a shadow of this size`,
    filled: (light: string) => `Other light fills the shadow of ${light}`,
  },
  remedy: {
    castAgain: (name: string) => `Let ${name} cast shadows`,
    receive: (name: string) => `Let ${name} receive shadows`,
    solidGlass: 'Let glass stop shadow rays',
    bothSides: (name: string) => `Show both sides of ${name}`,
    blackShadow: (light: string) => `Set the shadow color of ${light} to black`,
    noGlow: (name: string) => `Set the emission of ${name} to 0`,
    link: (light: string) => `Link ${light} to what is seen here`,
    turnAround: (light: string) => `Turn ${light} around`,
    range: (light: string) => `Widen the shadow range of ${light}`,
    finer: (name: string) => `Subdivide ${name} twice`,
    putOut: (light: string) => `Put out ${light}`,
    clip: (side: 'near' | 'far', to: number) => `Set the ${side} distance of the camera to ${metres(to)}`,
    rayDistance: (from: number, to: number) => `Set the ray distance from ${metres(from)} to ${metres(to)}`,
    lift: (name: string, by: number) => `Lift ${name} by ${metres(by)} towards the camera`,
    remove: (name: string) => `Let ${name} cast no shadows`,
    putDown: (name: string, by: number) => `Put ${name} down by ${metres(by)}`,
    reach: (light: string, to: number) => `Set the reach of ${light} to ${metres(to)}`,
    smaller: (light: string) => `Make ${light} a quarter of its size`,
    lessIndirect: 'Follow no light from surface to surface',
    lessOf: (fill: string) => `Lower ${fill} by 2 EV`,
    brighter: (light: string) => `Raise ${light} by 1 EV`,
  },
  side: {
    everywhere: 'Its shadows fall on everything else as well.',
    light: 'All shadows of this light change.',
    glass: 'Glass throws solid shadows; light comes through it as caustics alone.',
    noGlow: 'It glows nowhere any more, and lights nothing.',
    linked: 'Its light comes with its shadow.',
    turnedAround: 'It shines the other way: what it lights now loses its light.',
    sharper: 'All its shadows and highlights grow sharper; the light stays as strong.',
    brighter: 'All that it lights grows brighter.',
    darker: 'All that it lights grows darker.',
    noIndirect:
      'It is the proof of what fills the shadow, rather than a look: all that only indirect light reaches turns black.',
    back: 'Its back is seen by the camera as well.',
    newNormals: 'Its normals are made from its faces; edges that bend by more than 40° stay sharp.',
    rounder: 'Its outline becomes rounder, and its corners as well unless they are creased.',
    clip: 'It shows in the whole frame.',
    rays: 'Rays are traced farther in the whole frame.',
    lifted: 'It moves by that much.',
    unwanted: 'For a shadow that should not be here: it is gone everywhere.',
  },

  map: (light: string) => `What becomes of ${light} at each place`,
  bounces: (count: number) =>
    count === 0 ? 'light straight from lights' : `with ${count} bounce${count === 1 ? '' : 's'}`,
  noSky: 'without the sky',
  bounce: (number: number) => `bounce ${number}`,
  laterBounces: (from: number, to: number) => (from === to ? `bounce ${from}` : `bounces ${from} to ${to}`),
  sky: 'the sky',
  lift: 'What lifts the darkest tenth',
  liftSource: 'rendered: this region without it, with the same random numbers',
  byBounces: 'Light of this region by bounces between matt surfaces',
  bouncesAxis: 'bounces',
  lightAxis: 'of the light as it is',
  lifts: (dark: number, lifts: { label: string; lift: number }[]) =>
    `The darkest tenth of this region lies at ${inL(dark)}; it is lifted by ${lifts.map(({ label, lift }) => `${inL(lift)} by ${label}`).join(', ')}.`,
  liftWays: 'The region with fewer bounces, and without the sky',

  rays: (place: string) => `Rays from the middle of this region, on ${place}`,
  raysSource:
    'computed: a ray to each light, nine to a light with a size; dashed beyond what stops it, marked where it is stopped',
  rayRange: (light: Parameters<typeof rangeWords>[0]) =>
    `casts only shadows of what stands ${rangeWords(light)}, marked on the ray`,
  rayStops: (stopped: number, all: number, by: string[]) =>
    stopped === 0
      ? 'nothing between'
      : `${stopped === all ? 'stopped' : `${stopped} of ${all} stopped`} by ${by.join(', ')}`,

  whichCaster: 'Which object should throw it',
  casterGone: 'The object that should throw it is not in the scene of this proof.',
  casterAsk: (name: string) => `Looking for the shadow of ${name}`,
  casterHere: (name: string, light: string, share: number) =>
    `${name} stands between ${light} and ${percent(share)} of this region.`,
  casterElsewhere: (name: string, light: string, away: number | null, px: number, at: string) =>
    `The shadow of ${name} from ${light} falls ${away === null ? '' : `${metres(away)} from here, `}${Math.round(px)} px away: the nearest of it lies at ${at}.`,
  casterCovered: (share: number, by: string) => `${percent(share)} of it lies in the shadow of ${by} already.`,
  casterHidden: (name: string, light: string, landing: number) =>
    `The shadow of ${name} from ${light} is not on this picture: it falls ${metres(landing)} on from it, outside of the frame, behind something, or where the light does not come.`,
  casterNowhere: (name: string, light: string) =>
    `The shadow of ${name} from ${light} falls on nothing: away from the light, nothing lies behind it.`,
  casterPasses: (name: string, reason: PassReason) => `None is there, because ${name} ${CASTER_WHY[reason]}.`,
  casterNoLight: (light: string) => `None is there, because ${light} is set to cast no shadows.`,
  casterNoPlace: 'None is there, because what lies there is set to receive no shadows.',
  casterMap: (name: string, light: string) => `Where the shadow of ${name} from ${light} falls`,
  casterMapSource: (looks: number) =>
    `computed: rays from ${looks} places of the frame to the light, asked for this object alone`,
  casterShade: 'its shadow',
  casterLands: (name: string, length: number) => `throws the shadow of ${name} ${metres(length)} on from it`,

  idle: 'Lights that do next to nothing in this frame',
  idleColumns: ['light', 'of what lights bring', 'mostly', 'of the frame'],
  idleSource: (places: number) =>
    `computed: rays from ${places} places of the frame to each light; less than 0.1 % of what all lights bring, straight and to matt surfaces`,

  clipMap: 'What the near and far distances of the camera cut off',
  clipSource: (looks: number) => `computed: ${looks} pixels of this region, looked at with the distances and without`,
  lightCosts: 'What each light group costs and brings',
  lightCostColumns: ['light group', 'of the time for asking lights', 'of the light'],
  lightCostSource:
    'measured: this region at few samples; time for lights at first surfaces, light of any way, most time for least light first',

  farAway: (away: number, spacing: number, pixels: number) =>
    `The scene lies ${Number((away / 1000).toPrecision(3))} km from the origin, where single-precision numbers lie ${metres(spacing)} apart (${formatNumber(pixels, 'px')} of this shot). Meshes stored there, and renderers that place objects in single precision, shake and leak by as much.`,
  unlikely: (median: number, unit: string, likely: number) =>
    `The middle object of the scene measures ${metres(median)}: if the file was in ${unit}, it would be ${metres(likely)} (a guess by common sizes).`,
  scale: 'Scale, place and transforms',
  scaleSource:
    'computed from the boxes of the objects, their transforms, the camera, and the faces of meshes of a million triangles together',
  scaleColumns: ['what', 'value', 'on the picture', 'which'],
  scaleRows: {
    away: 'distance from the origin',
    spacing: 'between two numbers of single precision there',
    median: 'size of the middle object',
    smallest: 'smallest object',
    largest: 'largest object',
    mirrored: 'mirrored objects',
    sheared: 'sheared objects',
    farPivots: 'objects far from the point that they are placed by',
    inward: 'closed objects whose faces look inwards',
    mixed: 'objects whose faces look different ways',
    oneSided: 'single-sided objects: their backs are not there',
    defaultSurface: 'objects with a default surface',
  },
  toOrigin: 'Move the whole scene to the origin',
  toUnit: (unit: string) => `Read the whole scene in ${unit}`,
  sameView: 'Objects, lights and cameras move together; the picture stays the same.',

  lights: 'Each light, and what becomes of it here',
  lightColumns: ['light', 'of all light sent here', 'answer', 'region', 'stopped by', 'soft edge'],
  stopped: (answer: string, depth: number) => `${answer}, ${percent(depth)} stopped`,
  ends: {
    off: 'off',
    notLinked: 'not linked',
    beyondReach: 'beyond its reach',
    outsideCone: 'outside of its cone',
    normalAway: 'its normals turn away',
    facesAway: 'faces away',
    flatFaceAway: 'its flat face turns away',
    open: 'lit, nothing between',
    lightWithout: 'casts no shadows',
    placeWithout: 'receives no shadows',
    passed: 'passes what stands between',
    tinted: 'shadow with a color',
    shadow: 'shadow',
  } satisfies Record<ChainEnd, string>,
  chainSource: (places: number) =>
    `computed: rays from ${places} places of this region to each light, nine for a light with a size`,
  arrivalSource: 'light sent here is that of lights that face this place, from their middles, with nothing in between',
  others: (count: number) => `${count} more`,
  ways: 'Light of this region by how it came',
  waysSource: 'measured in the layers of the components',
  falls: (light: string) => `Where the shadows of ${light} fall`,
  fall: (name: string, length: number) => `${name}, ${metres(length)} on`,
  apart: 'from the middle of this region',
  fallsSource:
    'computed: from the middle of each object, away from the light; what hides the place from the camera is not asked',
  between: 'What stands between',
  betweenColumns: ['object', 'light', 'rays stopped', 'rays that pass', 'why'],
  why: { flag: 'casts no shadows', clear: 'clear', hole: 'cut out by opacity', back: 'its back is not there', range: 'outside of the shadow range' } satisfies Record<PassReason, string>, // prettier-ignore
  fill: 'Light of this region by group',
  fillSource: 'measured in the layers of the groups',
  softEdges: 'Soft edges, by the size of the light',
  softSource: (rays: number, limit: number) =>
    `computed by similar triangles; noise in the middle of the edge with ${rays} random rays to the light (pixel samples times light samples), taken from renders with and without the shadow, below which evenly spread rays stay; light samples that would leave ${inL(limit)}`,
  softColumns: ['light and its size', 'soft edge', 'on the picture', 'noise', 'light samples'],
  checks: 'Checks of the shadow',
  cures: 'The region with each remedy',
  curesTable: 'What each remedy changes',
  withoutShadow: (light: string) => `${light} without its shadows`,
  share: finePercent,
};

const WHY: Record<Exclude<PassReason, 'range'>, string> = {
  flag: 'and is set to cast no shadows',
  clear: 'and shadow rays pass it, because it is clear',
  hole: 'and is cut out there by its opacity',
  back: 'with its back to it, and its back is not there: it is single-sided',
};

const CASTER_WHY: Record<PassReason, string> = {
  flag: 'is set to cast no shadows',
  clear: 'is clear, and shadow rays pass it',
  hole: 'is cut out there by its opacity',
  back: 'turns its back to it, and is single-sided',
  range: 'stands outside of the shadow range of the light',
};

const span = (from: number, to: number) => (to < 1.2 * from ? metres(to) : `${metres(from)} to ${metres(to)}`);
function rangeWords({ shadowFrom, shadowTo }: Pick<Light, 'shadowFrom' | 'shadowTo'>): string {
  if (shadowTo === 0) return `farther than ${metres(shadowFrom)}`;
  return shadowFrom === 0 ? `nearer than ${metres(shadowTo)}` : `${metres(shadowFrom)} to ${metres(shadowTo)} away`;
}
