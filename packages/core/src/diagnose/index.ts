import { noiseModule } from './noise/index.ts';
import type { DefectKind, DiagnosisModule } from './contract.ts';

export * from './contract.ts';
export * from './finding.ts';
export { limitNotes } from './limitNotes.ts';
export * from './proofFindings.ts';
export * from './noise/index.ts';

/** Every diagnosis that exists. A kind of defect without one can be marked, but not yet explained. */
export const DIAGNOSES: Partial<Record<DefectKind, DiagnosisModule>> = { noise: noiseModule };
