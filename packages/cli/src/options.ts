import { parseArgs } from 'node:util';
import type { Region } from '@dusting/core/image';
import { UsageError } from './usage.ts';

export const COMMON = { json: { type: 'boolean' }, help: { type: 'boolean' }, region: { type: 'string' } } as const;
export const SCENE = {
  size: { type: 'string' },
  camera: { type: 'string' },
  set: { type: 'string', multiple: true },
  settings: { type: 'string' },
  map: { type: 'string' },
  use: { type: 'string' },
  seed: { type: 'string' },
  threads: { type: 'string' },
} as const;

type Options = NonNullable<Parameters<typeof parseArgs>[0]>['options'];

/** Options and the expected number of plain arguments. @throws UsageError */
export function parseOptions<T extends NonNullable<Options>>(args: string[], options: T, positionals: number) {
  try {
    const parsed = parseArgs({ args, options, allowPositionals: true, strict: true });
    const help = (parsed.values as { help?: boolean }).help;
    if (!help && parsed.positionals.length !== positionals)
      throw new UsageError(
        `expected ${positionals} argument${positionals === 1 ? '' : 's'}, got ${parsed.positionals.length}`,
      );
    return parsed;
  } catch (error) {
    if (error instanceof UsageError) throw error;
    throw new UsageError((error as Error).message);
  }
}

export function parseRegion(text: string | undefined): Region | null {
  if (text === undefined) return null;
  const numbers = text.split(',').map(Number);
  if (numbers.length !== 4 || !numbers.every(Number.isInteger) || numbers[2] < 1 || numbers[3] < 1)
    throw new UsageError(`--region takes x,y,width,height in whole pixels, not "${text}"`);
  const [x, y, width, height] = numbers;
  return { x, y, width, height };
}

export function parseSize(text: string): { width: number; height: number } {
  const match = /^(\d+)x(\d+)$/.exec(text);
  if (!match) throw new UsageError(`--size takes WIDTHxHEIGHT, not "${text}"`);
  return { width: Number(match[1]), height: Number(match[2]) };
}

export function parseWhole(text: string, option: string, least: number): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isInteger(value) || value < least)
    throw new UsageError(`${option} takes a whole number from ${least} on, not "${text}"`);
  return value;
}
