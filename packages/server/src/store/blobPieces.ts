/** Bytes of the rows that a blob is stored in. */
export const PIECE = 1 << 20;

/** Bytes that come bit by bit, in the pieces that a blob is stored in: a large one is never held twice. */
export function* blobPieces(bytes: Iterable<Uint8Array>): Generator<Uint8Array> {
  let piece: Uint8Array | null = null;
  let filled = 0;
  for (const part of bytes)
    for (let from = 0; from < part.length;) {
      const count = Math.min(PIECE - filled, part.length - from);
      // a whole one needs no memory of its own
      if (count === PIECE) yield part.subarray(from, from + count);
      else {
        piece ??= new Uint8Array(PIECE);
        piece.set(part.subarray(from, from + count), filled);
        filled += count;
        if (filled === PIECE) {
          yield piece;
          [piece, filled] = [null, 0];
        }
      }
      from += count;
    }
  if (piece) yield piece.subarray(0, filled);
}
