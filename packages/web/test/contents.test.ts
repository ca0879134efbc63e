// What is found in the contents and what is selected, on a shot that a test made.
import { expect } from 'chai';
import { createPinia, setActivePinia } from 'pinia';
import { useBench } from '../src/stores/bench.ts';
import { useContents } from '../src/stores/contents.ts';
import { useSlip } from '../src/stores/slip.ts';
import { draggedValue } from '../src/contents/useDrag.ts';
import { defaultOf } from '../src/contents/defaults.ts';
import { parameterAt } from '@dusting/core/scene';
import type { Shot } from '../src/api.ts';
import { GLASS, makeShot, MATT, square } from '../../core/test/scenes.ts';

const real = globalThis.fetch;

describe('the contents', () => {
  beforeEach(() => {
    setActivePinia(createPinia());
    globalThis.fetch = (async () => Response.json({ edits: 1 })) as typeof fetch;
    const { document } = makeShot({
      objects: [
        { mesh: square(1), surface: MATT },
        { mesh: square(1), surface: GLASS },
        { mesh: square(1), surface: GLASS },
      ],
      lights: [{ kind: 'point' }],
      settings: { width: 4, height: 4 },
    });
    document.objects.o2.surface = 's1';
    useBench().shot = { id: 1, revision: 1, slip: [], edits: 0, proofs: [], defects: [], mapping: null, document: JSON.parse(JSON.stringify(document)) } as unknown as Shot; // prettier-ignore
  });
  after(() => {
    globalThis.fetch = real;
  });
  const found = () => useContents().found.map((c) => `${c.kind} ${c.id}`.trim());

  it('are searched by name, kind, state and what they are used with', async () => {
    const contents = useContents();
    expect(found()).to.include.members(['object o0', 'surface s1', 'light l0', 'camera camera', 'environment']);
    contents.search = 'O1';
    expect(found()).to.deep.equal(['object o1']);
    contents.search = '';
    contents.kinds = ['object'];
    contents.state = 'clear';
    expect(found()).to.deep.equal(['object o1', 'object o2']);
    contents.state = null;
    contents.usedWith = { kind: 'surface', id: 's0' };
    expect(found()).to.deep.equal(['object o0']);
    contents.usedWith = null;
    contents.kinds = ['object', 'surface'];
    await useSlip().set('/surfaces/s1/specular_ior', 1.4);
    contents.state = 'changed';
    expect(found()).to.deep.equal(['surface s1']);
  });

  it('several of a kind are selected, and a surface stands for its objects', () => {
    const contents = useContents();
    contents.select({ kind: 'object', id: 'o0' });
    contents.select({ kind: 'object', id: 'o1' }, true);
    expect(contents.chosen.map((c) => c.id)).to.deep.equal(['o0', 'o1']);
    expect(contents.selectedKeys('castsShadows')[1]).to.deep.equal(['objects', 'o1', 'castsShadows']);
    contents.select({ kind: 'object', id: 'o0' }, true);
    expect(contents.chosen.map((c) => c.id)).to.deep.equal(['o1']);
    contents.select({ kind: 'surface', id: 's1' }, true);
    expect(
      contents.chosen.map((c) => c.id),
      'another kind takes their place',
    ).to.deep.equal(['s1']);
    expect([...contents.selectedObjects]).to.deep.equal(['o1', 'o2']);
  });

  it('a flag of many objects is one edit', async () => {
    const [contents, slip] = [useContents(), useSlip()];
    for (const id of ['o0', 'o1', 'o2']) contents.select({ kind: 'object', id }, true);
    await slip.setAll(contents.selectedKeys('castsShadows').map((keys) => [contents.pathOf(keys), false]));
    expect(slip.lines).to.have.length(3);
    expect(contents.valueOf(['objects', 'o2', 'castsShadows'])).to.equal(false);
  });

  it('what is dragged is seen at once, and on the slip when it is let go', async () => {
    const slip = useSlip();
    const { s0 } = slip.document!.surfaces;
    slip.hold([['/surfaces/s1/specular_ior', 1.3]]);
    expect(slip.document!.surfaces.s1.specular_ior).to.equal(1.3);
    expect(slip.lines).to.have.length(0);
    expect(slip.document!.surfaces.s0, 'the rest is shared').to.equal(s0);
    await slip.letGo();
    expect(slip.lines.map((l) => [l.key, l.new])).to.deep.equal([['surfaces.s1.specular_ior', 1.3]]);
  });

  it('what may be left out is added and taken away', async () => {
    const slip = useSlip();
    await slip.set('/surfaces/s1/maps/normal', 'wood');
    expect(slip.patch[0].op).to.equal('add');
    await slip.set('/surfaces/s1/maps/normal', undefined);
    expect(slip.patch).to.deep.equal([]);
  });
});

describe('dragging a number', () => {
  const share = parameterAt(['surfaces', 'x', 'base_weight'])!;
  const depth = parameterAt(['surfaces', 'x', 'transmission_depth'])!;
  it('goes through a range, and multiplies what has none', () => {
    expect(draggedValue(0.5, 50, share)).to.equal(0.75);
    expect(draggedValue(0.5, 500, share)).to.equal(1);
    expect(draggedValue(0.02, 200, depth)).to.be.closeTo(0.02 * Math.E, 1e-4);
    expect(draggedValue(0, 100, depth), 'out of nothing').to.equal(0.5);
    expect(draggedValue(3, 16, parameterAt(['final', 'depth', 'total'])!)).to.equal(5);
  });
  it('defaults are those of the schema', () => {
    expect(defaultOf(['surfaces', 'x', 'specular_ior'])).to.equal(1.5);
    expect(defaultOf(['objects', 'x', 'mesh'])).to.equal(undefined);
  });
});
