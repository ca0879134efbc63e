// When pixels have enough samples. The rule looks at the standard error of pixels in display terms, from the samples of the
// chunk at hand alone, so that the result does not depend on who rendered what and when.
//
// Stopping pixels by their own samples darkens the picture: those whose bright paths have not come yet look settled and stay
// as they are, while a bright one goes on until it is diluted (Kirk & Arvo 1991, "Unbiased sampling techniques for image
// synthesis"). Tried: each pixel by itself; blocks of 64 by themselves, which lost up to 3 % of a caustic; each block by the
// eight around it, which saw nothing of what was noisy in one block alone and was worse than even sampling. What stayed: the
// pixels of a block are two halves, like the fields of a chess board, and each half stops by what the other one saw.
import { LUMINANCE_B, LUMINANCE_G, LUMINANCE_R } from '../color/index.ts';
import { FILM, type Film } from './film.ts';

/** Side of a block in pixels. */
export const BLOCK = 8;
/** Samples of every pixel between two looks. */
export const ROUND = 8;

export class BlockRules {
  private readonly columns: number;
  private readonly rows: number;
  /** Of both halves of each block, one after the other: mean variance of one sample, mean luminance, samples of a pixel. */
  private readonly variances: Float64Array;
  private readonly levels: Float64Array;
  private readonly samples: Float64Array;
  private readonly settled: Uint8Array;

  /**
   * @param start samples of each pixel before this film
   * @param limit standard error of a pixel in L*, all of its samples counted
   */
  constructor(
    private readonly film: Film,
    private readonly start: number,
    private readonly limit: number,
  ) {
    this.columns = Math.ceil(film.region.width / BLOCK);
    this.rows = Math.ceil(film.region.height / BLOCK);
    const make = () => new Float64Array(this.columns * this.rows * 2);
    this.variances = make();
    this.levels = make();
    this.samples = make();
    this.settled = new Uint8Array(this.columns * this.rows * 2);
  }

  /** Whether a pixel of the film needs no more samples. */
  isSettled(x: number, y: number): boolean {
    return this.settled[(Math.floor(y / BLOCK) * this.columns + Math.floor(x / BLOCK)) * 2 + ((x + y) & 1)] === 1;
  }

  /** Looks at all blocks after a round, and settles the halves whose other half is quiet enough for their samples. */
  look(): void {
    for (let row = 0; row < this.rows; row++)
      for (let column = 0; column < this.columns; column++)
        for (let half = 0; half < 2; half++) this.read(column, row, half);
    for (let i = 0; i < this.settled.length; i++)
      if (this.errorOf(i ^ 1, this.samples[i]) <= this.limit) this.settled[i] = 1;
  }

  /** Means over one half of a block. */
  private read(column: number, row: number, half: number): void {
    const { data, region, stride } = this.film;
    let variance = 0;
    let level = 0;
    let pixels = 0;
    let n = 1;
    for (let y = row * BLOCK; y < Math.min(region.height, row * BLOCK + BLOCK); y++)
      for (let x = column * BLOCK; x < Math.min(region.width, column * BLOCK + BLOCK); x++) {
        if (((x + y) & 1) !== half) continue;
        const at = (y * region.width + x) * stride;
        n = data[at + FILM.samples];
        const sum = LUMINANCE_R * data[at] + LUMINANCE_G * data[at + 1] + LUMINANCE_B * data[at + 2];
        variance += Math.max(0, data[at + FILM.beauty + 6] - (sum * sum) / n) / (n - 1);
        level += sum / n;
        pixels++;
      }
    const i = (row * this.columns + column) * 2 + half;
    this.variances[i] = pixels > 0 ? variance / pixels : Infinity;
    this.levels[i] = pixels > 0 ? level / pixels : 0;
    this.samples[i] = n;
  }

  /** Standard error in L* that a pixel like those of a half has after `samples` in this film. */
  private errorOf(half: number, samples: number): number {
    return lightnessSlope(this.levels[half]) * Math.sqrt(this.variances[half] / (this.start + samples));
  }
}

/** Change of CIE L* with luminance; beyond display white that of white. */
export function lightnessSlope(y: number): number {
  const dark = 24389 / 27;
  if (y <= 216 / 24389) return dark;
  return 116 / 3 / Math.cbrt(Math.min(1, y)) ** 2;
}
