// What a preview keeps of each pixel: a few sums instead of the whole film, so that a large one fits into a page.
import { toHalf } from '../formats/index.ts';
import { intersectRegions, type Region } from '../image/index.ts';
import { COMPONENTS, FILM, type Film } from './film.ts';
import { PREVIEW, PREVIEW_DOUBLES as DOUBLES, PREVIEW_SINGLES as SINGLES } from './previewLayout.ts';
import { previewLook } from './previewLook.ts';

const [EMISSION, BACKGROUND] = (['emission', 'background'] as const).map((c) => FILM.component + FILM.componentStride * COMPONENTS.indexOf(c)); // prettier-ignore

/** Sums of the samples of one rectangle, PREVIEW.stride numbers a pixel. */
export interface PreviewPart {
  region: Region;
  data: Float32Array;
}

/** What a preview keeps of a chunk. */
export function previewPart({ region, data, stride }: Film): PreviewPart {
  const pixels = region.width * region.height;
  const out = new Float32Array(pixels * PREVIEW.stride);
  for (let i = 0; i < pixels; i++) {
    const from = i * stride;
    const to = i * PREVIEW.stride;
    for (let k = 0; k < 3; k++) {
      out[to + k] = data[from + FILM.beauty + k];
      out[to + PREVIEW.albedo + k] = data[from + FILM.albedo + k];
      out[to + PREVIEW.normal + k] = data[from + FILM.normal + k];
      out[to + PREVIEW.seen + k] = data[from + EMISSION + k] + data[from + BACKGROUND + k];
    }
    out[to + PREVIEW.samples] = data[from + FILM.samples];
    out[to + PREVIEW.squares] = data[from + FILM.beauty + 6];
    out[to + PREVIEW.depth] = data[from + FILM.depth];
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
  private readonly guides: Float32Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Float64Array(width * height * DOUBLES);
    this.guides = new Float32Array(width * height * SINGLES);
  }

  add({ region, data }: PreviewPart): void {
    for (let y = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++) {
        const from = (y * region.width + x) * PREVIEW.stride;
        const pixel = (region.y + y) * this.width + region.x + x;
        const to = pixel * DOUBLES;
        for (let k = 0; k <= PREVIEW.samples; k++) this.data[to + k] += data[from + k];
        for (let k = PREVIEW.object; k <= PREVIEW.surface; k++) this.data[to + k] = data[from + k];
        for (let k = 0; k < SINGLES; k++) this.guides[pixel * SINGLES + k] += data[from + DOUBLES + k];
      }
  }

  leastSamples(region: Region): number {
    const part = intersectRegions(region, { x: 0, y: 0, width: this.width, height: this.height });
    let least = Infinity;
    for (let y = part?.y ?? 0; part && y < part.y + part.height; y++)
      for (let x = part.x; x < part.x + part.width; x++)
        least = Math.min(least, this.data[(y * this.width + x) * DOUBLES + PREVIEW.samples]);
    return part ? least : 0;
  }

  /** Pixels without a sample yet show the coarse picture. @param denoised the look without noise, once every pixel has one */
  picture(coarse: PreviewFilm | null, denoised: boolean): PreviewPicture {
    const { width, height, data } = this;
    const pixels = width * height;
    const halves = new Uint16Array(pixels * 3);
    const objects = new Uint32Array(pixels);
    const surfaces = new Uint32Array(pixels);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        let from = data;
        let at = i * DOUBLES;
        if (data[at + PREVIEW.samples] === 0 && coarse) {
          const cx = Math.min(coarse.width - 1, Math.floor((x * coarse.width) / width));
          const cy = Math.min(coarse.height - 1, Math.floor((y * coarse.height) / height));
          from = coarse.data;
          at = (cy * coarse.width + cx) * DOUBLES;
        }
        const samples = from[at + PREVIEW.samples] || 1;
        for (let k = 0; k < 3; k++) halves[i * 3 + k] = toHalf(from[at + k] / samples);
        objects[i] = from[at + PREVIEW.object];
        surfaces[i] = from[at + PREVIEW.surface];
      }
    if (denoised && this.leastSamples({ x: 0, y: 0, width, height }) > 0)
      previewLook(
        width,
        height,
        (slot) => this.meanOf(slot),
        (i) => data[i * DOUBLES + PREVIEW.samples],
      ).forEach((plane, k) => plane.forEach((v, i) => (halves[i * 3 + k] = toHalf(v))));
    return { width, height, halves, objects, surfaces };
  }

  /** One number of every pixel, over its samples. */
  private meanOf(slot: number): Float32Array {
    const { data, guides } = this;
    const out = new Float32Array(this.width * this.height);
    for (let i = 0; i < out.length; i++)
      out[i] = (slot < DOUBLES ? data[i * DOUBLES + slot] : guides[i * SINGLES + slot - DOUBLES]) / data[i * DOUBLES + PREVIEW.samples]; // prettier-ignore
    return out;
  }
}
