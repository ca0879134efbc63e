import type { PackedPicture, Picture } from '../../image/index.ts';
import { plainDeflate, type Deflate, type Level } from './deflate.ts';
import { blocksOf, exrPieces, onlyPart } from './exrFile.ts';
import { LINES_PER_BLOCK } from './layout.ts';
import { bytesOfLine, emptyChannels, packDifferences, packLines } from './packLines.ts';
import { packPiz } from './packPiz.ts';

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
  const { height, width } = picture;
  const part = onlyPart(picture.channels);
  const { channels } = part;
  const empty = emptyChannels(channels);
  const lines = LINES_PER_BLOCK[compression];
  const line = bytesOfLine(channels, width);
  const memory = new Uint8Array(line * lines);
  const blocks = Array.from({ length: blocksOf(height, compression) }, (_, b) => {
    const count = Math.min(lines, height - b * lines);
    const raw = () => packLines(channels, width, b * lines, count);
    const pack = (): Uint8Array => {
      if (compression === 'NONE') return raw();
      if (compression === 'PIZ') return packPiz(raw(), { x: 0, y: 0, width, height: count, channels: channels.map(({ name, type }) => ({ name, type, xSampling: 1, ySampling: 1, linear: false })) }); // prettier-ignore
      const mixed = memory.subarray(0, line * count);
      packDifferences(channels, empty, width, b * lines, count, mixed);
      return deflate(mixed, level);
    };
    const packed = pack();
    // stored as it is where it does not get smaller
    return packed.length < line * count ? packed : raw();
  });
  return joined(exrPieces(picture, [part], compression, [blocks]));
}

function joined(pieces: Uint8Array[]): Uint8Array {
  const bytes = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return bytes;
}
