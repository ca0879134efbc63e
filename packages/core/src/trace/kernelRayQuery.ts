import type { Kernel } from '@dusting/kernel';
import { startKernel } from './kernelModule.ts';
import { KERNEL_THREADS, SCRATCH } from './kernelScene.ts';
import type { Hit, RayQuery } from './rayQuery.ts';

/** Ray queries by the kernel. Every thread needs a scratch area of its own. */
export class KernelRayQuery implements RayQuery {
  private readonly kernel: Kernel;
  private readonly scratch: number;
  private readonly numbers: Float64Array;
  private readonly ids: Int32Array;

  constructor(memory: WebAssembly.Memory, thread: number) {
    if (!(thread >= 0 && thread < KERNEL_THREADS)) throw new RangeError(`there is no thread ${thread}`);
    this.kernel = startKernel(memory);
    this.scratch = new Int32Array(memory.buffer, 0, 8)[5] + thread * SCRATCH;
    this.numbers = new Float64Array(memory.buffer, this.scratch, 3);
    this.ids = new Int32Array(memory.buffer, this.scratch + 24, 2);
  }

  // prettier-ignore
  closestHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, hit: Hit,
  ): boolean {
    if (this.kernel.closestHit(this.scratch, ox, oy, oz, dx, dy, dz, tMin, tMax, mask, time) === 0) return false;
    hit.t = this.numbers[0];
    hit.u = this.numbers[1];
    hit.v = this.numbers[2];
    hit.instance = this.ids[0];
    hit.triangle = this.ids[1];
    return true;
  }

  // prettier-ignore
  anyHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number,
  ): boolean {
    return this.kernel.anyHit(this.scratch, ox, oy, oz, dx, dy, dz, tMin, tMax, mask, time) !== 0;
  }
}
