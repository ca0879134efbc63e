import {
  countFireflies,
  FIREFLY_LAYERS,
  proofFindings,
  type Finding,
  type RenderedRegion,
} from '@dusting/core/diagnose';
import { InputError, scaledLimits, type Unsupported } from '@dusting/core/formats';
import { intersectRegions, type PackedPicture, type Region } from '@dusting/core/image';
import {
  checkRenderSize,
  compileBeside,
  compileScene,
  filmNames,
  frameOf,
  lensRecord,
  ProofBuilder,
  ProofFile,
  type Film,
  type FilmExtra,
  type CompiledScene,
  type CompileSource,
  type RenderStatistics,
} from '@dusting/core/render';
import {
  importShot,
  setPath,
  validateShot,
  type RenderSettings,
  type SettingsUse,
  type ShotDocument,
} from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { deflateApart, renderOnThreads, type RenderPool } from '@dusting/threads';
import { basename } from 'node:path';
import { readInput, readSceneFiles } from './files.ts';
import { parseSize, parseWhole } from './options.ts';
import { UsageError } from './usage.ts';

export interface SceneOptions {
  size?: string;
  camera?: string;
  set?: string[];
  settings?: string;
  map?: string;
  use?: string;
  seed?: string;
  threads?: string;
}

/** A scene that was imported and set, not yet rendered. */
export interface OpenScene {
  document: ShotDocument;
  use: SettingsUse;
  settings: RenderSettings;
  blobs: Map<string, { bytes: Uint8Array }>;
  unsupported: Unsupported[];
  threads: number | undefined;
  /** Threads that stay open between renders; without it each render has its own. */
  pool?: RenderPool;
  /** A scene that is the same but for some settings: what does not depend on them is taken over. */
  beside?: CompileSource & { scene: CompiledScene };
  seconds: number;
}

export interface RenderedScene extends Omit<RenderedRegion, 'picture'> {
  /** All of its layers; of one that became a file, those that were counted in. */
  picture: PackedPicture;
  /** Of one that became a file: its bytes, piece by piece and in their order. */
  pieces: Uint8Array[] | null;
  /** Of the rays. */
  seconds: number;
  /** From the last ray to what is here. */
  finishSeconds: number;
  compileSeconds: number;
  triangles: number;
  /** Worst first. */
  findings: Finding[];
}

/** @throws UsageError */
function importScale(): number {
  const { DUSTING_IMPORT_SCALE: given = '1' } = process.env;
  if (!(Number(given) > 0)) throw new UsageError(`DUSTING_IMPORT_SCALE takes a number above 0, not "${given}"`);
  return Number(given);
}

/** Imports a scene and applies the options. @throws InputError, UsageError */
export async function openScene(scene: string, options: SceneOptions): Promise<OpenScene> {
  const use = options.use ?? 'final';
  if (use !== 'preview' && use !== 'final') throw new UsageError(`--use takes preview or final, not "${use}"`);
  const threads = options.threads === undefined ? undefined : parseWhole(options.threads, '--threads', 1);
  const edits = (options.set ?? []).map(parseEdit);
  const size = options.size === undefined ? null : parseSize(options.size);
  const seed = options.seed === undefined ? null : parseWhole(options.seed, '--seed', 0);

  const started = performance.now();
  const files = readSceneFiles(scene, options.settings);
  if (options.map !== undefined) files.push({ name: basename(options.map), bytes: readInput(options.map) });
  const imported = await importShot(files, undefined, scaledLimits(importScale()));
  let { document } = imported;
  if (size) document = { ...document, [use]: { ...document[use], ...size } };
  if (seed !== null) document = setPath(document, `${use}.seed`, seed);
  for (const { path, value } of edits) document = setPath(document, path, value);
  if (options.camera !== undefined) document = { ...document, camera: findCamera(document, options.camera) };
  document = validateShot(document, 'settings');
  const { blobs, unsupported } = imported;
  const seconds = (performance.now() - started) / 1000;
  return { document, use, settings: document[use], blobs, unsupported, threads, seconds };
}

