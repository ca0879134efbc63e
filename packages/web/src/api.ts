import { ref } from 'vue';
import type { Harmless, LayerMapping, LogPattern, SourceLayer, SumCheck } from '@dusting/core/frames';
import type { Component, CostLayer, CostShare } from '@dusting/core/render';
import type { DefectKind, Measured } from '@dusting/core/diagnose';
import type { Differences, Region } from '@dusting/core/image';
import type { SamplingPlan } from '@dusting/core/plan';
import type { PreviewReport, PreviewWish } from '@dusting/preview';
import type { Patch, SettingsUse, ShotDocument } from '@dusting/core/scene';
import type {
  Comparison,
  Defect,
  DefectState,
  DiagnosisView,
  ExpectedTime,
  LayerPicture,
  LookShare,
  Pixel,
  PlanWish,
  Prediction,
  Proof,
  ProofRow,
  RegionReading,
  Shot,
  ShotRow,
  Sweep,
  TakenPicture,
  Unsupported,
} from '@dusting/server/answers';

export type * from '@dusting/server/answers';
export type { Component };

/** A refusal of the server, in its words. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** Names this window in what it changes. Pages that came over plain http from another machine have no randomUUID. */
export const WINDOW = `w${[...crypto.getRandomValues(new Uint32Array(4))].map((n) => n.toString(36)).join('')}`;

/** Whether the server has asked for the access token. */
export const tokenAsked = ref(false);

const AWAY = 'The server does not answer. It is asked again by itself; nothing is lost.';

async function request(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<Response> {
  const form = body instanceof FormData;
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: { 'x-window': WINDOW, ...(body && !form ? { 'content-type': 'application/json' } : {}) },
      body: body === undefined ? undefined : form ? body : JSON.stringify(body),
      signal,
    });
  } catch {
    if (signal?.aborted) throw new Problem(0, 'Cancelled.');
    throw new Problem(0, AWAY);
  }
  return refused(response);
}

/** @throws Problem where the server has refused */
async function refused(response: Response): Promise<Response> {
  if (!response.ok) {
    if (response.status === 401) tokenAsked.value = true;
    const problem = await response.json().catch(() => ({}));
    throw new Problem(response.status, problem.detail ?? `The server answered ${response.status}.`);
  }
  return response;
}
/** Sends files, and says how much of them has arrived: fetch says nothing of that. */
function send(path: string, form: FormData, signal: AbortSignal, onSent: (sent: number, all: number) => void) {
  const sending = new XMLHttpRequest();
  return new Promise<Response>((resolve, reject) => {
    sending.open('POST', `/api${path}`);
    sending.setRequestHeader('x-window', WINDOW);
    sending.upload.onprogress = ({ loaded, total }) => onSent(loaded, total);
    sending.onload = () => resolve(refused(new Response(sending.responseText, { status: sending.status })));
    sending.onerror = () => reject(new Problem(0, AWAY));
    sending.onabort = () => reject(new Problem(0, 'Cancelled.'));
    signal.addEventListener('abort', () => sending.abort(), { once: true });
    sending.send(form);
  });
}
const json = async <T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> =>
  (await request(method, path, body, signal)).json();

/** null where there is none yet. */
async function pictureIfAny(path: string): Promise<LayerPicture | null> {
  const response = await request('GET', path);
  if (response.status === 204) return null;
  const { width, height, channels } = JSON.parse(response.headers.get('x-picture')!);
  return { width, height, channels, halves: new Uint16Array(await response.arrayBuffer()) };
}
const picture = async (path: string) => (await pictureIfAny(path))!;

const regionQuery = (r: Region) => `x=${r.x}&y=${r.y}&width=${r.width}&height=${r.height}`;

