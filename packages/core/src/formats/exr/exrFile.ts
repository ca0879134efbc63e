import { splitChannelName, MAIN_LAYER, type PackedChannel, type Picture, type Region } from '../../image/index.ts';
import { COMPRESSIONS, LINES_PER_BLOCK, MAGIC, TYPES, view, type Compression } from './layout.ts';

export interface Part<Channel extends Pick<PackedChannel, 'name' | 'type'> = PackedChannel> {
  /** Empty where it is the only one. */
  name: string;
  /** In the order of their names. */
  channels: Channel[];
}

/** The first word of the layer of a channel: error.directDiffuse stands beside error. */
export const partOf = (channel: string): string => splitChannelName(channel).layer.split('.', 1)[0];

/** Channels by the part that they belong to, the main layer first. */
export function partsOf<Channel extends Pick<PackedChannel, 'name' | 'type'>>(channels: Channel[]): Part<Channel>[] {
  const parts = new Map<string, Channel[]>();
  for (const channel of channels) {
    const name = partOf(channel.name);
    parts.set(name, [...(parts.get(name) ?? []), channel]);
  }
  return [...parts].map(([name, own]) => ({ name, channels: sorted(own) })).sort(byName);
}

/** The only part of a picture. */
export const onlyPart = <Channel extends Pick<PackedChannel, 'name' | 'type'>>(channels: Channel[]): Part<Channel> => ({ name: '', channels: sorted(channels) }); // prettier-ignore

const order = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
const rank = (name: string) => (name === MAIN_LAYER ? '' : name);
const byName = (a: { name: string }, b: { name: string }) => order(rank(a.name), rank(b.name));
const sorted = <Channel extends { name: string }>(channels: Channel[]) => [...channels].sort((a, b) => order(a.name, b.name)); // prettier-ignore

/** Blocks of a part that covers a window. */
export const blocksOf = (height: number, compression: Compression): number => Math.ceil(height / LINES_PER_BLOCK[compression]); // prettier-ignore

/**
 * A file from its packed blocks, as its bytes piece by piece and in their order: its blocks are not copied.
 * @param blocks of each part, from the top
 */
export function exrPieces(
  picture: Pick<Picture, 'dataWindow' | 'displayWindow' | 'metadata'>,
  parts: Part<Pick<PackedChannel, 'name' | 'type'>>[],
  compression: Compression,
  blocks: Uint8Array[][],
): Uint8Array[] {
  const head = headOf(picture, parts, compression);
  const rows = blocksOf(picture.dataWindow.height, compression);
  const numbered = parts.length > 1 ? 4 : 0;
  const table = new Uint8Array(parts.length * rows * 8);
  const starts = new Uint8Array(parts.length * rows * (numbered + 8));
  let at = head.length + table.length;
  const packed = blocks.flatMap((own, part) =>
    own.flatMap((block, row) => {
      const index = part * rows + row;
      const start = starts.subarray(index * (numbered + 8), (index + 1) * (numbered + 8));
      if (numbered) view(start).setInt32(0, part, true);
      view(start).setInt32(numbered, picture.dataWindow.y + row * LINES_PER_BLOCK[compression], true);
      view(start).setInt32(numbered + 4, block.length, true);
      view(table).setBigUint64(index * 8, BigInt(at), true);
      at += start.length + block.length;
      return [start, block];
    }),
  );
  return [head, table, ...packed];
}

const LONG_NAMES = 0x400;
const MANY_PARTS = 0x1000;

function headOf(
  { dataWindow, displayWindow, metadata }: Pick<Picture, 'dataWindow' | 'displayWindow' | 'metadata'>,
  parts: Part<Pick<PackedChannel, 'name' | 'type'>>[],
  compression: Compression,
): Uint8Array {
  const header = new ByteWriter();
  const many = parts.length > 1;
  const hasLong = parts.some(({ channels, name }) => name.length > 31 || channels.some((c) => c.name.length > 31));
  header.int32(MAGIC);
  header.int32(2 | (hasLong ? LONG_NAMES : 0) | (many ? MANY_PARTS : 0));
  parts.forEach(({ channels, name }, p) => {
    const list = new ByteWriter();
    for (const channel of channels) {
      list.text(channel.name);
      list.int32(TYPES.indexOf(channel.type));
      list.int32(0); // pLinear and padding
      list.int32(1);
      list.int32(1);
    }
    list.byte(0);
    header.attribute('channels', 'chlist', list.bytes());
    header.attribute('compression', 'compression', [COMPRESSIONS.indexOf(compression)]);
    header.attribute('dataWindow', 'box2i', box(dataWindow));
    header.attribute('displayWindow', 'box2i', box(displayWindow));
    header.attribute('lineOrder', 'lineOrder', [0]);
    header.attribute('pixelAspectRatio', 'float', floats(1));
    header.attribute('screenWindowCenter', 'v2f', floats(0, 0));
    header.attribute('screenWindowWidth', 'float', floats(1));
    if (many) {
      header.attribute('name', 'string', text(name));
      header.attribute('type', 'string', text('scanlineimage'));
      header.attribute(
        'chunkCount',
        'int',
        new Uint8Array(Int32Array.of(blocksOf(dataWindow.height, compression)).buffer),
      );
    }
    // the first part speaks for all of them
    if (p === 0) for (const [key, value] of Object.entries(metadata)) header.attribute(key, 'string', text(value));
    header.byte(0);
  });
  if (many) header.byte(0);
  return header.bytes();
}

const text = (value: string) => new TextEncoder().encode(value);

class ByteWriter {
  private readonly parts: number[] = [];
  byte(value: number): void {
    this.parts.push(value);
  }
  int32(value: number): void {
    this.parts.push(value & 255, (value >> 8) & 255, (value >> 16) & 255, (value >> 24) & 255);
  }
  text(value: string): void {
    for (const b of new TextEncoder().encode(value)) this.parts.push(b);
    this.parts.push(0);
  }
  attribute(name: string, type: string, value: ArrayLike<number>): void {
    this.text(name);
    this.text(type);
    this.int32(value.length);
    for (let i = 0; i < value.length; i++) this.parts.push(value[i]);
  }
  bytes(): Uint8Array {
    return Uint8Array.from(this.parts);
  }
}

function box(r: Region): Uint8Array {
  return new Uint8Array(new Int32Array([r.x, r.y, r.x + r.width - 1, r.y + r.height - 1]).buffer);
}
function floats(...values: number[]): Uint8Array {
  return new Uint8Array(new Float32Array(values).buffer);
}
