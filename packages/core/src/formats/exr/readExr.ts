import { intersectRegions, type Channel, type Picture, type Region } from '../../image/picture.ts';
import { checkPictureSize, InputError } from '../inputError.ts';
import { fromHalf } from '../half.ts';
import { unpackB44 } from './b44.ts';
import { expandRuns, plainInflate, sumAndJoin, unpackZip, type Inflate, type Unpacking } from './deflate.ts';
import { unpackDwa } from './dwa.ts';
import { isExr, readParts, type ExrPart } from './header.ts';
import { bytesOf, DamagedBlock, eachLine, LINES_PER_BLOCK, view, type Compression, type ExrBlock, type PixelType } from './layout.ts'; // prettier-ignore
import { unpackPiz } from './piz.ts';
import { unpackPxr24 } from './pxr24.ts';

const UNPACK: Record<Compression, (packed: Uint8Array, block: ExrBlock, length: number, how: Unpacking) => Uint8Array> =
  {
    NONE: (packed) => packed,
    RLE: (packed, _, length, { wanted }) => sumAndJoin(expandRuns(packed, length), wanted),
    ZIPS: (packed, _, length, how) => unpackZip(packed, length, how),
    ZIP: (packed, _, length, how) => unpackZip(packed, length, how),
    PIZ: unpackPiz,
    PXR24: unpackPxr24,
    B44: unpackB44,
    B44A: unpackB44,
    DWAA: unpackDwa,
    DWAB: unpackDwa,
  };
/** More than any block of a form makes of one byte: nothing is set aside for a small file that claims to be large. */
const MOST_GAIN: Record<Compression, number> = { NONE: 1, RLE: 130, ZIPS: 1100, ZIP: 1100, PIZ: 1100, PXR24: 1500, B44: 12, B44A: 12, DWAA: 70000, DWAB: 70000 }; // prettier-ignore

export interface ExrHeader {
  width: number;
  height: number;
  dataWindow: Region;
  displayWindow: Region;
  /** Of the first part. */
  compression: Compression;
  parts: number;
  tiled: boolean;
  channels: { name: string; type: PixelType }[];
  /** Of the first part: x, y of red, green, blue and white; null where it does not say, which means Rec. 709. */
  chromaticities: number[] | null;
  metadata: Record<string, string>;
}

/** @throws InputError where the file is damaged or uses a form that is not read, naming it. */
export function readExrHeader(bytes: Uint8Array, name = 'picture.exr'): ExrHeader {
  return headerOf(readParts(bytes, name).parts);
}

function headerOf(parts: ExrPart[]): ExrHeader {
  const [first] = parts;
  const dataWindow = parts.map((p) => p.dataWindow).reduce(around);
  return {
    width: dataWindow.width,
    height: dataWindow.height,
    dataWindow,
    displayWindow: first.displayWindow,
    compression: first.compression,
    parts: parts.length,
    tiled: first.tiles !== null,
    chromaticities: first.chromaticities,
    channels: parts.flatMap((p) => p.channels.map((c) => ({ name: fullName(p, c.name, parts), type: c.type }))),
    metadata: Object.assign({}, ...parts.map((p) => p.metadata).reverse()) as Record<string, string>,
  };
}

/** What is read of a picture; what is not said is read whole. */
export interface ExrWanted {
  channels?: (name: string) => boolean;
  rows?: { y: number; height: number };
  /** The machine's own, where there is a quicker one. */
  inflate?: Inflate;
}

/**
 * Reads all channels and rows, or those that are wanted: a large picture is looked at layer by layer. Channels of several
 * parts carry the name of their part in front where two would have the same; where parts differ in their windows, what a
 * part does not cover is 0. Channels that are sampled less often are repeated. Levels of detail are left out.
 * @throws InputError as readExrHeader.
 */
export function readExr(
  bytes: Uint8Array,
  name = 'picture.exr',
  { channels: wanted, rows, inflate = plainInflate }: ExrWanted = {},
): Picture {
  const { parts, numbered } = readParts(bytes, name);
  const header = headerOf(parts);
  const { displayWindow, metadata, width } = header;
  checkPictureSize(width, header.height, name);
  const dataWindow = rows ? intersectRegions(header.dataWindow, { ...header.dataWindow, y: rows.y, height: rows.height }) : header.dataWindow; // prettier-ignore
  if (!dataWindow) throw new InputError('the rows asked for lie outside of the picture', name);
  const { height } = dataWindow;
  const claimed = parts.reduce((sum, p) => sum + bytesOf({ ...p.dataWindow, channels: p.channels }) / MOST_GAIN[p.compression], 0); // prettier-ignore
  if (claimed > bytes.length) throw new InputError('the file is cut off: it holds less than its size needs', name);
  const channels: Channel[] = [];
  for (const part of parts) {
    const own = part.channels.map((c) => ({ name: fullName(part, c.name, parts), type: c.type }));
    const targets = own.map((c) => (wanted && !wanted(c.name) ? null : new Float32Array(width * height)));
    if (targets.every((t) => t === null)) continue;
    readPart(bytes, part, numbered, targets, dataWindow, inflate, name);
    own.forEach((c, i) => targets[i] && channels.push({ ...c, data: targets[i] }));
  }
  return { width, height, dataWindow, displayWindow, channels, metadata };
}

export function fullName(part: ExrPart, channel: string, parts: ExrPart[]): string {
  const twice = parts.filter((p) => p.channels.some((c) => c.name === channel)).length > 1;
  return twice && part.name !== '' ? `${part.name}.${channel}` : channel;
}

function around(a: Region, b: Region): Region {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)];
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}

