import type { Effect } from '../remedy.ts';
import type { Estimate } from '../units.ts';
import type { RegionCuts } from './regionCuts.ts';

/** @param won luminance of a sample that comes back */
export const brighter = ({ meanLuminance: now }: RegionCuts, won: Estimate): Effect => ({ measure: 'luminance', now, target: null, value: now + won.value, low: now + won.low, high: now + won.high }); // prettier-ignore
