import { expect } from 'chai';
import type { ByteRange } from '@dusting/core/formats';
import { SparseFile } from '../src/pictures/sparseFile.ts';

describe('a file that is fetched as it is needed', () => {
  const CELL = 65536;
  const whole = Uint8Array.from({ length: 10 * CELL + 99 }, (_, i) => (i * 13) % 251);
  let asked: ByteRange[][];
  const open = (fails = () => false) => {
    asked = [];
    const read = async (_: string, ranges: ByteRange[], into: Uint8Array) => {
      if (fails()) throw new Error('the database is away');
      asked.push(ranges);
      for (const [start, end] of ranges) into.set(whole.subarray(start, end), start);
    };
    return new SparseFile({ length: async () => whole.length, read }, 'a', whole.length);
  };

  it('asks for whole cells, those beside each other as one, and for each of them once', async () => {
    const file = open();
    await file.need([[5, 6], [CELL - 1, CELL + 1], [4 * CELL, 5 * CELL]]); // prettier-ignore
    expect(asked).to.deep.equal([[[0, 2 * CELL], [4 * CELL, 5 * CELL]]]); // prettier-ignore
    await file.need([[10, 2 * CELL]]);
    expect(asked.length, 'it is there').to.equal(1);
    await file.need([[CELL, 4 * CELL + 1]]);
    expect(asked[1], 'what is missing alone').to.deep.equal([[2 * CELL, 4 * CELL]]);
    expect(Buffer.compare(file.bytes.subarray(0, 5 * CELL), whole.subarray(0, 5 * CELL))).to.equal(0);
    expect(file.bytes.subarray(5 * CELL).every((byte) => byte === 0)).to.equal(true);
  });

  it('ends where the file does, and asks for nothing where nothing is needed', async () => {
    const file = open();
    await file.need([]);
    expect(asked).to.deep.equal([]);
    await file.need([[whole.length - 1, whole.length]]);
    expect(asked).to.deep.equal([[[10 * CELL, whole.length]]]);
    expect(file.bytes.at(-1)).to.equal(whole.at(-1));
  });

  it('what could not be fetched is not there, and is asked for again', async () => {
    let fails = true;
    const file = open(() => fails);
    let said = '';
    await file.need([[0, 1]]).catch((error: Error) => (said = error.message));
    expect(said).to.equal('the database is away');
    fails = false;
    await file.need([[0, 1]]);
    expect(asked).to.deep.equal([[[0, CELL]]]);
  });
});
