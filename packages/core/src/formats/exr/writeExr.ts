import { MAIN_LAYER, splitChannelName, type PackedChannel, type PackedPicture, type Picture, type Region } from '../../image/index.ts'; // prettier-ignore
import { plainDeflate, type Deflate, type Level } from './deflate.ts';
import { bytesOfLine, emptyChannels, packDifferences, packLines } from './packLines.ts';
import { packPiz } from './packPiz.ts';
import { COMPRESSIONS, LINES_PER_BLOCK, MAGIC, TYPES, view } from './layout.ts';

export interface ExrWriteOptions {
  compression: 'NONE' | 'ZIPS' | 'ZIP' | 'PIZ';
  /** Deflate level 1 (fast) to 9 (small). Noise hardly compresses: 1 is within 3 % of 6 on proofs. */
  level: Level;
  /** Where there is a quicker form than the plain one. */
  deflate: Deflate;
}
export const EXR_WRITE_DEFAULTS: ExrWriteOptions = { compression: 'ZIP', level: 1, deflate: plainDeflate };

/** One part in scanlines. Text attributes carry the metadata. */
export function writeExr(picture: Picture | PackedPicture, options: Partial<ExrWriteOptions> = {}): Uint8Array {
  const { compression, deflate, level } = { ...EXR_WRITE_DEFAULTS, ...options };
  const pieces: Piece[] = [];
  const file = new ExrFile(picture, compression, [{ name: '', channels: picture.channels }], (bytes, at) => pieces.push({ bytes, at })); // prettier-ignore
  const memory = file.emptyBlock();
  for (let b = 0; b < file.blocks; b++) {
    if (compression === 'NONE') file.put(b, file.rawBlock(b));
    else if (compression === 'PIZ') file.put(b, packPiz(file.rawBlock(b), file.layout(b)));
    else file.put(b, deflate(file.mixedBlock(b, memory), level));
  }
  return joined(pieces, file.end());
}

type Piece = { bytes: Uint8Array; at: number };

function joined(pieces: Piece[], length: number): Uint8Array {
  const file = new Uint8Array(length);
  for (const { at, bytes } of pieces) file.set(bytes, at);
  return file;
}

/** Blocks that are deflated at the same time. */
const AT_ONCE = 4;

export interface ExrStreamOptions {
  level: Level;
  /** May run on other threads. */
  deflate: (raw: Uint8Array, level: Level) => Promise<Uint8Array>;
}

/**
 * A picture of many layers with ZIP, a part for each kind of layer, one after the other: who reads one of them reads few of its bytes
 * (exrRanges). Piece by piece, so that a large frame is not held a second time, and several blocks at once: deflating takes
 * most of the time.
 * @param write puts bytes at a place of the file
 * @returns bytes of the file
 */
export async function streamExr(
  picture: Picture | PackedPicture,
  write: (bytes: Uint8Array, at: number) => void,
  { deflate, level = EXR_WRITE_DEFAULTS.level }: Partial<ExrStreamOptions> & Pick<ExrStreamOptions, 'deflate'>,
): Promise<number> {
  const file = new ExrFile(picture, 'ZIP', partsOf(picture.channels), write);
  const pending: Promise<Uint8Array>[] = [];
  // one for each block that is deflated, filled again: of a large frame 0.6 GB would wait to be collected
  const memory = Array.from({ length: AT_ONCE }, () => file.emptyBlock());
  for (let b = 0; b < file.blocks + AT_ONCE; b++) {
    if (b < file.blocks) pending.push(deflate(file.mixedBlock(b, memory[b % AT_ONCE]), level));
    if (b >= AT_ONCE - 1 && pending.length > 0) file.put(b - AT_ONCE + 1, await pending.shift()!);
  }
  return file.end();
}

interface Part {
  /** Empty where it is the only one. */
  name: string;
  channels: PackedChannel[];
}

/** Channels by the first word of their layer: error.directDiffuse stands beside error. The main layer comes first. */
function partsOf(channels: PackedChannel[]): Part[] {
  const parts = new Map<string, PackedChannel[]>();
  for (const channel of channels) {
    const [name] = splitChannelName(channel.name).layer.split('.', 1);
    parts.set(name, [...(parts.get(name) ?? []), channel]);
  }
  if (parts.size < 2) return [{ name: '', channels }];
  const rank = (name: string) => (name === MAIN_LAYER ? '' : name);
  return [...parts].sort(([a], [b]) => order(rank(a), rank(b))).map(([name, own]) => ({ name, channels: own }));
}

