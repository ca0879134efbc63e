import type { PackedChannel, PackedPicture, Picture, Region } from '../../image/index.ts';
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
  const file = new ExrFile(picture, compression, (bytes, at) => pieces.push({ bytes, at }));
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
 * The same bytes as writeExr() with ZIP, piece by piece, so that a large frame is not held a second time, and several blocks at once:
 * deflating takes most of the time.
 * @param write puts bytes at a place of the file
 * @returns bytes of the file
 */
export async function streamExr(
  picture: Picture | PackedPicture,
  write: (bytes: Uint8Array, at: number) => void,
  { deflate, level = EXR_WRITE_DEFAULTS.level }: Partial<ExrStreamOptions> & Pick<ExrStreamOptions, 'deflate'>,
): Promise<number> {
  const file = new ExrFile(picture, 'ZIP', write);
  const pending: Promise<Uint8Array>[] = [];
  // one for each block that is deflated, filled again: of a large frame 0.6 GB would wait to be collected
  const memory = Array.from({ length: AT_ONCE }, () => file.emptyBlock());
  for (let b = 0; b < file.blocks + AT_ONCE; b++) {
    if (b < file.blocks) pending.push(deflate(file.mixedBlock(b, memory[b % AT_ONCE]), level));
    if (b >= AT_ONCE - 1 && pending.length > 0) file.put(b - AT_ONCE + 1, await pending.shift()!);
  }
  return file.end();
}

/** streamExr() into memory. */
export async function writeExrAtOnce(
  picture: Picture | PackedPicture,
  deflate: ExrStreamOptions['deflate'],
): Promise<Uint8Array> {
  const pieces: Piece[] = [];
  const length = await streamExr(picture, (bytes, at) => pieces.push({ bytes, at }), { deflate });
  return joined(pieces, length);
}

/** A file that is put together from its blocks, in their order. */
class ExrFile {
  readonly blocks: number;
  private readonly channels: PackedChannel[];
  private readonly lines: number;
  private readonly head: Uint8Array;
  private readonly offsets: Uint8Array;
  private empty: Set<PackedChannel> | null = null;
  private at: number;

  constructor(
    private readonly picture: Picture | PackedPicture,
    compression: ExrWriteOptions['compression'],
    private readonly write: (bytes: Uint8Array, at: number) => void,
  ) {
    this.channels = [...picture.channels].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));
    this.lines = LINES_PER_BLOCK[compression];
    this.blocks = Math.ceil(picture.height / this.lines);
    this.head = headOf(picture, this.channels, compression);
    this.offsets = new Uint8Array(this.blocks * 8);
    this.at = this.head.length + this.offsets.length;
  }

  private linesOf = (block: number) => Math.min(this.lines, this.picture.height - block * this.lines);
  private bytesOf = (block: number) => bytesOfLine(this.channels, this.picture.width) * this.linesOf(block);

  rawBlock(block: number): Uint8Array {
    return packLines(this.channels, this.picture.width, block * this.lines, this.linesOf(block));
  }

  emptyBlock(): Uint8Array {
    return new Uint8Array(this.bytesOf(0));
  }

  /** As ZIP deflates it. @param memory of an emptyBlock(), which holds it */
  mixedBlock(block: number, memory: Uint8Array): Uint8Array {
    this.empty ??= emptyChannels(this.channels);
    const mixed = memory.subarray(0, this.bytesOf(block));
    packDifferences(this.channels, this.empty, this.picture.width, block * this.lines, this.linesOf(block), mixed);
    return mixed;
  }

  layout(block: number) {
    const channels = this.channels.map(({ name, type }) => ({ name, type, xSampling: 1, ySampling: 1, linear: false }));
    return { x: 0, y: 0, width: this.picture.width, height: this.linesOf(block), channels };
  }

  put(block: number, shrunk: Uint8Array): void {
    // stored as it is where it does not get smaller
    const packed = shrunk.length < this.bytesOf(block) ? shrunk : this.rawBlock(block);
    const stored = new Uint8Array(8 + packed.length);
    view(stored).setInt32(0, this.picture.dataWindow.y + block * this.lines, true);
    view(stored).setInt32(4, packed.length, true);
    stored.set(packed, 8);
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

function headOf(
  { dataWindow, displayWindow, metadata }: Picture | PackedPicture,
  channels: PackedChannel[],
  compression: ExrWriteOptions['compression'],
): Uint8Array {
  const header = new ByteWriter();
  header.int32(MAGIC);
  header.int32(2 | (channels.some((c) => c.name.length > 31) ? 0x400 : 0));
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
  for (const [name, value] of Object.entries(metadata))
    header.attribute(name, 'string', new TextEncoder().encode(value));
  header.byte(0);
  return header.bytes();
}

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
