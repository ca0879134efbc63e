// All wording of the diagnosis of light that limits cut off.
import type { Limit } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { finePercent, plainNumber } from '../units.ts';
import { LIMIT_NAMES, limitWithValue } from '../limits/words.ts';
import type { DepthKind } from '../limits/depthLimits.ts';

export const words = {
  nothing: (share: number) =>
    `No limit takes visible light away here: depth limits and clamps cut off ${finePercent(share)} of the light of this region (measured by probes).`,
  cut: (share: number, leading: string, ofIt: number) =>
    `Limits cut off ${finePercent(share)} of the light of this region (measured by probes), ${finePercent(ofIt)} of that by the ${leading}.`,
  beyond: (share: number, depth: number) =>
    `${finePercent(share)} of the light needs more than ${depth} events and was not followed.`,
  noScene:
    'To see which limits would be enough, diagnose the scene itself: the picture alone says only what is missing.',
  noLayers: 'this picture does not say what its limits cut off (no layers "cut"): render a proof of the shot, and diagnose that', // prettier-ignore
  cause: (limit: Limit, settings: RenderSettings) => `Light cut off by the ${limitWithValue(limit, settings)}`,
  curves: 'Light that is lost at each depth limit',
  curvesSource: (depth: number, samples: number) =>
    `computed from a render of the region with open limits (${depth} events, ${samples} pixel samples): each limit by itself, the others open`,
  depthAxis: 'depth limit',
  lostAxis: 'light lost',
  clamps: 'Light that is lost at each clamp',
  clampsSource: 'computed from the same render without clamps: each clamp by itself',
  clampAxis: 'clamp, luminance of a sample',
  map: 'Share of the light that is cut off, by tile and leading limit',
  mapSource: 'measured: probes, one in eight of the paths that a limit stops goes on',
  table: 'What each limit cuts off here',
  tableColumns: ['limit', 'set to', 'light cut off', 'light beyond it'],
  tableSource: 'cut off: measured by probes, blamed on the total depth where both are met; beyond it: computed with all other limits open', // prettier-ignore
  pixels: 'Pixels that lose most light',
  pixelsSource: 'measured: luminance that probes found beyond the limits',
  pixelsValue: 'luminance cut off',
  paths: 'A path that a limit stopped',
  pathsSource: 'replayed: the sample of the darkest pixels that lost most light among the first 64',
  path: (x: number, y: number, sample: number, luminance: number) =>
    `pixel (${x}, ${y}), sample ${sample}: ${plainNumber(luminance)} of luminance cut off`,
  pictures: 'The region as it is, and with open limits',
  picturesSource: 'rendered: both at the settings of the proof but for limits, clamps and pixel samples',
  now: 'as it is',
  open: 'open limits',
  checks: 'Checks of the limits',
  checksSource: 'computed from the settings and the probes',
  checkOrder: (kind: DepthKind, value: number, total: number) =>
    value > total
      ? `The ${LIMIT_NAMES[kind]} of ${value} can take effect (it cannot: the total depth is ${total})`
      : `The ${LIMIT_NAMES[kind]} of ${value} can take effect`,
  checkCut: (limit: Limit, settings: RenderSettings, share: number) =>
    `The ${limitWithValue(limit, settings)} cuts off less than 1 % here (${finePercent(share)})`,
  clamp: (kind: string, from: number, to: number) =>
    `Raise the ${kind} clamp from ${plainNumber(from)} to ${plainNumber(to)}`,
  brighter: 'Bright samples count in full again, and may bring fireflies: run a trial to see them.',
};
