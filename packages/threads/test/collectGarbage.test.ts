import { expect } from 'chai';
import { collectGarbage } from '@dusting/threads';

describe('garbage of shared buffers', () => {
  it('is collected when asked for, and what is held stays', async () => {
    const held = new SharedArrayBuffer(1 << 20);
    const refs = [new WeakRef(held), new WeakRef(new SharedArrayBuffer(1 << 20))];
    // a reference that was just made holds until the turn of the loop is over
    await new Promise((resolve) => setImmediate(resolve));
    collectGarbage();
    expect(refs.map((ref) => ref.deref() !== undefined)).to.deep.equal([true, false]);
    expect(held.byteLength).to.equal(1 << 20);
  });
});
