// Layers and single pixels of a picture.
import { setImmediate as pause } from 'node:timers/promises';
import { transfer } from 'comlink';
import { matteLayers, matteOf, namesAt, readIdMattes, toHalf, toHalves, type IdMattes } from '@dusting/core/formats';
import { findChannel, intersectRegions, listLayers, MAIN_LAYER, type Picture } from '@dusting/core/image';
import { canDenoise, DENOISED, denoisedLookSteps } from '@dusting/core/render';
import type { LayerPicture, Pixel, PixelReading } from '../answers/index.ts';
import { layersFor, type OpenPictures, type PictureSource } from './openPictures.ts';

export const layerJobs = (pictures: OpenPictures) => ({
  async layers(from: PictureSource): Promise<[string, string[]][]> {
    const outline = await pictures.outline(from);
    const hidden = new Set(matteLayers(outline));
    const names = readIdMattes(outline).flatMap((m) => [...m.ids.keys()].map((name) => `matte.${m.name}.${name}`));
    return [
      ...[...listLayers(outline)].filter(([layer]) => !hidden.has(layer)),
      ...(canDenoise(outline.channels.map((c) => c.name)) ? [[DENOISED, ['R', 'G', 'B']] as [string, string[]]] : []),
      ...names.map((name): [string, string[]] => [name, ['Y']]),
    ];
  },

  async layer(from: PictureSource, layer: string): Promise<LayerPicture | null> {
    const source = await layerOf(pictures, from, layer);
    const matte = matteLayer(source, layer);
    if (matte) {
      const halves = toHalves(matte);
      return transfer({ width: source.width, height: source.height, channels: ['Y'], halves }, [halves.buffer]);
    }
    const names = listLayers(source).get(layer)?.slice(0, 4);
    if (!names) return null;
    const planes = names.map((name) => findChannel(source, layer, name)!.data);
    const { width, height } = source;
    const halves = new Uint16Array(width * height * planes.length);
    for (let i = 0; i < width * height; i++)
      for (let k = 0; k < planes.length; k++) halves[i * planes.length + k] = toHalf(planes[k][i]);
    return transfer({ width, height, channels: names, halves }, [halves.buffer]);
  },

  /** How much of a look without noise is made, 0..1; null where none is being made. */
  lookShare(from: PictureSource): number | null {
    return shares.get(JSON.stringify(from)) ?? null;
  },

  /** Every layer's values at a pixel of the frame. */
  async pixel(from: PictureSource, x: number, y: number): Promise<PixelReading[] | null> {
    const source = await pixelRow(pictures, from, y);
    if (!source) return null;
    const at = intersectRegions({ x, y, width: 1, height: 1 }, source.dataWindow);
    if (!at) return null;
    const i = (y - source.dataWindow.y) * source.width + x - source.dataWindow.x;
    const hidden = new Set(matteLayers(source));
    return [...listLayers(source)]
      .filter(([layer]) => layer !== 'error' && !layer.startsWith('error.') && !hidden.has(layer))
      .map(([layer, channels]) => {
        const error = findChannel(source, layer === 'beauty' ? 'error' : `error.${layer}`, 'Y');
        return {
          layer,
          values: channels.map((c) => findChannel(source, layer, c)!.data[i]),
          error: error ? error.data[i] : null,
        };
      });
  },

  /** What covers a pixel of the frame. */
  async namesAt(from: PictureSource, x: number, y: number): Promise<Pixel['names']> {
    const source = await pixelRow(pictures, from, y);
    if (!source) return [];
    const { dataWindow, width } = source;
    const i = (y - dataWindow.y) * width + x - dataWindow.x;
    return mattesOf(source).map((m) => ({ kind: m.name, names: namesAt(m, i) }));
  },
});

/** One layer of a picture, at least. */
export async function layerOf(pictures: OpenPictures, from: PictureSource, layer = MAIN_LAYER): Promise<Picture> {
  const source = await pictures.get(from, { layers: layersFor(layer, await pictures.outline(from)) });
  return layer === DENOISED ? lookOf(from, source) : source;
}

/** Looks without noise of the pictures that are open. */
const looks = new WeakMap<Picture, Promise<Picture>>();
/** How much is made of those that are being made, by their sources. */
const shares = new Map<string, number>();
async function lookOf(from: PictureSource, source: Picture): Promise<Picture> {
  const found = looks.get(source);
  if (found) return found;
  const key = JSON.stringify(from);
  const look = makeLook(source, (share) => shares.set(key, share)).finally(() => shares.delete(key));
  looks.set(source, look);
  return look;
}

/** In steps, so that other questions are answered in between. */
async function makeLook(source: Picture, report: (share: number) => void): Promise<Picture> {
  const steps = denoisedLookSteps(source);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
    report(value);
    await pause();
  }
}

/** The row of a pixel, with all channels; null outside. */
async function pixelRow(pictures: OpenPictures, from: PictureSource, y: number): Promise<Picture | null> {
  const { dataWindow } = await pictures.outline(from);
  return y >= dataWindow.y && y < dataWindow.y + dataWindow.height
    ? pictures.get(from, { rows: { y, height: 1 } })
    : null;
}

/** Mattes of the pictures that are open. */
const mattes = new WeakMap<Picture, IdMattes[]>();
function mattesOf(source: Picture): IdMattes[] {
  const found = mattes.get(source) ?? readIdMattes(source);
  mattes.set(source, found);
  return found;
}
/** The layer of one name, "matte.objects.sill"; null where it is none. */
function matteLayer(source: Picture, layer: string): Float32Array | null {
  for (const m of mattesOf(source)) {
    const start = `matte.${m.name}.`;
    if (layer.startsWith(start) && m.ids.has(layer.slice(start.length))) return matteOf(m, layer.slice(start.length));
  }
  return null;
}
