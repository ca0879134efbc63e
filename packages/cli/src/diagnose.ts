import { createHash } from 'node:crypto';
import { join } from 'node:path';
import {
  DIAGNOSES,
  evidenceText,
  explain,
  formatEstimate,
  MEASURES,
  type DefectKind,
  type DiagnosisContext,
  type Explanation,
  type SceneAccess,
} from '@dusting/core/diagnose';
import { decodeMesh, InputError, unpackPicture } from '@dusting/core/formats';
import { applyRoles, proposeRoles } from '@dusting/core/frames';
import type { Picture } from '@dusting/core/image';
import { PROOF_ATTRIBUTE, type CompiledScene } from '@dusting/core/render';
import { FINAL_DEFAULTS, isSceneFile, NOISE_DEFAULTS, patchShot, type ShotDocument } from '@dusting/core/scene';
import { RenderPool } from '@dusting/threads';
import { readInput, readPicture, writeData } from './files.ts';
import { COMMON, parseOptions, parseRegion, SCENE } from './options.ts';
import { compileOpen, openScene, renderScene, type OpenScene } from './renderScene.ts';
import { HELP, UsageError } from './usage.ts';

export async function diagnose(args: string[]): Promise<string> {
  const options = {
    ...COMMON,
    ...SCENE,
    'noise-limit': { type: 'string' },
    expect: { type: 'string' },
    before: { type: 'string' },
    after: { type: 'string' },
    data: { type: 'string' },
  } as const;
  const { values, positionals } = parseOptions(args, options, 2);
  if (values.help) return HELP.diagnose;
  const [kind, path] = positionals;
  const module = Object.hasOwn(DIAGNOSES, kind) ? DIAGNOSES[kind as DefectKind] : undefined;
  if (!module) throw new UsageError(`there is no diagnosis "${kind}"; there is ${Object.keys(DIAGNOSES).join(', ')}`);
  const limit = values['noise-limit'] === undefined ? null : Number(values['noise-limit']);
  if (limit !== null && !(limit > 0)) throw new UsageError('--noise-limit takes a number above 0');
  const region = parseRegion(values.region);
  const { close, ...shown } = isSceneFile(path) ? await fromScene(path, values) : fromPicture(path, values);
  const terminal = process.stderr.isTTY;
  const explaining = explain(module, {
    ...shown,
    region: region ?? shown.picture.dataWindow,
    noise: { ...shown.noise, limit: limit ?? shown.noise.limit },
    report: (share, stage) => terminal && process.stderr.write(`\r\x1b[K${Math.round(share * 100)} % ${stage}`),
    // the user ends the process
    signal: new AbortController().signal,
    pause: async () => {},
    keep: values.data === undefined ? null : keepIn(values.data),
  });
  const explanation = await explaining.finally(close);
  if (terminal) process.stderr.write('\r\x1b[K');
  return values.json ? JSON.stringify(explanation) : inWords(explanation);
}

interface Shown extends Omit<DiagnosisContext, 'keep' | 'region' | 'report' | 'signal' | 'pause'> {
  close?: () => Promise<void>;
}

/** Writes data of evidence into a folder, as files that are named by what is in them. */
const keepIn = (folder: string) => async (bytes: Uint8Array) => {
  const name = `${createHash('sha256').update(bytes).digest('hex')}.bin`;
  writeData(join(folder, name), bytes);
  return name;
};

/** Id of an object by its name or id. @throws InputError */
function objectNamed(name: string, { objects }: ShotDocument): string {
  const found = Object.hasOwn(objects, name) ? name : Object.keys(objects).find((id) => objects[id].name === name);
  if (found === undefined) throw new InputError(`--expect: the scene has no object "${name}"`);
  return found;
}

