import { InputError } from '../inputError.ts';
import { readParts } from './header.ts';
import { LINES_PER_BLOCK, view } from './layout.ts';
import { fullName, type ExrWanted } from './readExr.ts';

/** Bytes from one place of a file to before another. */
export type ByteRange = [start: number, end: number];

/** Ranges that are closer than this are one: a question more costs more than these bytes. */
const NEAR = 64 * 1024;

/**
 * Where what is wanted of a file stands in it, beside its head.
 * @param head the first bytes of the file
 * @param length bytes of the file
 * @returns null where the head is longer than what there is of it
 * @throws InputError where the head is damaged
 */
export function exrRanges(
  head: Uint8Array,
  length: number,
  { channels: wanted = () => true, rows }: Pick<ExrWanted, 'channels' | 'rows'>,
  name = 'picture.exr',
): ByteRange[] | null {
  let parts;
  try {
    ({ parts } = readParts(head, name));
  } catch (error) {
    if (error instanceof InputError && head.length < length) return null;
    throw error;
  }
  const table = (at: number, chunks: number) => Array.from({ length: chunks }, (_, i) => Number(view(head).getBigUint64(at + i * 8, true))); // prettier-ignore
  const places = parts.map(({ chunks, tableAt }) => table(tableAt, chunks));
  const all = Float64Array.from(places.flat()).sort();
  const after = new Map<number, number>();
  all.forEach((place, i) => after.set(place, all[i + 1] ?? length));
  const found: ByteRange[] = [];
  parts.forEach((part, p) => {
    if (!part.channels.some((c) => wanted(fullName(part, c.name, parts)))) return;
    const { compression, dataWindow, tiles } = part;
    const lines = LINES_PER_BLOCK[compression];
    places[p].forEach((place, b) => {
      const y = dataWindow.y + b * lines;
      const isOutside = rows && !tiles && (y >= rows.y + rows.height || y + lines <= rows.y);
      // a place outside of the file is damage, which comes up where its block is read
      if (!isOutside && place < length) found.push([place, Math.min(length, after.get(place)!)]);
    });
  });
  found.sort((a, b) => a[0] - b[0]);
  return found.reduce<ByteRange[]>((ranges, range) => {
    const last = ranges.at(-1);
    if (last && range[0] - last[1] < NEAR) last[1] = Math.max(last[1], range[1]);
    else ranges.push(range);
    return ranges;
  }, []);
}
