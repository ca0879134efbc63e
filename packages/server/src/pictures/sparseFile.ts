import type { ByteRange } from '@dusting/core/formats';

/** Where stored files are read from. */
export interface FileStore {
  /** Bytes of a file. */
  length(id: string): Promise<number>;
  /** Puts ranges of a file into an array as long as the file. */
  read(id: string, ranges: ByteRange[], into: Uint8Array): Promise<void>;
}

/** Bytes that are fetched as one. */
const CELL = 1 << 16;

/** A stored file of which what is needed is fetched, once. Its array is as long as the file, but takes the memory of what is there. */
export class SparseFile {
  readonly bytes: Uint8Array;
  /** 1 for each cell that is there. */
  private readonly there: Uint8Array;

  constructor(
    private readonly store: FileStore,
    readonly id: string,
    length: number,
  ) {
    this.bytes = new Uint8Array(length);
    this.there = new Uint8Array(Math.ceil(length / CELL));
  }

  async need(ranges: ByteRange[]): Promise<void> {
    const cells = new Set<number>();
    for (const [start, end] of ranges)
      for (let cell = Math.floor(start / CELL); cell * CELL < end; cell++) if (!this.there[cell]) cells.add(cell);
    const missing: ByteRange[] = [];
    for (const cell of [...cells].sort((a, b) => a - b)) {
      const [start, end] = [cell * CELL, Math.min(this.bytes.length, (cell + 1) * CELL)];
      const last = missing.at(-1);
      if (last?.[1] === start) last[1] = end;
      else missing.push([start, end]);
    }
    if (missing.length > 0) await this.store.read(this.id, missing, this.bytes);
    for (const cell of cells) this.there[cell] = 1;
  }
}
