// What a preview keeps of each pixel: a few sums instead of the whole film, so that a large one fits into a page.
// // 0..2 sums of RGB, 3 samples, 4 square of luminance, 5..7 albedo, 8..10 normal, 11 depth, 12..14 light that the camera
// // sees itself (sums as well), 15 object + 1 of the last sample that met one, 16 its surface + 1
import { toHalf } from '../formats/index.ts';
import { luminance } from '../color/index.ts';
import { denoise, intersectRegions, type Region } from '../image/index.ts';
import { COMPONENTS, FILM, type Film } from './film.ts';

export const PREVIEW = { rgb: 0, samples: 3, squares: 4, albedo: 5, normal: 8, depth: 11, seen: 12, object: 15, surface: 16, stride: 17 } as const; // prettier-ignore

const [EMISSION, BACKGROUND] = (['emission', 'background'] as const).map((c) => FILM.component + FILM.componentStride * COMPONENTS.indexOf(c)); // prettier-ignore

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
        for (let k = 0; k < PREVIEW.object; k++) this.data[to + k] += data[from + k];
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
    if (denoised && this.leastSamples({ x: 0, y: 0, width, height }) > 0)
      this.denoised().forEach((plane, k) => plane.forEach((v, i) => (halves[i * 3 + k] = toHalf(v))));
    return { width, height, halves, objects, surfaces };
  }

  private denoised(): Float32Array[] {
    const { data, height, width } = this;
    const pixels = width * height;
    const plane = (at: number) => {
      const out = new Float32Array(pixels);
      for (let i = 0, o = at; i < pixels; i++, o += PREVIEW.stride)
        out[i] = data[o] / data[i * PREVIEW.stride + PREVIEW.samples];
      return out;
    };
    const three = (at: number) => [plane(at), plane(at + 1), plane(at + 2)] as const;
    const rgb = three(PREVIEW.rgb);
    const spread = plane(PREVIEW.squares);
    for (let i = 0; i < pixels; i++) {
      const n = data[i * PREVIEW.stride + PREVIEW.samples];
      const y = luminance(rgb[0][i], rgb[1][i], rgb[2][i]);
      // a single sample is no surer than it is bright
      spread[i] = n > 1 ? Math.sqrt(Math.max(0, spread[i] - y * y) / (n - 1)) : y;
    }
    const normal = three(PREVIEW.normal);
    for (let i = 0; i < pixels; i++) {
      const length = Math.hypot(normal[0][i], normal[1][i], normal[2][i]) || 1;
      for (const n of normal) n[i] /= length;
    }
    return denoise({ width, height, rgb, seen: three(PREVIEW.seen), error: pooled(spread, width, height), spread, albedo: three(PREVIEW.albedo), normal, depth: plane(PREVIEW.depth) }); // prettier-ignore
  }
}

/** Root of the mean square of 3 x 3 pixels: few samples may all be alike by chance. */
function pooled(error: Float32Array, width: number, height: number): Float32Array {
  return error.map((_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    let [sum, count] = [0, 0];
    for (let qy = Math.max(0, y - 1); qy <= Math.min(height - 1, y + 1); qy++)
      for (let qx = Math.max(0, x - 1); qx <= Math.min(width - 1, x + 1); qx++, count++)
        sum += error[qy * width + qx] ** 2;
    return Math.sqrt(sum / count);
  });
}
