// What the server answers, written once: the routes are checked against it, and the page imports the types of it.
import type {
  DefectKind,
  DiagnosisState,
  Estimate,
  Explanation,
  RenderKind,
  RenderPurpose,
} from '@dusting/core/diagnose';
import type { Unsupported } from '@dusting/core/formats';
import type { Harmless, LayerMapping, LogPattern } from '@dusting/core/frames';
import type { Differences, Region } from '@dusting/core/image';
import type { CountBounds, RayBudgetRow, SweepAxis } from '@dusting/core/plan';
import type { Limit, RenderStatistics, SceneMemory } from '@dusting/core/render';
import type { Change, Patch, RenderSettings, SettingsUse, ShotDocument } from '@dusting/core/scene';

export type ProofState = 'queued' | 'rendering' | 'merging' | 'done' | 'cancelled' | 'failed';
export interface Proof {
  id: number;
  shot: number;
  number: number;
  kind: RenderKind;
  /** Of a diagnostic render. */
  purpose: RenderPurpose | null;
  revision: number;
  patch: Patch;
  before: number | null;
  use: SettingsUse;
  settings: RenderSettings;
  region: Region;
  state: ProofState;
  /** Share of the samples that are rendered, 0..1. */
  progress: number;
  error: string | null;
  predicted: { seconds: number | null; noise: number | null } | null;
  decision: 'kept' | 'dropped' | null;
  reason: string | null;
  log: { at: string; level: 'note' | 'warning' | 'error'; text: string }[];
  statistics: RenderStatistics | null;
  /** Of what was rendered here. */
  memory: SceneMemory | null;
  noise: number | null;
  seconds: number | null;
  /** Number of the frame, of a sequence that was brought in. */
  frame: number | null;
  note: string;
  pinned: boolean;
  createdAt: string;
  startedAt: string | null;
}
/** A proof where its progress is not counted. */
export type ProofRow = Omit<Proof, 'progress'>;

export type DefectState = 'open' | 'explained' | 'fixed' | 'accepted';
export interface Defect {
  id: number;
  number: number;
  kind: DefectKind;
  region: Region;
  frame: { width: number; height: number };
  state: DefectState;
  note: string;
  /** Id of the object that the user expects to be at work. */
  expected: string | null;
}
export interface Revision {
  number: number;
  /** Why it was made; may be empty. */
  reason: string;
  note: string;
  /** What it changed, in words. */
  changes: string[];
  createdAt: string;
}
/** A diagnosis that was asked for: how far it is, or what it found. */
export interface DiagnosisView {
  id: number;
  state: DiagnosisState;
  /** 0..1 */
  progress: number;
  stage: string;
  error: string | null;
  result: Explanation | null;
  /** What has changed since, in words. */
  outOfDate: string[];
}
/** A picture that was taken in for a texture or the environment. */
export interface TakenPicture {
  name: string;
  blob: string;
  width: number;
  height: number;
}
export interface Shot {
  id: number;
  name: string;
  revision: number;
  document: ShotDocument;
  slip: Patch;
  /** Counts the changes of slip and revision, and names the window that made the last one. */
  edits: number;
  editedBy: string;
  unsupported: Unsupported[];
  /** What the layers of its frames are, where it came as frames; null: it has a scene. */
  mapping: LayerMapping | null;
  /** Proof that the others are measured against. */
  reference: number | null;
  revisions: Revision[];
  /** Messages of logs that are harmless here, or in the house: then without a shot. */
  harmless: (Harmless & { id: number; shot: number | null })[];
  /** How the logs of the house speak. */
  logPatterns: (LogPattern & { id: number })[];
  defects: Defect[];
  proofs: Proof[];
  sweeps: Sweep[];
}
export interface ShotRow {
  id: number;
  name: string;
  revision: number;
  noise: { limit: number; stops: number };
  final: RenderSettings;
  /** It came as frames of another renderer, without a scene. */
  frames: boolean;
  lastProof: ProofRow | null;
  /** The newest render of it that is not finished. */
  underWay: ProofRow | null;
  proofs: number;
  defects: { kind: DefectKind; number: number; state: DefectState }[];
}

/** How much of a look without noise is made, 0..1; null where none is being made. */
export interface LookShare {
  share: number | null;
}

export interface LayerPicture {
  width: number;
  height: number;
  channels: string[];
  /** Half-precision floats, interleaved. */
  halves: Uint16Array;
}
export interface Pixel {
  layers: PixelReading[];
  /** What covers it, by kind of matte. */
  names: { kind: string; names: { name: string; share: number }[] }[];
}
export interface PixelReading {
  layer: string;
  values: number[];
  error: number | null;
}
export interface RegionReading {
  region: Region;
  mean: number[];
  /** null where the picture carries none. */
  statistics: RegionStatistics | null;
  /** Noise in L* estimated from the picture, where it carries no statistics. */
  estimated: Estimate | null;
}
export interface RegionStatistics {
  /** L* at the shadow check. */
  noise: number;
  seconds: number;
  /** Mean over the pixels of the variance of their mean luminance, and of their samples. */
  variance: number;
  samples: number;
  /** Share of that variance that the brightest sample of each pixel makes by itself, 0..1. */
  peakShare: number;
  brightest: { luminance: number; x: number; y: number };
  /** Mean luminance that each limit cut off. */
  cutOff: Record<Limit, number>;
}
export interface Prediction {
  seconds: Estimate;
  regionSeconds: Estimate;
  noise: Estimate | null;
  /** Bytes of the frame; null where the proof does not say. */
  memory: number | null;
  /** For a pixel. */
  rays: RayBudgetRow[];
  notes: string[];
  /** The pilot that it was predicted from, if one was. */
  pilot: number | null;
}
/** A row of trials over the values of a setting or two. */
export interface Sweep {
  id: number;
  use: SettingsUse;
  region: Region;
  axes: SweepAxis[];
  /** Those that are not cancelled. */
  trials: Proof[];
}
/** What a render is expected to take. */
export interface ExpectedTime {
  seconds: Estimate;
  /** Predicted from a proof of the shot, or judged by renders of other shots. */
  from: 'shot' | 'others';
}
export interface PlanWish {
  use: SettingsUse;
  region: Region | null;
  /** Of the tiles that are to hold the noise limit. */
  share: number;
  bounds: CountBounds;
}
export interface Comparison {
  region: Region;
  before: RegionReading;
  after: RegionReading;
  changes: Change[];
  /** null where the two share no pixel of the region. */
  differences: Differences | null;
}

export type { Unsupported };

/** On the event stream: how far what a window brings in is. */
export interface ImportNotice {
  window: string;
  stage: string;
}