export const api = {
  openSession: (token: string) => request('POST', '/session', { token }),
  closeSession: () => request('DELETE', '/session'),
  /** Whether the server is one that asks for a token. */
  isShared: async () => (await json<{ shared: boolean }>('GET', '/health')).shared,
  shots: () => json<ShotRow[]>('GET', '/shots'),
  addShot: async (files: File[], name: string, signal: AbortSignal, onSent: (sent: number, all: number) => void) => {
    const form = new FormData();
    for (const file of files) form.append('files', file);
    form.append('name', name);
    return (await (await send('/shots', form, signal, onSent)).json()) as { id: number; unsupported: Unsupported[] };
  },
  addFrames: (shot: number, files: File[]) => {
    const form = new FormData();
    for (const file of files) form.append('files', file);
    return json<{ frames: number }>('POST', `/shots/${shot}/frames`, form);
  },
  /** @param was what the layers were taken for; notes have theirs as well */
  saveMapping: (shot: number, mapping: LayerMapping, was: LayerMapping) =>
    json('PUT', `/shots/${shot}/mapping`, { mapping, was }),
  sources: (proof: number) => json<{ layers: SourceLayer[]; sum: SumCheck | null }>('GET', `/proofs/${proof}/sources`),
  shot: (id: number) => json<Shot>('GET', `/shots/${id}`),
  expected: (shot: number) => json<Record<SettingsUse, ExpectedTime | null>>('GET', `/shots/${shot}/expected`),
  /** @param edits how many edits of the shot this window knows */
  saveSlip: (shot: number, patch: Patch, edits: number) =>
    json<{ edits: number }>('PUT', `/shots/${shot}/slip`, { patch, edits }),
  keepSlip: (shot: number, reason: string, edits: number) =>
    json<{ revision: number }>('POST', `/shots/${shot}/revisions`, { reason, edits }),
  revision: (shot: number, revision: number) => json<ShotDocument>('GET', `/shots/${shot}/revisions/${revision}`),
  noteRevision: (shot: number, revision: number, note: string, was: string) =>
    json('PATCH', `/shots/${shot}/revisions/${revision}`, { note, was }),
  changes: (shot: number, from: number, to: number) =>
    json<string[]>('GET', `/shots/${shot}/changes?from=${from}&to=${to}`),
  outdated: (shot: number) => json<{ proof: number; changes: string[] }[]>('GET', `/shots/${shot}/outdated`),
  addHarmless: (shot: number, message: Harmless & { house: boolean }) =>
    json<{ id: number }>('POST', `/shots/${shot}/harmless`, message),
  addLogPattern: (shot: number, pattern: LogPattern) =>
    json<{ id: number }>('POST', `/shots/${shot}/log-patterns`, pattern),
  removeLogPattern: (shot: number, id: number) => request('DELETE', `/shots/${shot}/log-patterns/${id}`),
  removeHarmless: (shot: number, id: number) => request('DELETE', `/shots/${shot}/harmless/${id}`),
  showPreview: (shot: number, body: { number: number; revision: number; wish: PreviewWish }) =>
    json('PUT', `/shots/${shot}/preview`, body),
  lookAtPreview: (shot: number, interest: Region | null) =>
    json('PUT', `/shots/${shot}/preview/interest`, { interest }),
  pausePreview: (shot: number, on: boolean) => json('PUT', `/shots/${shot}/preview/pause`, { on }),
  endPreview: (shot: number) => request('DELETE', `/shots/${shot}/preview`),
  /** The next picture after one, or why there is none; null if it takes long. */
  nextPreview: async (shot: number, after: number) => {
    const response = await request('GET', `/shots/${shot}/preview/picture?after=${after}`);
    if (response.status === 204) return null;
    const header = response.headers.get('x-preview');
    if (!header) return (await response.json()) as { serial: number; wish: number; fault: string };
    const { serial, width, height, ...report } = JSON.parse(decodeURIComponent(header));
    const bytes = await response.arrayBuffer();
    const pixels = width * height;
    const picture = { width, height, objects: new Uint32Array(bytes, 0, pixels), surfaces: new Uint32Array(bytes, pixels * 4, pixels), halves: new Uint16Array(bytes, pixels * 8) }; // prettier-ignore
    return { serial: serial as number, report: { ...report, picture } as PreviewReport };
  },
  takePicture: (file: File) => {
    const form = new FormData();
    form.append('files', file);
    return json<TakenPicture>('POST', '/pictures', form);
  },
  predict: (shot: number, use: SettingsUse, proof: number, region: Region | null) =>
    json<Prediction>('POST', `/shots/${shot}/prediction`, { use, proof, region }),
  sweep: (shot: number, wish: Pick<Sweep, 'use' | 'axes'> & { region: Region | null }) =>
    json<{ id: number }>('POST', `/shots/${shot}/sweeps`, wish),
  cancelSweep: (sweep: number) => json('POST', `/sweeps/${sweep}/cancel`),
  /** How far the trials are from the one that they are held against: mean CIEDE2000 as displayed. */
  sweepApart: (id: number) =>
    json<{ reference: number | null; apart: { proof: number; deltaE: number }[] }>('GET', `/sweeps/${id}/apart`),
  removeSweep: (sweep: number) => json<{ freed: number }>('DELETE', `/sweeps/${sweep}`),
  plan: (shot: number, wish: PlanWish) =>
    json<{ plan: SamplingPlan; pilot: number }>('POST', `/shots/${shot}/plan`, wish),
  revert: (shot: number, revision: number, edits: number) => json('POST', `/shots/${shot}/revert`, { revision, edits }),
  render: (
    shot: number,
    body: Pick<Proof, 'kind' | 'use'> & { purpose?: 'pilot' } & {
      region: Region | null;
      before?: number;
      predicted?: NonNullable<Proof['predicted']>;
    },
  ) => json<ProofRow>('POST', `/shots/${shot}/proofs`, body),
  removeShot: (shot: number) => json<{ freed: number }>('DELETE', `/shots/${shot}`),
  changeProof: (proof: number, change: Partial<Pick<Proof, 'note' | 'pinned'>> & { was?: string }) =>
    json('PATCH', `/proofs/${proof}`, change),
  setReference: (shot: number, proof: number | null) => json('PUT', `/shots/${shot}/reference`, { proof }),
  apart: (shot: number) => json<(Differences & { proof: number })[]>('GET', `/shots/${shot}/apart`),
  removeProof: (proof: number) => json<{ freed: number }>('DELETE', `/proofs/${proof}`),
  cancel: (proof: number) => json('POST', `/proofs/${proof}/cancel`),
  decide: (proof: number, keep: boolean, reason: string, edits: number) =>
    json('POST', `/proofs/${proof}/decision`, { keep, reason, edits }),
  undecide: async (proof: number) => void (await request('DELETE', `/proofs/${proof}/decision`)),
  progressPicture: (proof: number) => pictureIfAny(`/proofs/${proof}/picture`),
  thumb: (proof: number) => picture(`/proofs/${proof}/thumb`),
  layers: (proof: number) => json<{ name: string; channels: string[] }[]>('GET', `/proofs/${proof}/layers`),
  layer: (proof: number, layer: string) => picture(`/proofs/${proof}/layers/${encodeURIComponent(layer)}`),
  lookShare: async (proof: number) => (await json<LookShare>('GET', `/proofs/${proof}/look-share`)).share,
  cost: (proof: number, layer: CostLayer) => json<CostShare>('GET', `/proofs/${proof}/cost/${layer}`),
  pixel: (proof: number, x: number, y: number) => json<Pixel>('GET', `/proofs/${proof}/pixel?x=${x}&y=${y}`),
  region: (proof: number, region: Region) =>
    json<RegionReading>('GET', `/proofs/${proof}/region?${regionQuery(region)}`),
  compare: (before: number, after: number, layer: string, region: Region) =>
    json<Comparison>(
      'GET',
      `/compare?before=${before}&after=${after}&layer=${encodeURIComponent(layer)}&${regionQuery(region)}`,
    ),
  differenceMap: (kind: 'deltaE' | 'similarity', before: number, after: number, layer: string) =>
    picture(`/compare/map/${kind}?before=${before}&after=${after}&layer=${encodeURIComponent(layer)}`),
  addDefect: (shot: number, kind: DefectKind, region: Region, proof: number) =>
    json<Defect>('POST', `/shots/${shot}/defects`, { kind, region, proof }),
  changeDefect: (defect: number, change: { state?: DefectState; expected?: string | null; removed?: boolean }) =>
    json<Defect>('PATCH', `/defects/${defect}`, change),
  diagnose: (defect: number, proof: number, again: boolean) =>
    json<DiagnosisView>('POST', `/defects/${defect}/diagnosis`, { proof, again }),
  diagnosisOf: (defect: number, proof: number) =>
    json<DiagnosisView | null>('GET', `/defects/${defect}/diagnosis?proof=${proof}`),
  cancelDiagnosis: (diagnosis: number) => json('POST', `/diagnoses/${diagnosis}/cancel`),
  measured: (diagnosis: number, proof: number) =>
    json<Measured>('GET', `/diagnoses/${diagnosis}/measured?proof=${proof}`),
};
