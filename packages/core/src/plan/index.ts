export * from './predictChange.ts';
export * from './mixChange.ts';
export * from './samplingModel.ts';
export * from './samplingPlan.ts';
export * from './bestCounts.ts';
export { foretell, type Rendered } from './foretell.ts';
export * from './pilot.ts';
export { planWords, KIND_NAMES } from './planWords.ts';
export { costRates } from './costRates.ts';
