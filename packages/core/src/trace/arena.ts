/** Makes the memory that a scene lives in. Shared where threads are to read it, plain otherwise. */
export interface MakeBuffer {
  (bytes: number): ArrayBuffer | SharedArrayBuffer;
  shared: boolean;
}
export const plainBuffer: MakeBuffer = Object.assign((bytes: number) => new ArrayBuffer(bytes), { shared: false });
export const sharedBuffer: MakeBuffer = Object.assign((bytes: number) => new SharedArrayBuffer(bytes), {
  shared: true,
});

/** Two cache lines, which processors fetch together: a node of the kernel is as large. */
const LINE = 128;

/** Hands out consecutive arrays of one buffer, each on a line of its own, in the order in which they are asked for. */
export class Arena {
  constructor(
    private readonly buffer: ArrayBufferLike,
    private next = 0,
  ) {}

  static bytes(...sizes: number[]): number {
    return sizes.reduce((sum, size) => sum + align(size), 0);
  }
  /** Where the next array will stand, in bytes. */
  get address(): number {
    return this.next;
  }
  f32(count: number): Float32Array {
    return new Float32Array(this.buffer, this.take(count * 4), count);
  }
  f64(count: number): Float64Array {
    return new Float64Array(this.buffer, this.take(count * 8), count);
  }
  i32(count: number): Int32Array {
    return new Int32Array(this.buffer, this.take(count * 4), count);
  }
  u8(count: number): Uint8Array {
    return new Uint8Array(this.buffer, this.take(count), count);
  }
  private take(bytes: number): number {
    const at = this.next;
    this.next += align(bytes);
    return at;
  }
}

function align(bytes: number): number {
  return Math.ceil(bytes / LINE) * LINE;
}
