// The shape that every kind of diagnosis shares, so that one interface draws them all.
import type { Picture, Region } from '../image/index.ts';
import type { Component } from '../render/index.ts';
import type { Patch, RenderSettings, SettingsUse } from '../scene/index.ts';

/** Kinds of defect that a user can point at. */
export const DEFECT_KINDS = ['noise', 'fireflies', 'glass', 'occlusion', 'displacement', 'shadow', 'other'] as const;
export type DefectKind = (typeof DEFECT_KINDS)[number];

export interface ChartEvidence {
  type: 'chart';
  title: string;
  unit: string;
  /** Where the numbers come from. */
  source: string;
  bars: { label: string; component: Component | null; value: number }[];
}
/** One value for each square tile of the region, row by row. */
export interface MapEvidence {
  type: 'map';
  title: string;
  unit: string;
  source: string;
  region: Region;
  tile: number;
  columns: number;
  rows: number;
  values: number[];
  /** Component with the largest share in each tile, as a place in `components`; -1 where there is no noise, or it is of none of the components. */
  leading: number[];
  components: Component[];
}
export interface TableEvidence {
  type: 'table';
  title: string;
  source: string;
  columns: string[];
  rows: string[][];
}
export type Evidence = ChartEvidence | MapEvidence | TableEvidence;

export interface Cause {
  title: string;
  component: Component | null;
  /** 0..1 */
  share: number;
  /** Places in `evidence`. */
  evidence: number[];
}

/** A value with the range in which it is expected. */
export interface Estimate {
  value: number;
  low: number;
  high: number;
}

export interface Remedy {
  id: string;
  title: string;
  patch: Patch;
  /** L* at the shadow check, over the region. */
  noise: Estimate;
  /** Seconds for the whole frame. */
  seconds: Estimate;
  meetsLimit: boolean;
  sideEffect: string;
}

export interface Diagnosis {
  kind: DefectKind;
  region: Region;
  summary: string;
  evidence: Evidence[];
  causes: Cause[];
  remedies: Remedy[];
  /** Numbers that the interface and scripts use directly. */
  measured: Record<string, number>;
}

/** What a diagnosis is given: one proof and the region to explain. */
export interface DiagnosisInput {
  picture: Picture;
  region: Region;
  settings: RenderSettings;
  use: SettingsUse;
  noiseLimit: number;
  stops: number;
  /** What rendering the picture took, in seconds on the clock. */
  seconds: number;
}

export interface DiagnosisModule {
  kind: DefectKind;
  title: string;
  /** Layers that the proof must hold, so that one render serves many diagnoses. */
  needs: string[];
  diagnose: (input: DiagnosisInput) => Diagnosis;
}
