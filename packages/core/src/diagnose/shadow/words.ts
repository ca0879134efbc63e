// All wording of the shadow diagnosis.
import { finePercent, formatNumber, inL, percent } from '../units.ts';
import type { ChainEnd, PassReason } from './lightChain.ts';

const metres = (v: number) => (v < 0.1 ? formatNumber(v, 'm') : `${Number(v.toPrecision(3))} m`);

export const words = {
  needsScene: 'the shadow diagnosis needs the scene: these are frames without one',
  outside: 'the region lies outside the picture',
  asking: 'Asking each light what stands in its way',
  nothingSeen: 'No pixel of this region shows a surface.',
  noLights: 'The shot has no lights: its environment and glowing surfaces throw soft shadows only.',

  open: (light: string) => `Nothing stands between this region and ${light}: its shadows fall elsewhere.`,
  shadow: (light: string, share: number, by: string, contrast: number | null) =>
    `${by} throws a shadow of ${light} on ${percent(share)} of this region${contrast === null ? '' : `, ${inL(contrast)} deep`}.`,
  passes: (name: string, light: string, share: number, reason: PassReason) =>
    `${name} stands between ${light} and ${percent(share)} of this region, ${WHY[reason]}.`,
  lightWithout: (light: string, share: number) =>
    `${light} is set to cast no shadows; something stands in its way for ${percent(share)} of this region.`,
  placeWithout: (name: string, share: number) =>
    `${name} is set to receive no shadows; ${percent(share)} of this region would be in one.`,
  tinted: (light: string, color: readonly number[]) =>
    `The shadow color of ${light} is ${color.map((c) => Number(c.toFixed(2))).join(', ')}: its shadows let that share of its light through.`,
  notLinked: (light: string, name: string) =>
    `${light} is not linked to ${name}: it brings no light here, and no shadow.`,
  beyondReach: (light: string, reach: number, farthest: number) =>
    `${light} reaches ${metres(reach)}, and this region lies up to ${metres(farthest)} away: no light of it, and no shadow.`,
  soft: (light: string, width: number, size: number, depth: number) =>
    `${light} makes a soft edge of ${metres(width)}, and what throws the shadow measures ${metres(size)}: on average ${percent(depth)} of its light is stopped, and no core of the shadow is left.`,
  filled: (light: string, contrast: number, fill: string | null) =>
    `The shadow of ${light} is only ${inL(contrast)} deep here${fill === null ? '' : `: ${fill} fills it`}.`,
  facesAway: (light: string, share: number) => `${percent(share)} of this region faces away from ${light}: that is its dark side, and no shadow.`, // prettier-ignore
  nothing: 'Nothing was found that keeps a shadow away here.',

  cause: {
    flag: (name: string) => `${name} casts no shadows`,
    clear: (name: string) => `Shadow rays pass ${name}, which is clear`,
    hole: (name: string) => `${name} is cut out by its opacity`,
    back: (name: string) => `${name} is single-sided, and turns its back to this place`,
    lightWithout: (light: string) => `${light} casts no shadows`,
    placeWithout: (name: string) => `${name} receives no shadows`,
    tinted: (light: string) => `A shadow color that lets ${light} through`,
    notLinked: (light: string) => `${light} is not linked to what is seen here`,
    beyondReach: (light: string) => `${light} does not reach this far`,
    soft: (light: string) => `${light} is too large for a shadow of this size`,
    filled: (light: string) => `Other light fills the shadow of ${light}`,
  },
  remedy: {
    castAgain: (name: string) => `Let ${name} cast shadows`,
    receive: (name: string) => `Let ${name} receive shadows`,
    solidGlass: 'Let glass stop shadow rays',
    bothSides: (name: string) => `Show both sides of ${name}`,
    blackShadow: (light: string) => `Set the shadow color of ${light} to black`,
    link: (light: string) => `Link ${light} to what is seen here`,
    reach: (light: string, to: number) => `Set the reach of ${light} to ${metres(to)}`,
    smaller: (light: string) => `Make ${light} a quarter of its size`,
    lessOf: (fill: string) => `Lower ${fill} by 2 EV`,
    brighter: (light: string) => `Raise ${light} by 1 EV`,
  },
  side: {
    everywhere: 'Its shadows fall on everything else as well.',
    light: 'All shadows of this light change.',
    glass: 'Glass throws solid shadows; light comes through it as caustics alone.',
    linked: 'Its light comes with its shadow.',
    sharper: 'All its shadows and highlights grow sharper; the light stays as strong.',
    brighter: 'All that it lights grows brighter.',
    darker: 'All that it lights grows darker.',
    back: 'Its back is seen by the camera as well.',
  },

  lights: 'Each light, and what becomes of it here',
  lightColumns: ['light', 'answer', 'region', 'stopped by', 'soft edge'],
  stopped: (answer: string, depth: number) => `${answer}, ${percent(depth)} stopped`,
  ends: {
    off: 'off',
    notLinked: 'not linked',
    beyondReach: 'beyond its reach',
    outsideCone: 'outside of its cone',
    facesAway: 'faces away',
    open: 'lit, nothing between',
    lightWithout: 'casts no shadows',
    placeWithout: 'receives no shadows',
    passed: 'passes what stands between',
    tinted: 'shadow with a color',
    shadow: 'shadow',
  } satisfies Record<ChainEnd, string>,
  chainSource: (places: number) =>
    `computed: rays from ${places} places of this region to each light, nine for a light with a size`,
  between: 'What stands between',
  betweenColumns: ['object', 'light', 'rays stopped', 'rays that pass', 'why'],
  why: { flag: 'casts no shadows', clear: 'clear', hole: 'cut out by opacity', back: 'its back is not there' } satisfies Record<PassReason, string>, // prettier-ignore
  fill: 'Light of this region by group',
  fillSource: 'measured in the layers of the groups',
  checks: 'Checks of the shadow',
  cures: 'The region with each remedy',
  curesTable: 'What each remedy changes',
  withoutShadow: (light: string) => `${light} without its shadows`,
  share: finePercent,
};

const WHY: Record<PassReason, string> = {
  flag: 'and is set to cast no shadows',
  clear: 'and shadow rays pass it, because it is clear',
  hole: 'and is cut out there by its opacity',
  back: 'with its back to it, and its back is not there: it is single-sided',
};
