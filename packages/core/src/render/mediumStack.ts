import { SURFACE_STRIDE } from '../shade/index.ts';

const DEPTH = 16;

/**
 * Which closed surfaces a path is inside of. Entering puts a surface on top, leaving takes its topmost entry out, so
 * that absorption follows the innermost one. Every boundary counts as one between its own medium and air.
 */
export class MediumStack {
  private readonly surfaces = new Int32Array(DEPTH);
  private count = 0;

  clear(): void {
    this.count = 0;
  }
  copyFrom(other: MediumStack): void {
    this.surfaces.set(other.surfaces);
    this.count = other.count;
  }
  enter(surface: number): void {
    if (this.count < DEPTH) this.surfaces[this.count++] = surface;
  }
  leave(surface: number): void {
    for (let i = this.count - 1; i >= 0; i--)
      if (this.surfaces[i] === surface) {
        this.surfaces.copyWithin(i, i + 1, this.count);
        this.count--;
        return;
      }
  }
  /** Multiplies a throughput by what is left after a distance in metres (Beer-Lambert). */
  absorb(values: Float64Array, distance: number, throughput: Float64Array): void {
    if (this.count === 0) return;
    const at = this.surfaces[this.count - 1] * SURFACE_STRIDE + 11;
    for (let k = 0; k < 3; k++) if (values[at + k] > 0) throughput[k] *= Math.exp(-values[at + k] * distance);
  }
}
