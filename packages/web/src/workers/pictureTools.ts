// Computing on pictures away from the page: mixes, graphs and small ones of textures.
import { expose, transfer } from 'comlink';
import { encodeForDisplay, luminance, type Display } from '@dusting/core/color';
import { decodeMesh, fromHalf, PLAIN_SPACE, readTexture, toHalf, type TexturePicture } from '@dusting/core/formats';
import { histogram, waveform, type Histogram, type Region } from '@dusting/core/image';
import type { Tint } from '@dusting/core/plan';
import { paddedFrom, paddedPng } from '@dusting/core/render';
import type { ShotDocument, TextureRef } from '@dusting/core/scene';
import type { LayerPicture } from '../api.ts';
import { fetchBlob } from '../parts/fetchBlob.ts';
import { GRAPH } from '../picture/graph.ts';
import { multiplyOcclusion, type Shade, type Taken } from '../picture/multiplyOcclusion.ts';

const api = {
  /**
   * beauty + sum of (tint - 1) x part: exact where nothing is changed, and light that is in no part stays. An occlusion layer is
   * multiplied into that.
   */
  mix(
    beauty: LayerPicture,
    parts: { picture: LayerPicture; tint: Tint }[],
    occlusion: Shade | null,
  ): { picture: LayerPicture; taken: Taken | null } {
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
    const picture = { width, height, channels: ['R', 'G', 'B'], halves };
    const taken = occlusion && multiplyOcclusion(picture, occlusion);
    return transfer({ picture, taken }, [halves.buffer]);
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

  /** A texture with its padding grown into it, as a file. */
  async paddedTexture(document: ShotDocument, id: string): Promise<Uint8Array> {
    const blobs = new Map<string, Uint8Array>();
    for (const blob of paddedFrom(document, id)) blobs.set(blob, await fetchBlob(blob));
    return paddedPng(document, id, (blob) => blobs.get(blob)!);
  },

  /** A texture as a small linear picture, its longer side at most so many pixels. */
  async smallTexture(
    blob: string,
    name: string,
    encoding: TextureRef['encoding'],
    most: number,
  ): Promise<LayerPicture> {
    const small = shrink(readTexture(await fetchBlob(blob), name, { ...PLAIN_SPACE, encoding }), most);
    return transfer(small, [small.halves.buffer as ArrayBuffer]);
  },

  /** Edges of the triangles of a mesh in one of its UV sets: // 0..1 from, 2..3 to; the first of many. */
  async uvLines(blob: string, set: number): Promise<Float32Array> {
    const mesh = decodeMesh(await fetchBlob(blob));
    const uvs = set === 0 ? mesh.uvs : mesh.laterUvs;
    const triangles = uvs ? Math.min(MOST_UV_TRIANGLES, mesh.indices.length / 3) : 0;
    const lines = new Float32Array(triangles * 12);
    for (let t = 0; t < triangles; t++)
      for (let c = 0; c < 3; c++) {
        const [a, b] = [mesh.indices[t * 3 + c], mesh.indices[t * 3 + ((c + 1) % 3)]];
        lines.set([uvs![a * 2], uvs![a * 2 + 1], uvs![b * 2], uvs![b * 2 + 1]], t * 12 + c * 4);
      }
    return transfer(lines, [lines.buffer]);
  },
};
export type PictureTools = typeof api;
expose(api);

/** Triangles whose UVs are drawn: more cannot be seen. */
const MOST_UV_TRIANGLES = 20_000;

/** By the means of the pixels that fall on one. */
function shrink({ width, height, texels }: TexturePicture, most: number): LayerPicture {
  const factor = Math.max(1, Math.ceil(Math.max(width, height) / most));
  const [w, h] = [Math.max(1, Math.floor(width / factor)), Math.max(1, Math.floor(height / factor))];
  const halves = new Uint16Array(w * h * 3);
  const across = Math.min(factor, width);
  const down = Math.min(factor, height);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let k = 0; k < 3; k++) {
        let sum = 0;
        for (let j = 0; j < down; j++)
          for (let i = 0; i < across; i++) sum += texels[((y * factor + j) * width + x * factor + i) * 4 + k];
        halves[(y * w + x) * 3 + k] = toHalf(sum / (across * down));
      }
  return { width: w, height: h, channels: ['R', 'G', 'B'], halves };
}

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
