// What a diagnosis is given, and what it gives back. Nothing here is about one kind of defect: a kind is a folder beside
// this file and a line in the registry (index.ts).
import type { MeshData } from '../formats/index.ts';
import type { Picture, Region } from '../image/index.ts';
import type { CompiledScene, FilmExtra, RenderStatistics } from '../render/index.ts';
import type { Patch, RenderSettings, SettingsUse, ShotDocument } from '../scene/index.ts';
import type { Evidence } from './evidence.ts';
import type { Finding } from './finding.ts';
import type { Reference } from './reference.ts';
import type { DefectKind } from './kinds.ts';
import type { Measured, Remedy } from './remedy.ts';

export interface Cause {
  /** The same for the same cause of another picture. */
  id: string;
  title: string;
  /** Of the defect, 0..1; null where it cannot be said. */
  share: number | null;
  about: Reference[];
  /** Ids of the evidence that it rests on. */
  evidence: string[];
}

export const DIAGNOSIS_STATES = ['running', 'done', 'failed', 'cancelled'] as const;
export type DiagnosisState = (typeof DIAGNOSIS_STATES)[number];

export interface Diagnosis {
  kind: DefectKind;
  region: Region;
  /** Sentences with numbers; each on a line of its own where they are many. */
  summary: string;
  /** Worst first. */
  causes: Cause[];
  evidence: Evidence[];
  /** Best first. */
  remedies: Remedy[];
  /** Numbers that scripts use directly. */
  measured: Record<string, number>;
}

/** A diagnosis with what else is wrong in its region. */
export interface Explanation extends Diagnosis {
  others: Finding[];
}

/** A render that a diagnosis asks for: of the shot with changes, for the region, with what a proof does not keep. */
export interface DiagnosticRender {
  /** What it is for, in a few words. */
  title: string;
  region: Region;
  /** Of the region, what is rendered, each within a band of it (`bandsOf`); the rest stays empty. Without them, all of it is. */
  parts?: Region[];
  /** On paths of the document, over what the proof shows. */
  patch: Patch;
  /** What is kept beside the film. */
  extras: FilmExtra[];
  /** Layers that are read of it; it holds no others. */
  layers: RegExp;
}
export interface RenderedRegion {
  picture: Picture;
  statistics: RenderStatistics;
  settings: RenderSettings;
  /** On the clock. */
  seconds: number;
}

/** The scene of a proof: there is none for frames of other renderers. */
export interface SceneAccess {
  document: ShotDocument;
  /** Ray queries and replays of single paths work on it. Compiled when it is first asked for. */
  compiled: () => Promise<CompiledScene>;
  /** A mesh of the document as it came. */
  mesh: (id: string) => Promise<MeshData>;
  render: (wish: DiagnosticRender) => Promise<RenderedRegion>;
}

/** What a diagnosis is given: one proof, the region to explain, and the scene where it asked for it. */
export interface DiagnosisContext {
  /** At least the layers that the module requires, as far as the picture has them. */
  picture: Picture;
  region: Region;
  /** Object of the document that the user expects to be at work; null where none was named. */
  expected: string | null;
  settings: RenderSettings;
  use: SettingsUse;
  noise: { limit: number; stops: number };
  /** What rendering the picture took, in seconds on the clock. */
  seconds: number;
  scene: SceneAccess | null;
  /** The frames just before and after the picture, of the same size, where it is one of a sequence. */
  neighbours: () => Promise<Picture[]>;
  /** Keeps data that are too large for an answer, and gives the name to get them by; null where nobody would look at them. */
  keep: ((bytes: Uint8Array) => Promise<string>) | null;
  /** @param share of the work that is done, 0..1 @param stage what is being done */
  report: (share: number, stage: string) => void;
  /** Whoever waits for something throws the signal's reason when it is aborted. */
  signal: AbortSignal;
  /** Long loops wait for it now and then, so that whoever cancels is heard. */
  pause: () => Promise<void>;
}

export interface DiagnosisModule {
  kind: DefectKind;
  title: string;
  /** Counts up when the same input gives another answer: stored ones are out of date then. */
  version: number;
  requires: {
    /** Layers of the proof that are read. */
    layers: RegExp;
    /** Whether the scene is needed, used where there is one, or not looked at. */
    scene: 'needed' | 'used' | 'unused';
    /** Whether the noise limit and the shadow check of the shot are read. */
    limit: boolean;
  };
  /** What is asked about an object that the user may name; null where none is looked at. */
  asks: string | null;
  /** @throws InputError where the picture cannot tell; the signal's reason where it was cancelled */
  diagnose: (context: DiagnosisContext) => Promise<Diagnosis>;
  /** What the measures of its remedies are on a picture, beside noise and time, which are known for every kind; `stops` of the shadow check. */
  measure: (picture: Picture, region: Region, stops: number) => Measured;
}
