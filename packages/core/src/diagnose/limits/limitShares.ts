import { cutShare, LIMITS, type Limit } from '../../render/index.ts';
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

/** The settings of a limit. */
export const referencesOf = (limit: Limit): Reference[] =>
  (limit === 'clamp' ? CLAMP_KINDS.map((kind) => `clamp.${kind}`) : [`depth.${limit}`]).map((path) => ({ type: 'setting', path })); // prettier-ignore
