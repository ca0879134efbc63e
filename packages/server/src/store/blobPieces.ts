/** Bytes of the rows that a blob is stored in. */
export const PIECE = 1 << 20;

/** A blob that is written here and there before it is stored, in the pieces that it is stored in: a large one is never held twice. */
export class BlobPieces {
  private readonly pieces: Uint8Array[] = [];

  /** Puts bytes at a place. */
  write(bytes: Uint8Array, at: number): void {
    for (let from = 0; from < bytes.length;) {
      const place = Math.floor((at + from) / PIECE);
      const first = at + from - place * PIECE;
      const count = Math.min(PIECE - first, bytes.length - from);
      while (this.pieces.length <= place) this.pieces.push(new Uint8Array(PIECE));
      this.pieces[place].set(bytes.subarray(from, from + count), first);
      from += count;
    }
  }

  /** All of them, of a blob of so many bytes. */
  upTo(length: number): Uint8Array[] {
    return this.pieces.map((piece, place) => piece.subarray(0, length - place * PIECE));
  }
}

/** The pieces of a blob that is held as a whole. */
export const piecesOf = (bytes: Uint8Array): Uint8Array[] =>
  Array.from({ length: Math.ceil(bytes.length / PIECE) }, (_, i) => bytes.subarray(i * PIECE, (i + 1) * PIECE));
