import { proofFindings, type Finding } from '@dusting/core/diagnose';
import type { Proof } from '../api.ts';

/** Statistics never change once a proof is finished. */
const known = new WeakMap<object, Finding[]>();

/** What is to be said about a proof, worst first; nothing of one that was not rendered here. */
export function findingsOf({ settings, statistics }: Pick<Proof, 'settings' | 'statistics'>): Finding[] {
  if (!statistics) return [];
  const found = known.get(statistics) ?? proofFindings(statistics, settings);
  known.set(statistics, found);
  return found;
}

/** Whether the noise of a proof was measured: one sample of each pixel shows none. */
export const isMeasured = ({ settings, statistics }: Pick<Proof, 'settings' | 'statistics'>) =>
  !statistics || settings.pixelSamples > 1;
