// What the parts of the OpenEXR reader and writer share. From the public documents of the format ("OpenEXR File Layout",
// openexr.com) and, for the packed forms, its reference library's documented algorithms; from memory where they say less.
import type { Region } from '../../image/picture.ts';

export const MAGIC = 20000630;
export const COMPRESSIONS = ['NONE', 'RLE', 'ZIPS', 'ZIP', 'PIZ', 'PXR24', 'B44', 'B44A', 'DWAA', 'DWAB'] as const;
export type Compression = (typeof COMPRESSIONS)[number];
export const LINES_PER_BLOCK: Record<Compression, number> = {
  NONE: 1,
  RLE: 1,
  ZIPS: 1,
  ZIP: 16,
  PIZ: 32,
  PXR24: 16,
  B44: 32,
  B44A: 32,
  DWAA: 32,
  DWAB: 256,
};
export const TYPES = ['uint', 'half', 'float'] as const;
export type PixelType = (typeof TYPES)[number];
export const TYPE_BYTES: Record<PixelType, number> = { uint: 4, half: 2, float: 4 };

export interface ExrChannel {
  name: string;
  type: PixelType;
  xSampling: number;
  ySampling: number;
  /** Its numbers are perceptually linear: the lossy forms treat them otherwise. */
  linear: boolean;
}

/**
 * A rectangle of pixels that is packed as one. Unpacked it is, line by line, the numbers of each channel in the order of
 * the header, little-endian; channels that are sampled less often stand in fewer lines and with fewer numbers.
 */
export interface ExrBlock extends Region {
  channels: ExrChannel[];
}

/** Samples of one axis that fall on the pixels from .. from + count - 1. */
export function samplesOn(sampling: number, from: number, count: number): number {
  const last = from + count - 1;
  const first = Math.ceil(from / sampling) * sampling;
  return first > last ? 0 : Math.floor((last - first) / sampling) + 1;
}

export const samplesAcross = (c: ExrChannel, block: Region) => samplesOn(c.xSampling, block.x, block.width);
export const samplesDown = (c: ExrChannel, block: Region) => samplesOn(c.ySampling, block.y, block.height);
export const isOnLine = (c: ExrChannel, y: number) => y % c.ySampling === 0;

export function bytesOf(block: ExrBlock): number {
  return block.channels.reduce(
    (sum, c) => sum + TYPE_BYTES[c.type] * samplesAcross(c, block) * samplesDown(c, block),
    0,
  );
}

/** Goes through the lines of a block: `visit` is called for each channel of each line, in the order of the unpacked form. */
export function eachLine(block: ExrBlock, visit: (channel: number, samples: number) => void): void {
  const across = block.channels.map((c) => samplesAcross(c, block));
  for (let y = block.y; y < block.y + block.height; y++)
    block.channels.forEach((c, i) => isOnLine(c, y) && visit(i, across[i]));
}

/** The unpacked form of channels that stand one after the other. */
export function joinPlanes(block: ExrBlock, planes: Uint8Array[], length: number): Uint8Array {
  const out = new Uint8Array(length);
  const places = planes.map(() => 0);
  let to = 0;
  eachLine(block, (c, samples) => {
    const bytes = samples * TYPE_BYTES[block.channels[c].type];
    out.set(planes[c].subarray(places[c], places[c] + bytes), to);
    places[c] += bytes;
    to += bytes;
  });
  return out;
}

export function view(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

/** Something inside of a packed block that cannot be: caught where the block is named. */
export class DamagedBlock extends Error {}
