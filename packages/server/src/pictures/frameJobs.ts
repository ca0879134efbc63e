import { sourceLayers, type SourceLayer } from '@dusting/core/frames';
import { matteLayers } from '@dusting/core/formats';
import type { OpenPictures } from './openPictures.ts';

export const frameJobs = (pictures: OpenPictures) => ({
  /** The layers of a frame as its files name them. */
  async sourceLayers(blob: string): Promise<SourceLayer[]> {
    const source = await pictures.outline({ blob, mapping: null });
    const hidden = new Set(matteLayers(source));
    return sourceLayers(source).filter(({ name }) => !hidden.has(name));
  },
});
