import { expect } from 'chai';
import { KeptFilms } from '../src/node/keptFilms.ts';

describe('films that a node keeps', () => {
  const film = (bytes: number, mark: number) => new Uint8Array(bytes).fill(mark);

  it('are given once, and those of the oldest proof go first where there are too many', () => {
    const kept = new KeptFilms(100);
    kept.keep(1, 0, film(40, 1));
    kept.keep(1, 5, film(40, 2));
    kept.keep(2, 0, film(40, 3));
    expect(kept.take(1, 0), 'the first one made room').to.equal(undefined);
    expect(kept.take(1, 5)![0]).to.equal(2);
    expect(kept.take(1, 5), 'given once').to.equal(undefined);
    expect(kept.proofs()).to.deep.equal([2]);
    kept.keep(2, 0, film(60, 4)); // done twice: it takes the place of the first
    kept.keep(3, 0, film(40, 5));
    expect([kept.take(2, 0)![0], kept.take(3, 0)![0]]).to.deep.equal([4, 5]);
    kept.keep(4, 0, film(101, 6));
    expect(kept.proofs(), 'one that is too large alone is not kept').to.deep.equal([]);
  });

  it('are let go of with their proof', () => {
    const kept = new KeptFilms(100);
    for (const place of [0, 1, 2]) kept.keep(7, place, film(30, place));
    kept.drop(7);
    for (const place of [0, 1, 2]) kept.keep(8, place, film(30, place));
    expect(
      [0, 1, 2].map((place) => kept.take(8, place)![0]),
      'there is room again',
    ).to.deep.equal([0, 1, 2]);
    expect(kept.take(7, 0)).to.equal(undefined);
  });
});