/** The frame is rendered first: what is predicted for it needs its time. */
async function fromScene(
  path: string,
  values: Parameters<typeof openScene>[1] & { after?: string; before?: string; expect?: string },
): Promise<Shown> {
  if (values.before !== undefined || values.after !== undefined)
    throw new UsageError('--before and --after name frames beside a picture: a scene is rendered again instead');
  const opened = await openScene(path, values);
  const expected = values.expect === undefined ? null : objectNamed(values.expect, opened.document);
  const pool = new RenderPool(opened.threads);
  const scene = { ...opened, pool };
  const { document, settings, use } = scene;
  const { picture, seconds } = await renderScene(scene, null).catch(async (error: unknown) => {
    await pool.close(); // open threads would keep the process
    throw error;
  });
  return {
    picture: unpackPicture(picture),
    expected,
    settings,
    use,
    noise: document.noise,
    seconds,
    scene: accessTo(scene),
    neighbours: async () => [],
    close: () => pool.close(),
  };
}

function accessTo(scene: OpenScene): SceneAccess {
  const { document, settings, use } = scene;
  let whole: CompiledScene | null = null;
  const compiled = () => (whole ??= compileOpen(scene));
  return {
    document,
    compiled: async () => compiled(),
    mesh: async (id) => decodeMesh(scene.blobs.get(document.meshes[id].blob)!.bytes),
    render: async ({ extras, layers, parts, patch, region, title }) => {
      const changed = patchShot(document, patch, title);
      const beside = { scene: compiled(), document, settings };
      const { picture, ...rendered } = await renderScene({ ...scene, document: changed, settings: changed[use], beside }, region, { extras, layers, parts }); // prettier-ignore
      return { ...rendered, picture: unpackPicture(picture) };
    },
  };
}

function fromPicture(
  path: string,
  { after, before, expect }: { after?: string; before?: string; expect?: string },
): Shown {
  if (expect !== undefined) throw new UsageError('--expect names an object of a scene: give the scene');
  const picture = readPicture(readInput(path), path);
  const neighbours = async () =>
    [before, after].flatMap((other) => (other === undefined ? [] : [besideOf(picture, other)]));
  const text = picture.metadata[PROOF_ATTRIBUTE];
  if (!text) return { ...fromFrame(picture), neighbours };
  const { settings, use, noise, seconds } = JSON.parse(text);
  return { picture, expected: null, settings, use, noise, seconds: seconds.render, scene: null, neighbours };
}

/** The frame before or after. @throws InputError where it is of another size */
function besideOf({ height, width }: Picture, path: string): Picture {
  const picture = readPicture(readInput(path), path);
  if (picture.width !== width || picture.height !== height)
    throw new InputError(
      `${path} has ${picture.width} x ${picture.height} pixels, and the picture ${width} x ${height}`,
    );
  return asOwn(picture);
}

/** With the layers of another renderer by our names for them. */
const asOwn = (source: Picture) =>
  source.metadata[PROOF_ATTRIBUTE] ? source : applyRoles(source, proposeRoles(source, {}));

/** A frame of another renderer: what its layers are is told by their names. */
function fromFrame(source: Picture): Omit<Shown, 'neighbours'> {
  return {
    picture: asOwn(source),
    expected: null,
    settings: FINAL_DEFAULTS,
    use: 'final',
    noise: NOISE_DEFAULTS,
    seconds: 0,
    scene: null,
  };
}

function inWords({ causes, evidence, others, remedies, summary }: Explanation): string {
  const lines = [summary, ...others.map(({ severity, text }) => `${severity}: ${text}`), ''];
  for (const { share, title } of causes) lines.push(`${share === null ? '' : `${Math.round(share * 100)} % `}${title}`);
  for (const shown of evidence) {
    const text = evidenceText(shown);
    if (text.length > 0) lines.push('', `${shown.title} (${shown.source})`, ...text.map((line) => `  ${line}`));
  }
  for (const { effects, sideEffect, title } of remedies)
    lines.push(
      '',
      `${title}. ${sideEffect}`,
      ...effects.map((effect) => `  ${MEASURES[effect.measure].name}: ${formatEstimate(effect, MEASURES[effect.measure].unit)} predicted`), // prettier-ignore
    );
  return lines.join('\n').trimEnd();
}
