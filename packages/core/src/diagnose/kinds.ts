/** Kinds of defect that a user can point at. */
export const DEFECT_KINDS = [
  'noise',
  'fireflies',
  'glass',
  'occlusion',
  'displacement',
  'shadow',
  'drift',
  'other',
] as const;
export type DefectKind = (typeof DEFECT_KINDS)[number];
