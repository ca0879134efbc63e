import { DIAGNOSES, type DefectKind, type Diagnosis, type DiagnosisInput } from '@dusting/core/diagnose';
import { applyRoles, proposeRoles } from '@dusting/core/frames';
import type { Picture } from '@dusting/core/image';
import { PROOF_ATTRIBUTE } from '@dusting/core/render';
import { FINAL_DEFAULTS, isSceneFile, NOISE_DEFAULTS } from '@dusting/core/scene';
import { readInput, readPicture } from './files.ts';
import { COMMON, parseOptions, parseRegion, SCENE } from './options.ts';
import { renderScene } from './renderScene.ts';
import { HELP, UsageError } from './usage.ts';

export async function diagnose(args: string[]): Promise<string> {
  const options = { ...COMMON, ...SCENE, 'noise-limit': { type: 'string' } } as const;
  const { values, positionals } = parseOptions(args, options, 2);
  if (values.help) return HELP.diagnose;
  const [kind, path] = positionals;
  const module = Object.hasOwn(DIAGNOSES, kind) ? DIAGNOSES[kind as DefectKind] : undefined;
  if (!module) throw new UsageError(`there is no diagnosis "${kind}"; there is ${Object.keys(DIAGNOSES).join(', ')}`);
  const limit = values['noise-limit'] === undefined ? null : Number(values['noise-limit']);
  if (limit !== null && !(limit > 0)) throw new UsageError('--noise-limit takes a number above 0');
  const region = parseRegion(values.region);
  const input = isSceneFile(path) ? await fromScene(path, values) : fromPicture(path);
  const diagnosis = module.diagnose({
    ...input,
    region: region ?? input.picture.dataWindow,
    noiseLimit: limit ?? input.noiseLimit,
  });
  return values.json ? JSON.stringify(diagnosis) : inWords(diagnosis);
}

type Input = Omit<DiagnosisInput, 'region'>;

async function fromScene(path: string, values: Parameters<typeof renderScene>[1]): Promise<Input> {
  const { picture, settings, use, document, seconds } = await renderScene(path, values, null);
  return {
    picture,
    settings,
    use,
    noiseLimit: document.noise.limit,
    stops: document.noise.stops,
    seconds: seconds.render,
  };
}

function fromPicture(path: string): Input {
  const picture = readPicture(readInput(path), path);
  const text = picture.metadata[PROOF_ATTRIBUTE];
  if (!text) return fromFrame(picture);
  const { settings, use, noise, seconds } = JSON.parse(text);
  return { picture, settings, use, noiseLimit: noise.limit, stops: noise.stops, seconds: seconds.render };
}

/** A frame of another renderer: what its layers are is told by their names. */
function fromFrame(source: Picture): Input {
  const picture = applyRoles(source, proposeRoles(source, {}));
  const { limit: noiseLimit, stops } = NOISE_DEFAULTS;
  return { picture, settings: FINAL_DEFAULTS, use: 'final', noiseLimit, stops, seconds: 0 };
}

function inWords(diagnosis: Diagnosis): string {
  const lines = [diagnosis.summary, ''];
  for (const evidence of diagnosis.evidence) {
    if (evidence.type === 'chart')
      lines.push(
        evidence.title,
        ...evidence.bars.map((b) => `  ${b.label.padEnd(20)} ${b.value.toFixed(1)} ${evidence.unit}`),
        '',
      );
    if (evidence.type === 'table')
      lines.push(evidence.title, ...evidence.rows.map((row) => `  ${row.join(' · ')}`), '');
  }
  for (const { title, noise, seconds, sideEffect } of diagnosis.remedies)
    lines.push(
      `${title}: ${noise.low.toFixed(2)} to ${noise.high.toFixed(2)} L*, ${seconds.low.toFixed(1)} to ${seconds.high.toFixed(1)} s. ${sideEffect}`,
    );
  return lines.join('\n').trimEnd();
}
