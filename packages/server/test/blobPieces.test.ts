import { expect } from 'chai';
import { blobPieces, PIECE } from '../src/store/blobPieces.ts';

describe('pieces of a blob', () => {
  const whole = Uint8Array.from({ length: 2 * PIECE + 777 }, (_, i) => (i * 7) % 251);

  it('are those of the whole, however it comes, and across its borders', () => {
    for (const cuts of [[], [0, 10, PIECE - 3, PIECE + 5, 2 * PIECE], [PIECE, PIECE, 2 * PIECE], [1, 2 * PIECE + 1]]) {
      const edges = [0, ...cuts, whole.length];
      const parts = edges.slice(1).map((end, k) => whole.subarray(edges[k], end));
      const found = [...blobPieces(parts)];
      expect(found.map(({ length }) => length)).to.deep.equal([PIECE, PIECE, 777]);
      expect(Buffer.compare(Buffer.concat(found), whole), `cut at ${cuts.join()}`).to.equal(0);
    }
    expect([...blobPieces([])]).to.deep.equal([]);
    expect([...blobPieces([whole.subarray(0, PIECE)])]).to.have.length(1);
  });
});
