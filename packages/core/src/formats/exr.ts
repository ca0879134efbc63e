// OpenEXR: a single part of scanlines, channels of any name and type half, float or uint, compression NONE, ZIPS or ZIP.
// Written from the public file layout document of the format ("OpenEXR File Layout", openexr.com).
import { unzlibSync, zlibSync } from 'fflate';
import type { Channel, Picture, Region } from '../image/picture.ts';
import { checkPictureSize, InputError } from './inputError.ts';
import { fromHalf, toHalf } from './half.ts';

const MAGIC = 20000630;
const COMPRESSIONS = ['NONE', 'RLE', 'ZIPS', 'ZIP', 'PIZ', 'PXR24', 'B44', 'B44A', 'DWAA', 'DWAB'] as const;
const LINES_PER_BLOCK: Partial<Record<Compression, number>> = { NONE: 1, ZIPS: 1, ZIP: 16 };
const TYPES = ['uint', 'half', 'float'] as const;
const TYPE_BYTES = { uint: 4, half: 2, float: 4 };
export type Compression = (typeof COMPRESSIONS)[number];

export interface ExrWriteOptions {
  compression: 'NONE' | 'ZIP';
  /** Deflate level 1 (fast) to 9 (small). Noise hardly compresses: 1 is within 3 % of 6 on proofs. */
  level: 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8 | 9;
}
export const EXR_WRITE_DEFAULTS: ExrWriteOptions = { compression: 'ZIP', level: 1 };

export interface ExrHeader {
  width: number;
  height: number;
  dataWindow: Region;
  displayWindow: Region;
  compression: Compression;
  channels: { name: string; type: Channel['type'] }[];
  metadata: Record<string, string>;
}

/** Whether bytes start like an OpenEXR file. */
export function isExr(bytes: Uint8Array): boolean {
  return bytes.length > 8 && view(bytes).getInt32(0, true) === MAGIC;
}

export function writeExr(picture: Picture, options: Partial<ExrWriteOptions> = {}): Uint8Array {
  const { compression, level } = { ...EXR_WRITE_DEFAULTS, ...options };
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
  const lines = LINES_PER_BLOCK[compression]!;
  const blockCount = Math.ceil(height / lines);
  const head = header.bytes();
  const blocks: Uint8Array[] = [];
  const offsets = new Uint8Array(blockCount * 8);
  let at = head.length + offsets.length;
  for (let b = 0; b < blockCount; b++) {
    const first = b * lines;
    const raw = packLines(channels, width, first, Math.min(lines, height - first));
    const packed = compression === 'NONE' ? raw : shrink(raw, level);
    const block = new Uint8Array(8 + packed.length);
    view(block).setInt32(0, dataWindow.y + first, true);
    view(block).setInt32(4, packed.length, true);
    block.set(packed, 8);
    view(offsets).setBigUint64(b * 8, BigInt(at), true);
    at += block.length;
    blocks.push(block);
  }
  const file = new Uint8Array(at);
  file.set(head);
  file.set(offsets, head.length);
  at = head.length + offsets.length;
  for (const block of blocks) {
    file.set(block, at);
    at += block.length;
  }
  return file;
}

/** @throws InputError where the file is damaged or uses a form that is not read yet, naming it. */
export function readExrHeader(bytes: Uint8Array, name = 'picture.exr'): ExrHeader & { headerBytes: number } {
  if (!isExr(bytes)) throw new InputError('this is not an OpenEXR file', name);
  try {
    return parseHeader(bytes, name);
  } catch (error) {
    if (error instanceof RangeError) throw new InputError('the OpenEXR header is cut off', name);
    throw error;
  }
}

/** Reads all channels, or those that `wanted` names. @throws InputError as readExrHeader. */
export function readExr(bytes: Uint8Array, name = 'picture.exr', wanted?: (channel: string) => boolean): Picture {
  const header = readExrHeader(bytes, name);
  const { width, height, compression } = header;
  const lines = LINES_PER_BLOCK[compression];
  if (!lines)
    throw new InputError(`the compression ${compression} is not read yet: save the picture as ZIP or NONE`, name);
  const channels = header.channels.map((c) => ({ ...c, data: emptyChannel, skip: wanted ? !wanted(c.name) : false }));
  const lineBytes = channels.reduce((sum, c) => sum + TYPE_BYTES[c.type] * width, 0);
  const blockCount = Math.ceil(height / lines);
  const data = view(bytes);
  if (header.headerBytes + blockCount * 8 > bytes.length)
    throw new InputError('the file ends inside its line table', name);
  for (const channel of channels) if (!channel.skip) channel.data = new Float32Array(width * height);
  for (let b = 0; b < blockCount; b++) {
    const offset = Number(data.getBigUint64(header.headerBytes + b * 8, true));
    if (!(offset >= header.headerBytes && offset + 8 <= bytes.length))
      throw new InputError(`the lines from ${b * lines} on are missing: the file is cut off`, name);
    const first = data.getInt32(offset, true) - header.dataWindow.y;
    const size = data.getInt32(offset + 4, true);
    const count = Math.min(lines, height - first);
    if (first < 0 || first >= height || size < 0 || offset + 8 + size > bytes.length)
      throw new InputError(`the block of lines ${b * lines} is damaged or cut off`, name);
    const packed = bytes.subarray(offset + 8, offset + 8 + size);
    const length = lineBytes * count;
    let raw = packed;
    if (compression !== 'NONE' && size < length) raw = grow(packed, length, `${name}, line ${first}`);
    if (raw.length < length) throw new InputError(`the block of lines ${first} is too short`, name);
    unpackLines(channels, width, first, count, raw);
  }
  const { dataWindow, displayWindow, metadata } = header;
  const kept = channels.filter((c) => !c.skip).map(({ name: n, type, data: d }) => ({ name: n, type, data: d }));
  return { width, height, dataWindow, displayWindow, channels: kept, metadata };
}

