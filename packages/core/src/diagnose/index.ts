import { cutOffModule } from './cutOff/index.ts';
import { driftModule } from './drift/index.ts';
import { displacementModule } from './displacement/index.ts';
import { firefliesModule } from './fireflies/index.ts';
import { glassModule } from './glass/index.ts';
import { occlusionModule } from './occlusion/index.ts';
import { noiseModule } from './noise/index.ts';
import { shadowModule } from './shadow/index.ts';
import type { DiagnosisModule } from './contract.ts';
import type { DefectKind } from './kinds.ts';

export * from './kinds.ts';
export * from './units.ts';
export * from './evidence.ts';
export { fromBase64 } from './packPicture.ts';
export * from './evidenceText.ts';
export * from './evidenceCsv.ts';
export * from './remedy.ts';
export * from './contract.ts';
export * from './finding.ts';
export * from './reference.ts';
export * from './explain.ts';
export * from './diagnosisKey.ts';
export * from './renderPurposes.ts';
export * from './limits/regionCuts.ts';
export * from './importFindings.ts';
export { limitNotes } from './limits/limitNotes.ts';
export * from './proofFindings.ts';
export { LIMIT_NAMES } from './limits/words.ts';
export * from './noise/index.ts';
export * from './fireflies/index.ts';
export * from './glass/index.ts';
export * from './occlusion/index.ts';
export * from './shadow/index.ts';

/** Every diagnosis that exists. A kind of defect without one can be marked, but not yet explained. */
export const DIAGNOSES: Partial<Record<DefectKind, DiagnosisModule>> = {
  noise: noiseModule,
  fireflies: firefliesModule,
  glass: glassModule,
  occlusion: occlusionModule,
  shadow: shadowModule,
  displacement: displacementModule,
  drift: driftModule,
  other: cutOffModule,
};
