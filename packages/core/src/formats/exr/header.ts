import type { Region } from '../../image/picture.ts';
import { checkPictureSize, InputError } from '../inputError.ts';
import { COMPRESSIONS, LINES_PER_BLOCK, MAGIC, TYPES, view, type Compression, type ExrChannel } from './layout.ts';

/** One picture of a file: most files hold one part. */
export interface ExrPart {
  /** Empty in files of a single part. */
  name: string;
  dataWindow: Region;
  displayWindow: Region;
  compression: Compression;
  channels: ExrChannel[];
  metadata: Record<string, string>;
  /** x, y of red, green, blue and white; null where the file does not say, which means Rec. 709. */
  chromaticities: number[] | null;
  /** Size of the tiles, or null for scanlines. */
  tiles: { width: number; height: number } | null;
  /** Entries of its table of places: blocks of the full picture come first. */
  chunks: number;
  /** Where its table of places stands. */
  tableAt: number;
}

const TILED = 0x200;
const DEEP = 0x800;
const MANY_PARTS = 0x1000;
const MOST_PARTS = 1024;

/** Whether bytes start like an OpenEXR file. */
export function isExr(bytes: Uint8Array): boolean {
  return bytes.length > 8 && view(bytes).getInt32(0, true) === MAGIC;
}

/** @throws InputError where the file is damaged or uses a form that is not read, naming it. */
export function readParts(bytes: Uint8Array, place: string): { parts: ExrPart[]; numbered: boolean } {
  if (!isExr(bytes)) throw new InputError('this is not an OpenEXR file', place);
  try {
    return new HeaderReader(bytes, place).read();
  } catch (error) {
    if (error instanceof RangeError) throw new InputError('the OpenEXR header is damaged or cut off', place);
    throw error;
  }
}

/** One for all of them: a proof has hundreds of names. */
const decoder = new TextDecoder();

class HeaderReader {
  private at = 8;
  private readonly data: DataView;
  constructor(
    private readonly bytes: Uint8Array,
    private readonly place: string,
  ) {
    this.data = view(bytes);
  }

  read(): { parts: ExrPart[]; numbered: boolean } {
    const flags = this.data.getInt32(4, true);
    if ((flags & 0xff) !== 2) throw new InputError(`version ${flags & 0xff} of OpenEXR is unknown`, this.place);
    if (flags & DEEP) throw new InputError('deep OpenEXR files are not read: save it as a flat picture', this.place);
    const numbered = (flags & MANY_PARTS) !== 0;
    const parts: ExrPart[] = [];
    do {
      if (numbered && this.bytes[this.at] === 0) break;
      if (parts.length === MOST_PARTS) throw new InputError('it has more than 1024 parts', this.place);
      parts.push(this.readPart((flags & TILED) !== 0));
    } while (numbered);
    if (numbered) this.at++;
    if (parts.length === 0) throw new InputError('it holds no part', this.place);
    for (const part of parts) {
      part.tableAt = this.at;
      this.at += part.chunks * 8;
      if (this.at > this.bytes.length)
        throw new InputError('the file is cut off inside its table of places', this.place);
    }
    return { parts, numbered };
  }