const emptyChannel = new Float32Array(0);

function parseHeader(bytes: Uint8Array, place: string): ExrHeader & { headerBytes: number } {
  const data = view(bytes);
  const flags = data.getInt32(4, true);
  if ((flags & 0xff) !== 2) throw new InputError(`version ${flags & 0xff} of OpenEXR is unknown`, place);
  if (flags & 0x200) throw new InputError('tiled OpenEXR files are not read yet: save it in scanlines', place);
  if (flags & 0x800) throw new InputError('deep OpenEXR files are not read: save it as a flat picture', place);
  if (flags & 0x1000) throw new InputError('OpenEXR files of several parts are not read yet: save one part', place);
  let at = 8;
  const text = () => {
    const end = bytes.indexOf(0, at);
    if (end < 0) throw new RangeError();
    const value = new TextDecoder().decode(bytes.subarray(at, end));
    at = end + 1;
    return value;
  };
  const region = (from: number): Region => {
    const x = data.getInt32(from, true);
    const y = data.getInt32(from + 4, true);
    return { x, y, width: data.getInt32(from + 8, true) - x + 1, height: data.getInt32(from + 12, true) - y + 1 };
  };
  const channels: ExrHeader['channels'] = [];
  const metadata: Record<string, string> = {};
  let compression: Compression | undefined;
  let dataWindow: Region | undefined;
  let displayWindow: Region | undefined;
  for (;;) {
    const name = text();
    if (name === '') break;
    const type = text();
    const size = data.getInt32(at, true);
    at += 4;
    const end = at + size;
    if (size < 0 || end > bytes.length) throw new RangeError();
    if (name === 'channels')
      while (at < end - 1) {
        const channel = text();
        const kind = TYPES[data.getInt32(at, true)];
        if (!kind) throw new InputError(`channel ${channel} has an unknown type`, place);
        if (data.getInt32(at + 8, true) !== 1 || data.getInt32(at + 12, true) !== 1)
          throw new InputError(`channel ${channel} is subsampled, which is not read yet`, place);
        channels.push({ name: channel, type: kind });
        at += 16;
      }
    else if (name === 'compression') compression = COMPRESSIONS[bytes[at]];
    else if (name === 'dataWindow') dataWindow = region(at);
    else if (name === 'displayWindow') displayWindow = region(at);
    else if (type === 'string') metadata[name] = new TextDecoder().decode(bytes.subarray(at, end));
    at = end;
  }
  if (!compression || !dataWindow || channels.length === 0)
    throw new InputError('the header lacks its channels, compression or data window', place);
  const { width, height } = dataWindow;
  checkPictureSize(width, height, place);
  return {
    width,
    height,
    dataWindow,
    displayWindow: displayWindow ?? dataWindow,
    compression,
    channels,
    metadata,
    headerBytes: at,
  };
}

function packLines(channels: Channel[], width: number, first: number, count: number): Uint8Array {
  const raw = new Uint8Array(channels.reduce((sum, c) => sum + TYPE_BYTES[c.type], 0) * width * count);
  const data = view(raw);
  let at = 0;
  for (let y = first; y < first + count; y++)
    for (const { type, data: values } of channels) {
      const row = y * width;
      if (type === 'half') for (let x = 0; x < width; x++, at += 2) data.setUint16(at, toHalf(values[row + x]), true);
      else if (type === 'float') for (let x = 0; x < width; x++, at += 4) data.setFloat32(at, values[row + x], true);
      else for (let x = 0; x < width; x++, at += 4) data.setUint32(at, values[row + x], true);
    }
  return raw;
}

function unpackLines(
  channels: (Channel & { skip: boolean })[],
  width: number,
  first: number,
  count: number,
  raw: Uint8Array,
): void {
  const data = view(raw);
  let at = 0;
  for (let y = first; y < first + count; y++)
    for (const { type, data: values, skip } of channels) {
      const row = y * width;
      if (skip) at += TYPE_BYTES[type] * width;
      else if (type === 'half')
        for (let x = 0; x < width; x++, at += 2) values[row + x] = fromHalf(data.getUint16(at, true));
      else if (type === 'float') for (let x = 0; x < width; x++, at += 4) values[row + x] = data.getFloat32(at, true);
      else for (let x = 0; x < width; x++, at += 4) values[row + x] = data.getUint32(at, true);
    }
}

/** ZIP of the format: bytes split into even and odd halves, differences, deflate. Stored as it is where that is not smaller. */
function shrink(raw: Uint8Array, level: ExrWriteOptions['level']): Uint8Array {
  const half = (raw.length + 1) >> 1;
  const mixed = new Uint8Array(raw.length);
  for (let i = 0; i < raw.length; i++) mixed[(i & 1 ? half : 0) + (i >> 1)] = raw[i];
  for (let i = mixed.length - 1; i > 0; i--) mixed[i] = mixed[i] - mixed[i - 1] + 128;
  const packed = zlibSync(mixed, { level });
  return packed.length < raw.length ? packed : raw;
}

function grow(packed: Uint8Array, length: number, place: string): Uint8Array {
  let mixed: Uint8Array;
  try {
    mixed = unzlibSync(packed, { out: new Uint8Array(length) });
  } catch {
    throw new InputError('the compressed lines are damaged', place);
  }
  for (let i = 1; i < mixed.length; i++) mixed[i] = mixed[i - 1] + mixed[i] - 128;
  const raw = new Uint8Array(length);
  const half = (length + 1) >> 1;
  for (let i = 0; i < length; i++) raw[i] = mixed[(i & 1 ? half : 0) + (i >> 1)];
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
function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}
