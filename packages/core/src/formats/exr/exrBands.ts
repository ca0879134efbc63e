import type { PackedChannel, PackedPicture, Picture, Region } from '../../image/index.ts';
import type { Level } from './deflate.ts';
import { blocksOf, exrPieces, onlyPart, partsOf, type Part } from './exrFile.ts';
import { LINES_PER_BLOCK } from './layout.ts';
import { bytesOfLine, emptyChannels, packDifferences, packLines } from './packLines.ts';
import { EXR_WRITE_DEFAULTS } from './writeExr.ts';

/** Blocks that are deflated at the same time. */
const AT_ONCE = 4;
const LINES = LINES_PER_BLOCK.ZIP;

export interface ExrBandOptions {
  level?: Level;
  /** May run on other threads. */
  deflate: (raw: Uint8Array, level: Level) => Promise<Uint8Array>;
}

interface HeldPart extends Part<Pick<PackedChannel, 'name' | 'type'>> {
  /** Packed, from the top; each as soon as its lines are there. */
  blocks: Uint8Array[];
}

/**
 * A picture of many layers with ZIP, a part for each kind of layer, one after the other: who reads one of them reads few of its bytes
 * (exrRanges). Its lines come in bands and are deflated as they come, several blocks at once: of a frame of 1920 x 1080 the
 * file is held, a third of its bytes, and nothing is left to do at the end but to put it together.
 */
export class ExrBands {
  private readonly parts = new Map<string, HeldPart>();
  /** One for each block that is deflated, filled again: of a large frame 0.6 GB would wait to be collected. */
  private readonly memory: Uint8Array[] = Array.from({ length: AT_ONCE }, () => new Uint8Array(0));
  private adding = Promise.resolve();
  private readonly level: Level;
  private readonly deflate: ExrBandOptions['deflate'];

  /** @param window of the picture */
  constructor(
    private readonly window: Region,
    { deflate, level = EXR_WRITE_DEFAULTS.level }: ExrBandOptions,
  ) {
    this.deflate = deflate;
    this.level = level;
  }

  /**
   * Adds lines of some parts, all channels of a part together.
   * @param band as wide as the window; it begins a multiple of 16 lines below the top, and ends so or at the bottom
   * @param channels values of the band, which stay as they are until this is done
   */
  add(band: Region, channels: PackedChannel[]): Promise<void> {
    return (this.adding = this.adding.then(() => this.pack(band, channels)));
  }

  /** Whether lines of a part were added. */
  has(part: string): boolean {
    return this.parts.has(part);
  }

  private async pack({ height, width, y }: Region, channels: PackedChannel[]): Promise<void> {
    const empty = emptyChannels(channels);
    const jobs = partsOf(channels).flatMap((part) => {
      const held = this.held(part);
      return Array.from({ length: blocksOf(height, 'ZIP') }, (_, b) => ({ ...part, held, first: b * LINES, count: Math.min(LINES, height - b * LINES) })); // prettier-ignore
    });
    const waiting = jobs.values();
    const work = async (_: unknown, k: number) => {
      for (const { channels: own, count, first, held } of waiting) {
        const bytes = bytesOfLine(own, width) * count;
        if (this.memory[k].length < bytes) this.memory[k] = new Uint8Array(bytes);
        const mixed = this.memory[k].subarray(0, bytes);
        packDifferences(own, empty, width, first, count, mixed);
        const packed = await this.deflate(mixed, this.level);
        // stored as it is where it does not get smaller; a copy, as what is packed may lie in memory as large as what it is made of
        held.blocks[(y - this.window.y + first) / LINES] = packed.length < bytes ? new Uint8Array(packed) : packLines(own, width, first, count); // prettier-ignore
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, work));
  }

  private held({ channels, name }: Part): HeldPart {
    let held = this.parts.get(name);
    if (!held) {
      held = { name, channels: channels.map((c) => ({ name: c.name, type: c.type })), blocks: [] };
      this.parts.set(name, held);
    }
    return held;
  }

  /** The file, piece by piece and in their order. */
  pieces(picture: Pick<Picture, 'displayWindow' | 'metadata'>): Uint8Array[] {
    const channels = [...this.parts.values()].flatMap((part) => part.channels);
    const parts = partsOf(channels);
    const blocks = parts.map(({ name }) => this.parts.get(name)!.blocks);
    return exrPieces({ ...picture, dataWindow: this.window }, parts.length > 1 ? parts : [onlyPart(channels)], 'ZIP', blocks); // prettier-ignore
  }
}

/** A picture that is held as a whole, as the pieces of such a file. */
export async function writeExrParts(picture: Picture | PackedPicture, options: ExrBandOptions): Promise<Uint8Array[]> {
  const bands = new ExrBands(picture.dataWindow, options);
  await bands.add(picture.dataWindow, picture.channels);
  return bands.pieces(picture);
}
