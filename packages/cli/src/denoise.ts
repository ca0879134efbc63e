import { denoisedLook } from '@dusting/core/render';
import { readInput, readPicture, writePicture } from './files.ts';
import { COMMON, parseOptions } from './options.ts';
import { HELP, UsageError } from './usage.ts';

export async function denoise(args: string[]): Promise<string> {
  const { help, json } = COMMON;
  const { values, positionals } = parseOptions(args, { help, json, out: { type: 'string' } } as const, 1);
  if (values.help) return HELP.denoise;
  if (!values.out) throw new UsageError('--out LOOK.exr is missing');
  const [path] = positionals;
  const { channels, ...picture } = denoisedLook(readPicture(readInput(path), path));
  // by itself it is the main layer
  const look = { ...picture, channels: channels.map((c) => ({ ...c, name: c.name.slice(-1) })), metadata: {} };
  await writePicture(values.out, look);
  const { height, width } = look;
  return values.json ? JSON.stringify({ out: values.out, width, height }) : `${values.out}: ${width} x ${height}, denoised, for looking`; // prettier-ignore
}
