import { repairFrame } from '@dusting/core/diagnose';
import { readInput, readPicture, writePicture } from './files.ts';
import { COMMON, parseOptions } from './options.ts';
import { HELP, UsageError } from './usage.ts';

export async function repair(args: string[]): Promise<string> {
  const { help, json } = COMMON;
  const text = { type: 'string' } as const;
  const { values, positionals } = parseOptions(args, { help, json, out: text, before: text, after: text } as const, 1);
  if (values.help) return HELP.repair;
  if (!values.out) throw new UsageError('--out REPAIRED.exr is missing');
  const read = (path: string) => readPicture(readInput(path), path);
  const others = [values.before, values.after].flatMap((path) => (path === undefined ? [] : [read(path)]));
  const { count, fromFrames, picture } = repairFrame(read(positionals[0]), others);
  await writePicture(values.out, picture);
  if (values.json) return JSON.stringify({ out: values.out, replaced: count, fromFrames });
  const source = others.length > 0 ? `, ${fromFrames} from the frames before and after` : '';
  return `${values.out}: ${count} pixels replaced${source}; the layer "repaired" says which`;
}
