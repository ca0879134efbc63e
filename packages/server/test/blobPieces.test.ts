import { expect } from 'chai';
import { BlobPieces, PIECE, piecesOf } from '../src/store/blobPieces.ts';

describe('pieces of a blob', () => {
  const whole = Uint8Array.from({ length: 2 * PIECE + 777 }, (_, i) => (i * 7) % 251);

  it('are those of the whole, in whatever order its parts are written, and across their borders', () => {
    const pieces = new BlobPieces();
    const cuts = [0, 10, PIECE - 3, PIECE + 5, 2 * PIECE, whole.length];
    for (const k of [3, 1, 4, 0, 2]) pieces.write(whole.subarray(cuts[k], cuts[k + 1]), cuts[k]);
    const found = pieces.upTo(whole.length);
    expect(found.map(({ length }) => length)).to.deep.equal([PIECE, PIECE, 777]);
    found.forEach((piece, i) => expect(Buffer.compare(piece, piecesOf(whole)[i])).to.equal(0));
  });
});
