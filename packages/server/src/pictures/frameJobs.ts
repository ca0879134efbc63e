// Frames of other renderers, on their way in.
import { applyRoles, proposeRoles, readFrame, sourceLayers, sourceOf, type FrameFiles, type LayerMapping, type SourceLayer } from '@dusting/core/frames'; // prettier-ignore
import {
  InputError,
  isExr,
  matteLayers,
  PLAIN_SPACE,
  readExrHeader,
  readTexture,
  writeExr,
} from '@dusting/core/formats';
import { shrinkPicture } from '../node/coarse.ts';
import type { TakenFrame } from '../store/frameStore.ts';
import { isLarge, nativeDeflate, nativeInflate, outlineOf, type OpenPictures } from './openPictures.ts';

export const frameJobs = (pictures: OpenPictures) => ({
  /** The layers of a frame as its files name them. */
  async sourceLayers(blob: string): Promise<SourceLayer[]> {
    const source = await pictures.outline({ blob, mapping: null });
    const hidden = new Set(matteLayers(source));
    return sourceLayers(source).filter(({ name }) => !hidden.has(name));
  },

  /** Reads a picture for a texture or an environment. @throws InputError */
  textureSize(name: string, bytes: Uint8Array): { width: number; height: number } {
    const { width, height } = placed(() => readTexture(bytes, name, PLAIN_SPACE));
    return { width, height };
  },

  /** Reads the files of one frame. @param known what was said of layers; for others it is proposed */
  async takeFrame(group: FrameFiles, known: LayerMapping): Promise<TakenFrame & { roles: LayerMapping }> {
    const bytes = placed(() => keptAs(group));
    const outline = bytes && placed(() => outlineOf(bytes));
    const large = outline && isLarge(outline);
    // of a large one only what is seen at once is read; what is wrong in the rest is said where it is looked at
    const seen = large ? proposeRoles(outline, known) : null;
    const channels = seen ? (name: string) => seen[sourceOf({ name }).layer] === 'beauty' : undefined;
    const read = placed(() => readFrame(group, { inflate: nativeInflate, channels }));
    const roles = seen ?? proposeRoles(read, known);
    const { displayWindow, dataWindow } = read;
    return {
      number: group.number,
      bytes: bytes ?? writeExr(read, { deflate: nativeDeflate }),
      frame: { width: displayWindow.width, height: displayWindow.height },
      region: dataWindow,
      coarse: shrinkPicture(applyRoles(read, roles)),
      roles,
    };
  },
});

/** The bytes of a frame that is one OpenEXR file with its frame at the origin: it is kept as it is. */
function keptAs({ files }: FrameFiles): Uint8Array | null {
  const [{ file }] = files;
  if (files.length > 1 || !isExr(file.bytes)) return null;
  const { x, y } = readExrHeader(file.bytes, file.name).displayWindow;
  return x === 0 && y === 0 ? file.bytes : null;
}

/** Errors leave this thread with their message alone: the place goes into it. */
function placed<T>(read: () => T): T {
  try {
    return read();
  } catch (error) {
    throw error instanceof InputError ? new InputError(error.sentence) : error;
  }
}
