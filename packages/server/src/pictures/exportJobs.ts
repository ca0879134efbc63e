// Pictures as files.
import type { Display } from '@dusting/core/color';
import { repairFrame } from '@dusting/core/diagnose';
import { InputError, layerToHdr, layerToPng16, writeExr } from '@dusting/core/formats';
import { cropPicture, type Region } from '@dusting/core/image';
import { layerOf } from './layerJobs.ts';
import { nativeDeflate, type OpenPictures, type PictureSource } from './openPictures.ts';

/** exr: one layer; layers: all of them; repaired: all of them, with the fireflies of the frame replaced. */
export type ExportFormat = 'exr' | 'layers' | 'repaired' | 'hdr' | 'png16';

export const exportJobs = (pictures: OpenPictures) => ({
  /** A region with one layer or all of them as a file. */
  async exported(
    from: PictureSource,
    region: Region,
    format: ExportFormat,
    layer: string,
    display: Display,
  ): Promise<Uint8Array> {
    const all = format === 'layers' || format === 'repaired';
    // fireflies stand out of what surrounds them, which may lie outside of the region
    const rows = format === 'repaired' ? undefined : region;
    const read = all ? await pictures.get(from, { rows }) : await layerOf(pictures, from, layer);
    const source = format === 'repaired' ? repairFrame(read).picture : read;
    const part = cropPicture(source, region, all ? undefined : [layer]);
    if (!part || part.channels.length === 0)
      throw new InputError('the region lies outside the picture, or the layer is not in it');
    if (format === 'hdr') return layerToHdr(part, layer);
    if (format === 'png16') return layerToPng16(part, layer, display);
    return writeExr(part, { deflate: nativeDeflate });
  },
});