  private readPart(flaggedTiled: boolean): ExrPart {
    const { bytes, data, place } = this;
    const part: Partial<ExrPart> & Pick<ExrPart, 'metadata' | 'chromaticities'> = {
      name: '',
      metadata: {},
      chromaticities: null,
      tiles: null,
      channels: [],
    };
    let kind = '';
    let levels = 0;
    let chunks: number | null = null;
    for (;;) {
      const name = this.text();
      if (name === '') break;
      const type = this.text();
      const size = data.getInt32(this.at, true);
      this.at += 4;
      const end = this.at + size;
      if (size < 0 || end > bytes.length) throw new RangeError();
      const value = () => decoder.decode(bytes.subarray(this.at, end));
      if (name === 'channels') part.channels = this.readChannels(end);
      else if (name === 'compression') part.compression = COMPRESSIONS[bytes[this.at]];
      else if (name === 'chromaticities' && size === 32)
        part.chromaticities = Array.from({ length: 8 }, (_, i) => data.getFloat32(this.at + i * 4, true));
      else if (name === 'dataWindow') part.dataWindow = this.region();
      else if (name === 'displayWindow') part.displayWindow = this.region();
      else if (name === 'tiles') {
        part.tiles = { width: data.getUint32(this.at, true), height: data.getUint32(this.at + 4, true) };
        levels = bytes[this.at + 8] & 15;
      } else if (name === 'chunkCount') chunks = data.getInt32(this.at, true);
      else if (name === 'name' && type === 'string') part.name = value();
      else if (name === 'type' && type === 'string') kind = value();
      else if (type === 'string') part.metadata[name] = value();
      this.at = end;
    }
    if (kind.startsWith('deep'))
      throw new InputError('deep OpenEXR files are not read: save it as a flat picture', place);
    const { channels, compression, dataWindow, displayWindow = dataWindow } = part;
    if (!compression || !dataWindow || !displayWindow || !channels || channels.length === 0)
      throw new InputError('the header lacks its channels, compression or data window', place);
    checkPictureSize(dataWindow.width, dataWindow.height, place);
    const tiled = kind === '' ? flaggedTiled : kind === 'tiledimage';
    if (tiled && !(part.tiles && part.tiles.width > 0 && part.tiles.height > 0))
      throw new InputError('its tiles have no size', place);
    if (!tiled) part.tiles = null;
    const counted = countBlocks(dataWindow, compression, part.tiles ?? null, levels);
    if (chunks !== null && chunks < counted.full) throw new InputError('its table of places is too short', place);
    return { ...part, channels, compression, dataWindow, displayWindow, tiles: part.tiles ?? null, chunks: chunks ?? counted.all, tableAt: 0, name: part.name! }; // prettier-ignore
  }

  private readChannels(end: number): ExrChannel[] {
    const { bytes, data } = this;
    const channels: ExrChannel[] = [];
    while (this.at < end - 1) {
      const name = this.text();
      if (this.at + 16 > end) throw new RangeError();
      const type = TYPES[data.getInt32(this.at, true)];
      const [xSampling, ySampling] = [data.getInt32(this.at + 8, true), data.getInt32(this.at + 12, true)];
      if (!type) throw new InputError(`channel ${name} has an unknown type`, this.place);
      if (!(xSampling >= 1 && ySampling >= 1)) throw new InputError(`channel ${name} is sampled 0 times`, this.place);
      channels.push({ name, type, xSampling, ySampling, linear: bytes[this.at + 4] !== 0 });
      this.at += 16;
    }
    return channels;
  }

  private region(): Region {
    const [left, top, right, bottom] = [0, 4, 8, 12].map((k) => this.data.getInt32(this.at + k, true));
    return { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
  }

  private text(): string {
    const end = this.bytes.indexOf(0, this.at);
    if (end < 0 || end - this.at > 255) throw new RangeError();
    const value = decoder.decode(this.bytes.subarray(this.at, end));
    this.at = end + 1;
    return value;
  }
}

/** Blocks of the full picture, and of all levels of detail. */
function countBlocks(
  { width, height }: Region,
  compression: Compression,
  tiles: ExrPart['tiles'],
  levels: number,
): { full: number; all: number } {
  if (!tiles) {
    const count = Math.ceil(height / LINES_PER_BLOCK[compression]);
    return { full: count, all: count };
  }
  const at = (w: number, h: number) => Math.ceil(w / tiles.width) * Math.ceil(h / tiles.height);
  const full = at(width, height);
  if (levels === 0) return { full, all: full };
  // rounding up or down gives the same count but for the last levels; files of several levels carry their count
  let all = 0;
  if (levels === 1)
    for (let w = width, h = height; ; w = Math.max(1, w >> 1), h = Math.max(1, h >> 1)) {
      all += at(w, h);
      if (w === 1 && h === 1) break;
    }
  else
    for (let w = width; ; w = Math.max(1, w >> 1)) {
      for (let h = height; ; h = Math.max(1, h >> 1)) {
        all += at(w, h);
        if (h === 1) break;
      }
      if (w === 1) break;
    }
  return { full, all };
}