const order = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

/** A file that is put together from its blocks, part by part and in their order. */
class ExrFile {
  /** Of all parts. */
  readonly blocks: number;
  private readonly parts: Part[];
  private readonly lines: number;
  /** Blocks of a part. */
  private readonly rows: number;
  private readonly head: Uint8Array;
  private readonly offsets: Uint8Array;
  private empty: Set<PackedChannel> | null = null;
  private at: number;

  constructor(
    private readonly picture: Picture | PackedPicture,
    compression: ExrWriteOptions['compression'],
    parts: Part[],
    private readonly write: (bytes: Uint8Array, at: number) => void,
  ) {
    this.parts = parts.map(({ channels, name }) => ({ name, channels: [...channels].sort((a, b) => order(a.name, b.name)) })); // prettier-ignore
    this.lines = LINES_PER_BLOCK[compression];
    this.rows = Math.ceil(picture.height / this.lines);
    this.blocks = this.rows * parts.length;
    this.head = headOf(picture, this.parts, compression, this.rows);
    this.offsets = new Uint8Array(this.blocks * 8);
    this.at = this.head.length + this.offsets.length;
  }

  private channelsOf = (block: number) => this.parts[Math.floor(block / this.rows)].channels;
  private firstLine = (block: number) => (block % this.rows) * this.lines;
  private linesOf = (block: number) => Math.min(this.lines, this.picture.height - this.firstLine(block));
  private bytesOf = (block: number) => bytesOfLine(this.channelsOf(block), this.picture.width) * this.linesOf(block);

  rawBlock(block: number): Uint8Array {
    return packLines(this.channelsOf(block), this.picture.width, this.firstLine(block), this.linesOf(block));
  }

  /** Memory for any block. */
  emptyBlock(): Uint8Array {
    return new Uint8Array(Math.max(0, ...this.parts.map((_, p) => this.bytesOf(p * this.rows))));
  }

  /** As ZIP deflates it. @param memory of an emptyBlock(), which holds it */
  mixedBlock(block: number, memory: Uint8Array): Uint8Array {
    this.empty ??= emptyChannels(this.picture.channels);
    const mixed = memory.subarray(0, this.bytesOf(block));
    packDifferences(this.channelsOf(block), this.empty, this.picture.width, this.firstLine(block), this.linesOf(block), mixed); // prettier-ignore
    return mixed;
  }

  layout(block: number) {
    const channels = this.channelsOf(block).map(({ name, type }) => ({ name, type, xSampling: 1, ySampling: 1, linear: false })); // prettier-ignore
    return { x: 0, y: 0, width: this.picture.width, height: this.linesOf(block), channels };
  }

  put(block: number, shrunk: Uint8Array): void {
    // stored as it is where it does not get smaller
    const packed = shrunk.length < this.bytesOf(block) ? shrunk : this.rawBlock(block);
    const numbered = this.parts.length > 1 ? 4 : 0;
    const stored = new Uint8Array(numbered + 8 + packed.length);
    if (numbered) view(stored).setInt32(0, Math.floor(block / this.rows), true);
    view(stored).setInt32(numbered, this.picture.dataWindow.y + this.firstLine(block), true);
    view(stored).setInt32(numbered + 4, packed.length, true);
    stored.set(packed, numbered + 8);
    view(this.offsets).setBigUint64(block * 8, BigInt(this.at), true);
    this.write(stored, this.at);
    this.at += stored.length;
  }

  /** @returns bytes of the file */
  end(): number {
    this.write(this.head, 0);
    this.write(this.offsets, this.head.length);
    return this.at;
  }
}

const LONG_NAMES = 0x400;
const MANY_PARTS = 0x1000;

/** @param rows blocks of a part */
function headOf(
  { dataWindow, displayWindow, metadata }: Picture | PackedPicture,
  parts: Part[],
  compression: ExrWriteOptions['compression'],
  rows: number,
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
      header.attribute('chunkCount', 'int', new Uint8Array(Int32Array.of(rows).buffer));
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
