/** Makes the memory that a scene lives in. Shared where threads are to read it, plain otherwise. */
export type MakeBuffer = (bytes: number) => ArrayBuffer | SharedArrayBuffer;
export const plainBuffer: MakeBuffer = (bytes) => new ArrayBuffer(bytes);
export const sharedBuffer: MakeBuffer = (bytes) => new SharedArrayBuffer(bytes);

/** Hands out consecutive, 16-byte aligned arrays of one buffer, in the order in which they are asked for. */
export class Arena {
  private next = 0;
  constructor(private readonly buffer: ArrayBufferLike) {}

  static bytes(...sizes: number[]): number {
    return sizes.reduce((sum, size) => sum + align(size), 0);
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
  private take(bytes: number): number {
    const at = this.next;
    this.next += align(bytes);
    return at;
  }
}

function align(bytes: number): number {
  return Math.ceil(bytes / 16) * 16;
}
