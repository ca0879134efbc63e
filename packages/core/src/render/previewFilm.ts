// What a preview keeps of each pixel: a few sums instead of the whole film, so that a large one fits into a page.
// // 0..2 sums of RGB, 3 samples, 4 object + 1 of the last sample that met one, 5 its surface + 1
import { toHalf } from '../formats/index.ts';
import { intersectRegions, type Region } from '../image/index.ts';
import { FILM, type Film } from './film.ts';

export const PREVIEW = { rgb: 0, samples: 3, object: 4, surface: 5, stride: 6 } as const;

/** Sums of the samples of one rectangle, PREVIEW.stride numbers a pixel. */
export interface PreviewPart {
  region: Region;
  data: Float32Array;
}

/** What a preview keeps of a chunk. */
export function previewPart({ region, data }: Film): PreviewPart {
  const pixels = region.width * region.height;
  const out = new Float32Array(pixels * PREVIEW.stride);
  for (let i = 0; i < pixels; i++) {
    const from = i * FILM.stride;
    const to = i * PREVIEW.stride;
    for (let k = 0; k < 3; k++) out[to + k] = data[from + FILM.beauty + k];
    out[to + PREVIEW.samples] = data[from + FILM.samples];
    out[to + PREVIEW.object] = data[from + FILM.objects];
    out[to + PREVIEW.surface] = data[from + FILM.surfaces];
  }
  return { region, data: out };
}

/** A preview's picture: halves of R, G, B, and object and surface + 1 of each pixel, 0 for none. */
export interface PreviewPicture {
  width: number;
  height: number;
  halves: Uint16Array;
  objects: Uint32Array;
  surfaces: Uint32Array;
}

export class PreviewFilm {
  private readonly data: Float64Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Float64Array(width * height * PREVIEW.stride);
  }

  add({ region, data }: PreviewPart): void {
    for (let y = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++) {
        const from = (y * region.width + x) * PREVIEW.stride;
        const to = ((region.y + y) * this.width + region.x + x) * PREVIEW.stride;
        for (let k = 0; k <= PREVIEW.samples; k++) this.data[to + k] += data[from + k];
        for (let k = PREVIEW.object; k <= PREVIEW.surface; k++) this.data[to + k] = data[from + k];
      }
  }

  leastSamples(region: Region): number {
    const part = intersectRegions(region, { x: 0, y: 0, width: this.width, height: this.height });
    let least = Infinity;
    for (let y = part?.y ?? 0; part && y < part.y + part.height; y++)
      for (let x = part.x; x < part.x + part.width; x++)
        least = Math.min(least, this.data[(y * this.width + x) * PREVIEW.stride + PREVIEW.samples]);
    return part ? least : 0;
  }

  /** Pixels without a sample yet show the coarse picture. */
  picture(coarse: PreviewFilm | null): PreviewPicture {
    const { width, height, data } = this;
    const pixels = width * height;
    const halves = new Uint16Array(pixels * 3);
    const objects = new Uint32Array(pixels);
    const surfaces = new Uint32Array(pixels);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        let from = data;
        let at = i * PREVIEW.stride;
        if (data[at + PREVIEW.samples] === 0 && coarse) {
          const cx = Math.min(coarse.width - 1, Math.floor((x * coarse.width) / width));
          const cy = Math.min(coarse.height - 1, Math.floor((y * coarse.height) / height));
          from = coarse.data;
          at = (cy * coarse.width + cx) * PREVIEW.stride;
        }
        const samples = from[at + PREVIEW.samples] || 1;
        for (let k = 0; k < 3; k++) halves[i * 3 + k] = toHalf(from[at + k] / samples);
        objects[i] = from[at + PREVIEW.object];
        surfaces[i] = from[at + PREVIEW.surface];
      }
    return { width, height, halves, objects, surfaces };
  }
}