function readPart(
  bytes: Uint8Array,
  part: ExrPart,
  numbered: boolean,
  targets: (Float32Array | null)[],
  whole: Region,
  inflate: Inflate,
  name: string,
): void {
  const data = view(bytes);
  const { channels, compression, dataWindow, tiles } = part;
  const lines = LINES_PER_BLOCK[compression];
  const across = tiles ? Math.ceil(dataWindow.width / tiles.width) : 1;
  const count = tiles ? across * Math.ceil(dataWindow.height / tiles.height) : Math.ceil(dataWindow.height / lines);
  const headBytes = (numbered ? 4 : 0) + (tiles ? 20 : 8);
  for (let b = 0; b < count; b++) {
    // the table is in the order of the lines, however they lie in the file: of other rows nothing need be there
    const first = dataWindow.y + b * lines;
    if (!tiles && (first >= whole.y + whole.height || first + lines <= whole.y)) continue;
    const what = tiles ? `tile ${b}` : `the block of lines from ${first} on`;
    const damaged = (why: string) => new InputError(`${what} is damaged or cut off (${why})`, name);
    const offset = Number(data.getBigUint64(part.tableAt + b * 8, true));
    if (!(offset > part.tableAt && offset + headBytes <= bytes.length)) throw damaged('it is not in the file');
    let at = offset + (numbered ? 4 : 0);
    const block: ExrBlock = {
      channels,
      x: dataWindow.x,
      y: data.getInt32(at, true),
      width: dataWindow.width,
      height: 0,
    };
    if (tiles) {
      const [column, row, level, levelY] = [0, 4, 8, 12].map((k) => data.getInt32(at + k, true));
      if (column !== b % across || row !== Math.floor(b / across) || level !== 0 || levelY !== 0) throw damaged('it stands in another place'); // prettier-ignore
      block.x += column * tiles.width;
      block.y = dataWindow.y + row * tiles.height;
      block.width = Math.min(tiles.width, dataWindow.x + dataWindow.width - block.x);
      block.height = Math.min(tiles.height, dataWindow.y + dataWindow.height - block.y);
      at += 16;
    } else {
      if (block.y < dataWindow.y || block.y >= dataWindow.y + dataWindow.height) throw damaged('its line is outside');
      block.height = Math.min(lines, dataWindow.y + dataWindow.height - block.y);
      at += 4;
    }
    if (block.y >= whole.y + whole.height || block.y + block.height <= whole.y) continue;
    const size = data.getInt32(at, true);
    at += 4;
    if (size < 0 || at + size > bytes.length) throw damaged('the file ends inside of it');
    const length = bytesOf(block);
    let raw = bytes.subarray(at, at + size);
    try {
      // what does not get smaller is stored as it is
      if (size < length)
        raw = UNPACK[compression](raw, block, length, { inflate, wanted: wantedBytes(block, targets) });
    } catch (error) {
      if (error instanceof DamagedBlock || error instanceof RangeError) throw damaged(error.message);
      throw error;
    }
    if (raw.length < length) throw damaged('it is too short');
    spread(raw, block, targets, whole);
  }
}

/** Where the numbers of the wanted channels stand among the bytes of a block, as pairs of places; null for all of them. */
function wantedBytes(block: ExrBlock, targets: (Float32Array | null)[]): number[] | null {
  if (targets.every((t) => t)) return null;
  const places: number[] = [];
  let at = 0;
  eachLine(block, (c, samples) => {
    const end = at + samples * (block.channels[c].type === 'half' ? 2 : 4);
    if (targets[c]) {
      if (places.at(-1) === at) places[places.length - 1] = end;
      else places.push(at, end);
    }
    at = end;
  });
  return places;
}

/** Puts the numbers of a block in their places. */
function spread(raw: Uint8Array, block: ExrBlock, targets: (Float32Array | null)[], whole: Region): void {
  const data = view(raw);
  let at = 0;
  let line = block.y;
  let seen = -1;
  eachLine(block, (c, samples) => {
    const { type, xSampling, ySampling } = block.channels[c];
    const bytes = type === 'half' ? 2 : 4;
    const target = targets[c];
    // channels come in order on each line, so an earlier one tells that a new line has begun
    while (line % ySampling !== 0 || c <= seen) {
      line++;
      seen = -1;
    }
    seen = c;
    if (target && line >= whole.y - ySampling + 1 && line < whole.y + whole.height) {
      const row = (line - whole.y) * whole.width - whole.x;
      if (xSampling === 1 && ySampling === 1) {
        const to = row + block.x;
        if (type === 'half')
          for (let i = 0; i < samples; i++) target[to + i] = fromHalf(data.getUint16(at + i * 2, true));
        else if (type === 'float') for (let i = 0; i < samples; i++) target[to + i] = data.getFloat32(at + i * 4, true);
        else for (let i = 0; i < samples; i++) target[to + i] = data.getUint32(at + i * 4, true);
      } else {
        const first = Math.ceil(block.x / xSampling) * xSampling;
        for (let i = 0; i < samples; i++) {
          const value = type === 'half' ? fromHalf(data.getUint16(at + i * 2, true)) : type === 'float' ? data.getFloat32(at + i * 4, true) : data.getUint32(at + i * 4, true); // prettier-ignore
          const x0 = first + i * xSampling;
          for (let y = Math.max(line, whole.y); y < Math.min(line + ySampling, whole.y + whole.height); y++)
            for (let x = x0; x < Math.min(x0 + xSampling, whole.x + whole.width); x++)
              target[(y - whole.y) * whole.width + x - whole.x] = value;
        }
      }
    }
    at += samples * bytes;
  });
}

export { isExr };