export function compileOpen({
  beside,
  blobs,
  document,
  settings,
}: Pick<OpenScene, 'beside' | 'blobs' | 'document' | 'settings'>): CompiledScene {
  // prettier-ignore
  const read = (id: string) => blobs.get(id)!.bytes;
  if (beside) return compileBeside(beside.scene, beside, { document, settings }, read, sharedBuffer);
  return compileScene(document, settings, read, sharedBuffer);
}

/** Renders a region of a scene, or its frame, on worker threads. */
export async function renderScene(
  scene: OpenScene,
  region: Region | null,
  { asFile = false, extras = [], layers, parts }: { asFile?: boolean; extras?: readonly FilmExtra[]; layers?: RegExp; parts?: Region[] } = {}, // prettier-ignore
): Promise<RenderedScene> {
  const { document, pool, settings, threads, use } = scene;
  const frame = frameOf(settings);
  const inside = region && intersectRegions(region, frame);
  if (region && (inside?.width !== region.width || inside.height !== region.height))
    throw new InputError(
      `the region reaches outside the frame of ${settings.width} x ${settings.height} pixels`,
      '--region',
    );
  checkRenderSize(region ?? frame);
  const started = performance.now();
  const compiled = compileOpen(scene);
  const compiledAt = performance.now();
  const terminal = process.stderr.isTTY;
  const lens = lensRecord(document.cameras[document.camera], settings);
  const proof = new ProofBuilder(region ?? frame, settings, filmNames(document), document.noise.stops, layers);
  const file = asFile ? new ProofFile(region ?? frame, proof, { deflate: deflateApart }, FIREFLY_LAYERS) : null;
  // finish() waits for what is being deflated
  const onBand = (band: Film) => void (file ?? proof).addBand(band);
  await renderOnThreads(compiled, settings, region ?? frame, onBand, {
    pool,
    threads,
    extras,
    parts,
    // the same bits as the application's
    watched: !layers,
    onProgress: terminal ? (done) => process.stderr.write(`\rrendering ${Math.round(done * 100)} %`) : undefined,
  });
  if (terminal) process.stderr.write('\r\x1b[K');
  const renderedAt = performance.now();
  const seconds = (renderedAt - compiledAt) / 1000;
  const record = ({ noiseCheck, rays, samples }: RenderStatistics) => ({ use, settings, noise: document.noise, seconds: { render: seconds }, rays, samples, noiseCheck, lens }); // prettier-ignore
  const { picture, pieces, statistics } = file ? await file.finish(record) : { ...proof.finish(record), pieces: null };
  if (!layers) statistics.fireflies = countFireflies(picture, settings.pixelSamples);
  return {
    picture,
    pieces,
    statistics,
    settings,
    seconds,
    finishSeconds: (performance.now() - renderedAt) / 1000,
    compileSeconds: (compiledAt - started) / 1000,
    triangles: compiled.triangles,
    findings: proofFindings(statistics, settings),
  };
}

function findCamera(document: ShotDocument, wanted: string): string {
  const found = Object.entries(document.cameras).find(([id, camera]) => id === wanted || camera.name === wanted);
  if (found) return found[0];
  const names = Object.values(document.cameras).map((c) => c.name);
  throw new InputError(`there is no camera "${wanted}"; the scene has ${names.join(', ')}`, '--camera');
}

function parseEdit(text: string): { path: string; value: unknown } {
  const at = text.indexOf('=');
  if (at < 1) throw new UsageError(`--set takes PATH=VALUE, not "${text}"`);
  const raw = text.slice(at + 1);
  try {
    return { path: text.slice(0, at), value: JSON.parse(raw) };
  } catch {
    return { path: text.slice(0, at), value: raw };
  }
}
