import { proofFindings, type Finding } from '@dusting/core/diagnose';
import { InputError } from '@dusting/core/formats';
import { intersectRegions, type Picture, type Region } from '@dusting/core/image';
import {
  checkRenderSize,
  compileScene,
  filmNames,
  filmStatistics,
  frameOf,
  lensRecord,
  proofPicture,
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
import { renderOnThreads } from '@dusting/threads';
import { readSceneFiles } from './files.ts';
import { parseSize, parseWhole } from './options.ts';
import { UsageError } from './usage.ts';

export interface SceneOptions {
  size?: string;
  camera?: string;
  set?: string[];
  settings?: string;
  use?: string;
  seed?: string;
  threads?: string;
}

export interface RenderedScene {
  picture: Picture;
  settings: RenderSettings;
  use: SettingsUse;
  document: ShotDocument;
  statistics: RenderStatistics;
  seconds: { import: number; compile: number; render: number };
  triangles: number;
  unsupported: { feature: string; place: string; effect: string }[];
  /** Worst first. */
  findings: Finding[];
}

/** Imports a scene, applies the options and renders it on worker threads. */
export async function renderScene(scene: string, options: SceneOptions, region: Region | null): Promise<RenderedScene> {
  const use = options.use ?? 'final';
  if (use !== 'preview' && use !== 'final') throw new UsageError(`--use takes preview or final, not "${use}"`);
  const threads = options.threads === undefined ? undefined : parseWhole(options.threads, '--threads', 1);
  const edits = (options.set ?? []).map(parseEdit);
  const size = options.size === undefined ? null : parseSize(options.size);
  const seed = options.seed === undefined ? null : parseWhole(options.seed, '--seed', 0);

  const started = performance.now();
  const imported = await importShot(readSceneFiles(scene, options.settings));
  let document = imported.document;
  if (size) document = { ...document, [use]: { ...document[use], ...size } };
  if (seed !== null) document = setPath(document, `${use}.seed`, seed);
  for (const { path, value } of edits) document = setPath(document, path, value);
  if (options.camera !== undefined) document = { ...document, camera: findCamera(document, options.camera) };
  document = validateShot(document, 'settings');
  const settings = document[use];
  const frame = frameOf(settings);
  if (
    region &&
    (intersectRegions(region, frame)?.width !== region.width ||
      intersectRegions(region, frame)?.height !== region.height)
  )
    throw new InputError(
      `the region reaches outside the frame of ${settings.width} x ${settings.height} pixels`,
      '--region',
    );

  checkRenderSize(region ?? frame);

  const importedAt = performance.now();
  const compiled = compileScene(document, settings, (id) => imported.blobs.get(id)!.bytes, sharedBuffer);
  const compiledAt = performance.now();
  const terminal = process.stderr.isTTY;
  const film = await renderOnThreads(compiled, settings, region ?? frame, {
    threads,
    onProgress: terminal ? (done) => process.stderr.write(`\rrendering ${Math.round(done * 100)} %`) : undefined,
  });
  if (terminal) process.stderr.write('\r\x1b[K');
  const renderedAt = performance.now();
  const statistics = filmStatistics(film, document.noise.stops);
  const seconds = {
    import: (importedAt - started) / 1000,
    compile: (compiledAt - importedAt) / 1000,
    render: (renderedAt - compiledAt) / 1000,
  };
  const findings = proofFindings(statistics, settings);
  const lens = lensRecord(document.cameras[document.camera], settings);
  const record = { use, settings, noise: document.noise, seconds, rays: statistics.rays, samples: statistics.samples, noiseCheck: statistics.noiseCheck, lens }; // prettier-ignore
  const picture = proofPicture(film, settings, filmNames(document), record);
  const { unsupported } = imported;
  return {
    picture,
    settings,
    use,
    document,
    statistics,
    seconds,
    triangles: compiled.triangles,
    unsupported,
    findings,
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
