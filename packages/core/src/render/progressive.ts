// A picture for looking that gets better: a coarse one at once, then tile by tile, what the user looks at first.
//
// Sums are doubles of single-precision parts, so the order in which threads answer moves the last bits of a double and
// never a half of the picture.
import { intersectRegions, type Region } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { frameOf, type Chunk } from './chunks.ts';
import { PreviewFilm, type PreviewPart, type PreviewPicture } from './previewFilm.ts';

const TILE = 32;
/** The coarse picture has about so many pixels: some tens of milliseconds of work. */
const COARSE_PIXELS = 2000;
/** Samples of the passes, the last again and again: nobody waits long for a chunk that an edit has overtaken. */
const PASSES = [1, 1, 2, 4];

export interface PreviewJob {
  /** Of the small picture that stands first. */
  coarse: boolean;
  chunk: Chunk;
}

/** Settings of the small picture that stands first. */
export function coarseSettings(settings: RenderSettings): RenderSettings {
  const factor = Math.max(1, Math.ceil(Math.sqrt((settings.width * settings.height) / COARSE_PIXELS)));
  return { ...settings, width: Math.ceil(settings.width / factor), height: Math.ceil(settings.height / factor) };
}

export class ProgressiveRender {
  private readonly film: PreviewFilm;
  private readonly coarse: PreviewFilm;
  private readonly jobs: PreviewJob[];
  private interest: Region | null = null;
  private coarseLeft: number;
  private readonly total: number;
  private taken = 0;

  /** @param samples of each pixel, at the end */
  constructor(
    settings: RenderSettings,
    readonly samples: number,
  ) {
    const small = coarseSettings(settings);
    this.film = new PreviewFilm(settings.width, settings.height);
    this.coarse = new PreviewFilm(small.width, small.height);
    const first = tiles(frameOf(small)).map((region) => ({ coarse: true, chunk: { region, sampleStart: 0, sampleCount: 1 } })); // prettier-ignore
    this.coarseLeft = first.length;
    this.jobs = first;
    for (let start = 0, pass = 0; start < samples; pass++) {
      const count = Math.min(PASSES[Math.min(pass, PASSES.length - 1)], samples - start);
      for (const region of tiles(frameOf(settings)))
        this.jobs.push({ coarse: false, chunk: { region, sampleStart: start, sampleCount: count } });
      start += count;
    }
    this.total = this.jobs.length;
  }

  /** What the user looks at, in pixels of the picture: it gets its samples before the rest gets more than one. */
  lookAt(region: Region | null): void {
    this.interest = region;
    const rank = ({ coarse, chunk }: PreviewJob) => {
      if (coarse) return 0;
      const outside = region !== null && !intersectRegions(region, chunk.region) ? 1 : 0;
      return (chunk.sampleStart === 0 ? 1 : 3) + outside;
    };
    // in their order otherwise, so that the passes of a tile follow each other
    this.jobs.sort((a, b) => rank(a) - rank(b) || a.chunk.sampleStart - b.chunk.sampleStart);
  }

  next(): PreviewJob | null {
    return this.jobs.shift() ?? null;
  }

  take({ coarse }: PreviewJob, part: PreviewPart): void {
    this.taken++;
    (coarse ? this.coarse : this.film).add(part);
    if (coarse) this.coarseLeft--;
  }

  /** The whole frame can be seen. */
  get stands(): boolean {
    return this.coarseLeft === 0;
  }
  get done(): boolean {
    return this.taken === this.total;
  }
  /** Fewest samples of a pixel: of the whole picture, and of what is looked at. */
  get least(): { frame: number; interest: number } {
    const frame = frameOf(this.film);
    return { frame: this.film.leastSamples(frame), interest: this.film.leastSamples(this.interest ?? frame) };
  }
  picture(denoised = false): PreviewPicture {
    return this.film.picture(this.coarse, denoised);
  }
}

function tiles({ width, height }: Region): Region[] {
  const all: Region[] = [];
  for (let y = 0; y < height; y += TILE)
    for (let x = 0; x < width; x += TILE)
      all.push({ x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y) });
  return all;
}
