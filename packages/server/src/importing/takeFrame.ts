// Frames of other renderers, on their way in.
import {
  applyRoles,
  proposeRoles,
  readFrame,
  sourceOf,
  type FrameFiles,
  type LayerMapping,
} from '@dusting/core/frames';
import { isExr, readExrHeader, writeExr } from '@dusting/core/formats';
import { shrinkPicture } from '../node/coarse.ts';
import { isLarge, nativeDeflate, nativeInflate, outlineOf } from '../pictures/openPictures.ts';
import type { TakenFrame } from '../store/frameStore.ts';

/** Reads the files of one frame. @param known what was said of layers; for others it is proposed @throws InputError */
export function takeFrame(group: FrameFiles, known: LayerMapping): TakenFrame & { roles: LayerMapping } {
  const bytes = keptAs(group);
  const outline = bytes && outlineOf(bytes);
  const large = outline && isLarge(outline);
  // of a large one only what is seen at once is read; what is wrong in the rest is said where it is looked at
  const seen = large ? proposeRoles(outline, known) : null;
  const channels = seen ? (name: string) => seen[sourceOf({ name }).layer] === 'beauty' : undefined;
  const read = readFrame(group, { inflate: nativeInflate, channels });
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
}

/** The bytes of a frame that is one OpenEXR file with its frame at the origin: it is kept as it is. */
function keptAs({ files }: FrameFiles): Uint8Array | null {
  const [{ file }] = files;
  if (files.length > 1 || !isExr(file.bytes)) return null;
  const { x, y } = readExrHeader(file.bytes, file.name).displayWindow;
  return x === 0 && y === 0 ? file.bytes : null;
}
