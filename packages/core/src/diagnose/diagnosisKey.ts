import type { Region } from '../image/index.ts';
import type { Diagnosis, DiagnosisModule } from './contract.ts';
import type { DefectKind } from './kinds.ts';
import { inL } from './units.ts';

/** What a stored diagnosis was made from. */
export interface DiagnosisKey {
  kind: DefectKind;
  /** Of the module. */
  version: number;
  proof: number;
  region: Region;
  /** Object that the user expects to be at work. */
  expected: string | null;
  noise: { limit: number; stops: number };
  /** Of the shot, which the remedies are changes of. */
  revision: number;
}

/**
 * What can be shown of a stored answer: evidence of another version of its module may be of another shape, and goes until it is
 * explained again.
 */
export function stillShown<T extends Pick<Diagnosis, 'causes' | 'evidence'>>(
  result: T,
  then: DiagnosisKey,
  now: DiagnosisKey,
): T {
  if (then.version === now.version) return result;
  return { ...result, evidence: [], causes: result.causes.map((cause) => ({ ...cause, evidence: [] })) };
}

/** What has changed since, in words; none where the answer would be the same. */
export function changedSince(then: DiagnosisKey, now: DiagnosisKey, { asks, requires }: DiagnosisModule): string[] {
  const changes: string[] = [];
  if (then.version !== now.version) changes.push('the diagnosis itself was improved');
  if (then.proof !== now.proof) changes.push('it was made on another proof');
  if (JSON.stringify(then.region) !== JSON.stringify(now.region)) changes.push('the region of the defect was changed');
  if (asks && then.expected !== now.expected) changes.push('another object is named');
  if (requires.limit && then.noise.limit !== now.noise.limit)
    changes.push(`the noise limit was ${inL(then.noise.limit)} and is ${inL(now.noise.limit)}`);
  if (requires.limit && then.noise.stops !== now.noise.stops)
    changes.push(`the shadow check was +${then.noise.stops} stops and is +${now.noise.stops}`);
  if (then.revision !== now.revision)
    changes.push(`the shot was at revision ${then.revision} and is at ${now.revision}`);
  return changes;
}
