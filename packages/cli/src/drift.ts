import { drift as driftOf, finalLoses } from '@dusting/core/scene';
import { COMMON, parseOptions, SCENE } from './options.ts';
import { openScene } from './renderScene.ts';
import { HELP } from './usage.ts';

/** Where the preview and final settings of a scene differ. */
export async function drift(args: string[]): Promise<string> {
  const { help, json } = COMMON;
  const { values, positionals } = parseOptions(
    args,
    { help, json, set: SCENE.set, settings: SCENE.settings } as const,
    1,
  );
  if (values.help) return HELP.drift;
  const { document } = await openScene(positionals[0], values);
  const lines = driftOf(document);
  const less = new Set(finalLoses(lines));
  if (values.json) return JSON.stringify(lines.map((line) => ({ ...line, finalShowsLess: less.has(line) })));
  return lines
    .map((l) => `${l.effect.padEnd(6)} ${l.path.padEnd(24)} preview ${l.preview}, final ${l.final}${less.has(l) ? ': the final shows less' : ''}`)
    .join('\n'); // prettier-ignore
}
