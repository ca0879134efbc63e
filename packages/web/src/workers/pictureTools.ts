// Computing on pictures away from the page: mixes and graphs.
import { expose, transfer } from 'comlink';
import { encodeForDisplay, luminance, type Display } from '@dusting/core/color';
import { fromHalf, toHalf } from '@dusting/core/formats';
import { histogram, waveform, type Histogram, type Region } from '@dusting/core/image';
import type { Tint } from '@dusting/core/plan';
import type { LayerPicture } from '../api.ts';
import { GRAPH } from '../picture/graph.ts';

const api = {
  /** beauty + sum of (tint - 1) x part: exact where nothing is changed, and light that is in no part stays. */
  mix(beauty: LayerPicture, parts: { picture: LayerPicture; tint: Tint }[]): LayerPicture {
    const { width, height } = beauty;
    const from = beauty.channels.length;
    const halves = new Uint16Array(width * height * 3);
    const sum = [0, 0, 0];
    for (let i = 0; i < width * height; i++) {
      for (let k = 0; k < 3; k++) sum[k] = fromHalf(beauty.halves[i * from + k]);
      for (const { picture, tint } of parts) {
        const at = i * picture.channels.length;
        for (let k = 0; k < 3; k++) sum[k] += (tint[k] - 1) * fromHalf(picture.halves[at + k]);
      }
      for (let k = 0; k < 3; k++) halves[i * 3 + k] = toHalf(sum[k]);
    }
    return transfer({ width, height, channels: ['R', 'G', 'B'], halves }, [halves.buffer]);
  },

  /** @param part in pixels of the picture @param limit value that is displayed as white */
  histogram(picture: LayerPicture, part: Region, limit: number): Histogram {
    return histogram(planesOf(picture, part), limit);
  },

  /** Displayed luminance by columns. */
  waveform(picture: LayerPicture, part: Region, display: Display): Uint32Array {
    const planes = planesOf(picture, part);
    const gain = 2 ** display.stops;
    const rgb = [0, 0, 0];
    const shown = planes[0].map((_, i) => {
      for (let k = 0; k < 3; k++) rgb[k] = (planes[k] ?? planes[0])[i] * gain;
      encodeForDisplay(rgb, display);
      return luminance(rgb[0], rgb[1], rgb[2]);
    });
    return waveform(shown, part.width, GRAPH.width, GRAPH.height);
  },
};
export type PictureTools = typeof api;
expose(api);

/** One plane of a data layer, three of a picture. */
function planesOf({ width, channels, halves }: LayerPicture, { x, y, width: across, height }: Region): Float32Array[] {
  const n = channels.length;
  return Array.from({ length: n >= 3 ? 3 : 1 }, (_, k) =>
    Float32Array.from({ length: across * height }, (_, i) => {
      const pixel = (y + Math.floor(i / across)) * width + x + (i % across);
      return fromHalf(halves[pixel * n + k]);
    }),
  );
}
