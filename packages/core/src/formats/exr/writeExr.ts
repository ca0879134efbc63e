import type { PackedChannel, PackedPicture, Picture, Region } from '../../image/index.ts';
import { toHalf } from '../half.ts';
import { packZip, plainDeflate, type Deflate, type Level } from './deflate.ts';
import { packPiz } from './packPiz.ts';
import { COMPRESSIONS, LINES_PER_BLOCK, MAGIC, TYPES, TYPE_BYTES, view } from './layout.ts';

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
  const pieces: { bytes: Uint8Array; at: number }[] = [];
  const length = streamExr(picture, (bytes, at) => pieces.push({ bytes, at }), options);
  const file = new Uint8Array(length);
  for (const { at, bytes } of pieces) file.set(bytes, at);
  return file;
}

/**
 * The same piece by piece, so that a large frame is not held a second time.
 * @param write puts bytes at a place of the file
 * @returns bytes of the file
 */
export function streamExr(
  picture: Picture | PackedPicture,
  write: (bytes: Uint8Array, at: number) => void,
  options: Partial<ExrWriteOptions> = {},
): number {
  const { compression, deflate, level } = { ...EXR_WRITE_DEFAULTS, ...options };
  const channels = [...picture.channels].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));
  const { dataWindow, displayWindow } = picture;
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
  for (const [name, value] of Object.entries(picture.metadata))
    header.attribute(name, 'string', new TextEncoder().encode(value));
  header.byte(0);

  const { width, height } = picture;
  const layout = channels.map(({ name, type }) => ({ name, type, xSampling: 1, ySampling: 1, linear: false }));
  const lines = LINES_PER_BLOCK[compression];
  const blockCount = Math.ceil(height / lines);
  const head = header.bytes();
  const offsets = new Uint8Array(blockCount * 8);
  let at = head.length + offsets.length;
  for (let b = 0; b < blockCount; b++) {
    const first = b * lines;
    const count = Math.min(lines, height - first);
    const raw = packLines(channels, width, first, count);
    const block = { x: 0, y: 0, width, height: count, channels: layout };
    const shrunk =
      compression === 'NONE' ? raw : compression === 'PIZ' ? packPiz(raw, block) : packZip(raw, level, deflate);
    const packed = shrunk.length < raw.length ? shrunk : raw; // stored as it is where it does not get smaller
    const stored = new Uint8Array(8 + packed.length);
    view(stored).setInt32(0, dataWindow.y + first, true);
    view(stored).setInt32(4, packed.length, true);
    stored.set(packed, 8);
    view(offsets).setBigUint64(b * 8, BigInt(at), true);
    write(stored, at);
    at += stored.length;
  }
  write(head, 0);
  write(offsets, head.length);
  return at;
}

function packLines(channels: PackedChannel[], width: number, first: number, count: number): Uint8Array {
  const raw = new Uint8Array(channels.reduce((sum, c) => sum + TYPE_BYTES[c.type], 0) * width * count);
  const data = view(raw);
  let at = 0;
  for (let y = first; y < first + count; y++)
    for (const { type, data: values } of channels) {
      const row = y * width;
      // of a packed picture the bits stand there
      if (values instanceof Uint16Array)
        for (let x = 0; x < width; x++, at += 2) data.setUint16(at, values[row + x], true);
      else if (type === 'half')
        for (let x = 0; x < width; x++, at += 2) data.setUint16(at, toHalf(values[row + x]), true);
      else if (type === 'float') for (let x = 0; x < width; x++, at += 4) data.setFloat32(at, values[row + x], true);
      else for (let x = 0; x < width; x++, at += 4) data.setUint32(at, values[row + x], true);
    }
  return raw;
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
