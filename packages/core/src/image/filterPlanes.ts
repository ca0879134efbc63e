// The planes of an edge-avoiding filter in the memory of the kernel, and one step over them: packages/kernel/assembly/filter.ts,
// which takes a quarter of the time of the plain form. The plain form is for machines without SIMD, and what the kernel is held against.
import { kernelRuns, startKernel } from '../math/index.ts';

/** Places of the planes. `from` and `to` change places with each step: four planes each, RGB over albedo, and variance of its luminance. */
export const PLANES = { even: 0, odd: 4, light: 8, guide: 9, error: 10, depth: 11, slope: 12, normal: 13, count: 16 } as const; // prettier-ignore

export interface StepOptions {
  /** Standard errors, times what the surface's slope explains, and power of two of the cosine: see DENOISE_DEFAULTS. */
  errors: number;
  depth: number;
  doublings: number;
  hasDepth: boolean;
  hasNormal: boolean;
}

/** Bytes of a page of memory. */
const PAGE = 65536;
const WEIGHTS = [1 / 2, 1 / 4];

export class FilterPlanes {
  /** Floats of a row, and of a plane. */
  readonly pitch: number;
  readonly size: number;
  readonly data: Float32Array;
  private readonly memory: WebAssembly.Memory | null;

  /** @param margin pixels around the picture, without an error: no neighbour lies farther */
  constructor(
    readonly width: number,
    readonly height: number,
    readonly margin: number,
    useKernel = kernelRuns(),
  ) {
    // four pixels are taken at once, the last of a row with what is left of its margin
    this.pitch = Math.ceil((width + 2 * margin + 4) / 4) * 4;
    this.size = this.pitch * (height + 2 * margin);
    const bytes = PLANES.count * this.size * 4;
    const pages = Math.ceil(bytes / PAGE);
    this.memory = useKernel ? new WebAssembly.Memory({ initial: pages, maximum: pages }) : null;
    this.data = this.memory ? new Float32Array(this.memory.buffer, 0, bytes / 4) : new Float32Array(bytes / 4);
  }

  /** Place of a pixel in a plane. */
  at(x: number, y: number): number {
    return (y + this.margin) * this.pitch + this.margin + x;
  }

  plane(number: number): Float32Array {
    return this.data.subarray(number * this.size, (number + 1) * this.size);
  }

  fill(number: number, values: Float32Array): void {
    for (let y = 0; y < this.height; y++) this.data.set(values.subarray(y * this.width, (y + 1) * this.width), number * this.size + this.at(0, y)); // prettier-ignore
  }

  /** @param from PLANES.even or PLANES.odd @param apart pixels between neighbours, at most the margin */
  step(from: number, apart: number, options: StepOptions): void {
    const to = from === PLANES.even ? PLANES.odd : PLANES.even;
    if (!this.memory) return this.plainStep(from, to, apart, options);
    const { depth, doublings, errors, hasDepth, hasNormal } = options;
    const guides = (hasDepth ? 1 : 0) | (hasNormal ? 2 : 0);
    startKernel(this.memory).filterStep(0, from, to, 4 * this.size, this.pitch, 4 * this.at(0, 0), this.width, this.height, apart, errors, depth, doublings, guides); // prettier-ignore
  }

  private plainStep(
    from: number,
    to: number,
    apart: number,
    { depth: perSlope, doublings, errors, hasDepth, hasNormal }: StepOptions,
  ): void {
    // prettier-ignore
    const [r, g, b, variance] = [0, 1, 2, 3].map((k) => this.plane(from + k));
    const [nr, ng, nb, nv] = [0, 1, 2, 3].map((k) => this.plane(to + k));
    const [light, guide, error, depth, slopes, nx, ny, nz] = [8, 9, 10, 11, 12, 13, 14, 15].map((k) => this.plane(k));
    for (let y = 0; y < this.height; y++)
      for (let x = 0; x < this.width; x++) {
        const p = this.at(x, y);
        if (error[p] === 0) {
          nr[p] = r[p];
          ng[p] = g[p];
          nb[p] = b[p];
          nv[p] = 0;
          continue;
        }
        const here = guide[p] + 1e-30;
        const perError = 1 / (errors * Math.sqrt(here) + 1e-12);
        const slope = hasDepth ? perSlope * slopes[p] * apart : 0;
        const flat = hasDepth ? 1e-4 * depth[p] + 1e-9 : 0;
        let sum = WEIGHTS[0] * WEIGHTS[0] * (here / (here + variance[p]) + 1e-6);
        let sr = sum * r[p];
        let sg = sum * g[p];
        let sb = sum * b[p];
        let sv = sum * sum * variance[p];
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            const q = p + apart * (dy * this.pitch + dx);
            // without an error of its own it is another thing, as a lamp is before its wall
            if (q === p || error[q] === 0) continue;
            let weight = WEIGHTS[Math.abs(dx)] * WEIGHTS[Math.abs(dy)] * here;
            if (hasNormal) {
              let alike = nx[p] * nx[q] + ny[p] * ny[q] + nz[p] * nz[q];
              if (alike < 0.5) continue;
              for (let k = 0; k < doublings; k++) alike *= alike;
              weight *= alike;
            }
            let distance = Math.abs(light[p] - light[q]) * perError;
            if (hasDepth) distance += Math.abs(depth[p] - depth[q]) / (slope * Math.hypot(dx, dy) + flat);
            // 1 / (1 + d + d^2 / 2 + d^3 / 6) follows exp(-d) closely enough
            weight /= (here + variance[q]) * (1 + distance * (1 + distance * (0.5 + distance / 6)));
            sum += weight;
            sr += weight * r[q];
            sg += weight * g[q];
            sb += weight * b[q];
            sv += weight * weight * variance[q];
          }
        nr[p] = sr / sum;
        ng[p] = sg / sum;
        nb[p] = sb / sum;
        nv[p] = sv / (sum * sum);
      }
  }
}
