// Pictures that are open: small ones whole, of large ones what was asked for, so that a frame of forty layers at 4K is
// looked at layer by layer.
import { deflateSync, inflateSync } from 'node:zlib';
import { applyRoles, LIGHT_PREFIX, LIGHT_ROLES, SUM_GAP, type LayerMapping } from '@dusting/core/frames';
import { exrRanges, readExr, readExrHeader, readIdMattes } from '@dusting/core/formats';
import { MAIN_LAYER, splitChannelName, type Picture } from '@dusting/core/image';
import { DENOISED, DENOISED_FROM } from '@dusting/core/render';
import { SparseFile, type FileStore } from './sparseFile.ts';

/** The engine's own form: a large frame waits for inflating most (bench/README.md). */
export const nativeInflate = (packed: Uint8Array, length: number) => inflateSync(packed, { maxOutputLength: length });
export const nativeDeflate = (raw: Uint8Array, level: number) => deflateSync(raw, { level });

/** A stored picture, and what its layers are where another renderer named them. */
export interface PictureSource {
  blob: string;
  mapping: LayerMapping | null;
}
/** What is wanted of a picture: layers by their names, rows of the frame. What is not said is wanted whole. */
export interface PictureWish {
  layers?: RegExp;
  rows?: { y: number; height: number };
}

/** Bytes of a file that tell what is in it, at first: names of layers and mattes, and where each of its blocks stands. */
const HEAD = 1 << 18;
/** Some 50 kB each, where a proof has all of its layers. */
const MOST_OUTLINES = 500;

export const OPEN_DEFAULTS = {
  /** Bytes of all channels as floats above which a picture is read in parts: of a proof, from 480 x 270 on. */
  large: 64 * 2 ** 20,
  /** Bytes of floats that are kept open; the last one always is. */
  kept: 1536 * 2 ** 20,
};

/** A file of OpenEXR without its pixels. */
export function outlineOf(file: Uint8Array): Picture {
  const { channels, metadata, dataWindow, displayWindow, width, height } = readExrHeader(file);
  const empty = channels.map(({ name, type }) => ({ name, type, data: new Float32Array(0) }));
  return { width, height, dataWindow, displayWindow, channels: empty, metadata };
}
export const isLarge = ({ width, height, channels }: Picture, { large } = OPEN_DEFAULTS) =>
  width * height * channels.length * 4 > large;

/** A file, and as much of its beginning as tells what is in it. */
interface BegunFile {
  file: SparseFile;
  head: Uint8Array;
}

const bytesOf = (picture: Picture) => picture.channels.reduce((sum, c) => sum + c.data.byteLength, 0);

export class OpenPictures {
  /** In the order of their last use. */
  private readonly open = new Map<string, Picture>();
  private readonly reading = new Map<string, Promise<Picture>>();
  private readonly outlines = new Map<string, Picture>();
  /** The file of the picture that was asked for last. */
  private file: { blob: string; begun: Promise<BegunFile> } | null = null;

  constructor(
    private readonly store: FileStore,
    private readonly options = OPEN_DEFAULTS,
  ) {}

  /** The picture, or, of a large one, at least what is wanted of it. */
  async get(source: PictureSource, wish: PictureWish = {}): Promise<Picture> {
    const outline = await this.outline(source);
    const large = isLarge(outline, this.options);
    const key = JSON.stringify([source, large && [String(wish.layers), wish.rows]]);
    const found = this.open.get(key) ?? (await this.readOnce(key, () => this.read(source, outline, large ? wish : {}, large))); // prettier-ignore
    this.open.delete(key);
    this.open.set(key, found);
    let kept = [...this.open.values()].reduce((sum, p) => sum + bytesOf(p), 0);
    for (const [oldest, picture] of this.open) {
      if (kept <= this.options.kept || oldest === key) break;
      kept -= bytesOf(picture);
      this.open.delete(oldest);
    }
    return found;
  }

  /** Two who ask for the same at once get the same. */
  private readOnce(key: string, read: () => Promise<Picture>): Promise<Picture> {
    const under = this.reading.get(key) ?? read().finally(() => this.reading.delete(key));
    this.reading.set(key, under);
    return under;
  }

  /** The picture without its pixels: names, windows, attributes. */
  async outline(source: PictureSource): Promise<Picture> {
    const key = JSON.stringify(source);
    const known = this.outlines.get(key);
    if (known) return known;
    const bare = outlineOf((await this.start(source.blob)).head);
    const outline = source.mapping ? applyRoles(bare, source.mapping) : bare;
    this.outlines.set(key, outline);
    if (this.outlines.size > MOST_OUTLINES) this.outlines.delete(this.outlines.keys().next().value!);
    return outline;
  }

  private async read({ blob, mapping }: PictureSource, outline: Picture, wish: PictureWish, large: boolean) {
    const { file, head } = await this.start(blob);
    // channels stand in the same order under both of their names
    const names = readExrHeader(head).channels.map((c) => c.name);
    const wanted = new Set(names.filter((_, i) => !wish.layers || wish.layers.test(splitChannelName(outline.channels[i].name).layer))); // prettier-ignore
    const channels = (name: string) => wanted.has(name);
    await this.orForget(file.need(exrRanges(head, file.bytes.length, { channels, rows: wish.rows }, blob)!));
    if (!large) this.file = null; // what was read of it is kept
    const read = readExr(file.bytes, blob, { channels, rows: wish.rows, inflate: nativeInflate });
    return mapping ? applyRoles(read, mapping) : read;
  }

  private start(blob: string): Promise<BegunFile> {
    if (this.file?.blob !== blob) this.file = { blob, begun: this.begin(blob) };
    return this.orForget(this.file.begun);
  }

  private async begin(blob: string): Promise<BegunFile> {
    const file = new SparseFile(this.store, blob, await this.store.length(blob));
    for (let size = HEAD; ; size *= 4) {
      const head = file.bytes.subarray(0, size);
      await file.need([[0, head.length]]);
      if (exrRanges(head, file.bytes.length, { channels: () => false }, blob)) return { file, head };
    }
  }

  /** A file that could not be fetched is tried again. */
  private async orForget<T>(fetched: Promise<T>): Promise<T> {
    return fetched.catch((error: unknown) => {
      this.file = null;
      throw error;
    });
  }
}

const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
const only = (...layers: string[]) => new RegExp(`^(${layers.join('|')})$`);

/** These layers, by their names. */
export const layersNamed = (names: string[]) => only(...names.map(escape));

/** Layers of the light, and what they add up to. */
export const LIGHT_LAYERS = only(MAIN_LAYER, ...LIGHT_ROLES, `${escape(LIGHT_PREFIX)}.*`);
/** What the noise and the limits of a region are read from. */
export const STATISTICS_LAYERS = only(MAIN_LAYER, '(error|halves|cut|rays|probeRays|branchRays|kindTime|spread|splits)(\\..*)?', 'samples', 'time', 'early', 'brightest'); // prettier-ignore

/** What a layer on view needs: itself, what it is computed from, the parts of a sum, or the ranks of a matte. */
export function layersFor(layer: string, outline: Picture): RegExp {
  if (layer === SUM_GAP) return LIGHT_LAYERS;
  if (layer === DENOISED) return DENOISED_FROM;
  const matte = readIdMattes(outline).find((m) => layer.startsWith(`matte.${m.name}.`));
  return matte ? new RegExp(`^${escape(matte.name)}\\d\\d$`) : only(escape(layer));
}
