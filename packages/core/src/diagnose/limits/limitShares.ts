import { cutShare, LIMITS, type Limit } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { CLAMP_KINDS } from './clampLimits.ts';
import type { Reference } from '../reference.ts';
import type { RegionCuts } from './regionCuts.ts';

/** What one of the limits cuts off. */
export interface LimitShare {
  limit: Limit;
  /** Of all light that limits cut off, and of the light that would be there. */
  share: number;
  cut: number;
}

/** The worst first. */
export function sharesOf(cuts: RegionCuts): LimitShare[] {
  const all = LIMITS.reduce((sum, limit) => sum + cuts.cutOff[limit], 0);
  return LIMITS.map((limit) => ({
    limit,
    share: all > 0 ? cuts.cutOff[limit] / all : 0,
    cut: cuts.cutOff[limit] / (cuts.meanLuminance + all || 1),
  })).sort((a, b) => b.share - a.share);
}

/** Of all limits together: of the light that would be there. */
export const allShare = ({ cutOff, meanLuminance }: RegionCuts) =>
  cutShare({ meanLuminance, cutOff: { ...cutOff, total: LIMITS.reduce((sum, limit) => sum + cutOff[limit], 0) } }, 'total'); // prettier-ignore

/** The settings of a limit; of the clamps those that are set. */
export function referencesOf(limit: Limit, { clamp }: Pick<RenderSettings, 'clamp'>): Reference[] {
  const kinds = CLAMP_KINDS.filter((kind) => clamp[kind] > 0);
  const paths = limit === 'clamp' ? (kinds.length > 0 ? kinds : CLAMP_KINDS.slice(0, 2)).map((kind) => `clamp.${kind}`) : [`depth.${limit}`]; // prettier-ignore
  return paths.map((path) => ({ type: 'setting', path }));
}
