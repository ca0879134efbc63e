import type { Kernel } from '@dusting/kernel';
import { startKernel } from '../math/index.ts';
import { HITS, KERNEL_THREADS, SCRATCH } from './kernelScene.ts';
import { MOST_HITS, type Hit, type RayQuery } from './rayQuery.ts';

/** The bits of an instance's number; the sign tells the back of a triangle. */
const NUMBER = 0x7fffffff;

/** Ray queries by the kernel. Every thread needs a scratch area of its own. */
export class KernelRayQuery implements RayQuery {
  private readonly kernel: Kernel;
  private readonly scratch: number;
  private readonly numbers: Float64Array;
  private readonly ids: Int32Array;
  /** The collected hits, see kernel/assembly/layout.ts: 4 doubles each, and 8 whole numbers. */
  private readonly manyNumbers: Float64Array;
  private readonly manyIds: Int32Array;

  constructor(memory: WebAssembly.Memory, thread: number) {
    if (!(thread >= 0 && thread < KERNEL_THREADS)) throw new RangeError(`there is no thread ${thread}`);
    this.kernel = startKernel(memory);
    this.scratch = new Int32Array(memory.buffer, 0, 8)[5] + thread * SCRATCH;
    this.numbers = new Float64Array(memory.buffer, this.scratch, 3);
    this.ids = new Int32Array(memory.buffer, this.scratch + 24, 2);
    this.manyNumbers = new Float64Array(memory.buffer, this.scratch + HITS, MOST_HITS * 4);
    this.manyIds = new Int32Array(memory.buffer, this.scratch + HITS, MOST_HITS * 8);
  }

  // prettier-ignore
  closestHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, behind: number, hit: Hit,
  ): boolean {
    const found = this.kernel.closestHit(this.scratch, ox, oy, oz, dx, dy, dz, tMin, tMax, mask, time, behind);
    if (found === 0) return false;
    hit.crowded = found === 2;
    hit.t = this.numbers[0];
    hit.u = this.numbers[1];
    hit.v = this.numbers[2];
    hit.instance = this.ids[0] & NUMBER;
    hit.front = this.ids[0] >= 0;
    hit.triangle = this.ids[1];
    return true;
  }

  // prettier-ignore
  allHits(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number, hits: Hit[],
  ): number {
    const count = this.kernel.allHits(this.scratch, ox, oy, oz, dx, dy, dz, tMin, tMax, mask, time);
    for (let i = 0; i < count; i++) {
      const hit = hits[i];
      hit.t = this.manyNumbers[i * 4];
      hit.u = this.manyNumbers[i * 4 + 1];
      hit.v = this.manyNumbers[i * 4 + 2];
      hit.instance = this.manyIds[i * 8 + 6] & NUMBER;
      hit.front = this.manyIds[i * 8 + 6] >= 0;
      hit.triangle = this.manyIds[i * 8 + 7];
    }
    return count;
  }

  // prettier-ignore
  anyHit(
    ox: number, oy: number, oz: number, dx: number, dy: number, dz: number,
    tMin: number, tMax: number, mask: number, time: number,
  ): boolean {
    return this.kernel.anyHit(this.scratch, ox, oy, oz, dx, dy, dz, tMin, tMax, mask, time) !== 0;
  }
}
