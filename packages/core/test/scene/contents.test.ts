// Own rules: what uses what, what has changed, and how it is said. The example's fixed point is the sentence of the design,
// "Honey: transmission tint 0 to 0.8".
import { expect } from 'chai';
import {
  changedContents,
  changesSeen,
  changeWords,
  isInState,
  parameterAt,
  patchShot,
  placeWords,
  sceneContents,
  valueWords,
  type Patch,
} from '@dusting/core/scene';
import { GLASS, GLOW, makeShot, MATT, square } from '../scenes.ts';

const shot = () => {
  const { document } = makeShot({
    objects: [
      { mesh: square(1), surface: MATT },
      { mesh: square(1), surface: GLASS, flags: { castsShadows: false } },
      { mesh: square(1), surface: GLOW },
    ],
    lights: [
      { kind: 'point', linked: ['o1'] },
      { kind: 'sun', angle: 1 },
    ],
    settings: { width: 4, height: 4 },
  });
  // as it comes from the server: no part of it is another
  return patchShot(JSON.parse(JSON.stringify(document)), [
    { op: 'replace', path: '/surfaces/s0/name', value: 'wax' },
    { op: 'replace', path: '/surfaces/s1/name', value: 'honey' },
    { op: 'replace', path: '/objects/o1/surface', value: 's0' },
  ]);
};
const wordsOf = (patch: Patch) => changeWords(shot(), patchShot(shot(), patch));

describe('contents of a shot', () => {
  const document = shot();
  const all = sceneContents(document);
  const named = (kind: string, id: string) => all.find((c) => c.kind === kind && c.id === id)!;

  it('say what they are made of and used by', () => {
    expect(named('object', 'o1').madeOf).to.deep.equal([{ kind: 'surface', id: 's0' }]);
    expect(named('object', 'o1').usedBy).to.deep.equal([{ kind: 'light', id: 'l0' }]);
    expect(named('surface', 's0').usedBy.map((u) => u.id)).to.deep.equal(['o0', 'o1']);
    expect(named('surface', 's1').usedBy).to.deep.equal([]);
  });

  it('are found by their state', () => {
    const found = (state: Parameters<typeof isInState>[1]) => all.filter((c) => isInState(c, state, document)).map((c) => `${c.kind} ${c.id}`); // prettier-ignore
    expect(found('noShadow')).to.deep.equal(['object o1']);
    expect(found('linked')).to.deep.equal(['light l0']);
    expect(found('unused')).to.deep.equal(['surface s1']);
    expect(found('clear')).to.deep.equal(['surface s1']);
    expect(found('shines')).to.include.members(['object o2', 'surface s2', 'light l0']);
  });

  it('differ where something in them differs', () => {
    const after = patchShot(document, [
      { op: 'replace', path: '/lights/l1/exposure', value: 1 },
      { op: 'replace', path: '/environment/strength', value: 2 },
      { op: 'replace', path: '/final/seed', value: 9 },
    ]);
    expect(changedContents(document, after)).to.have.deep.members([{ kind: 'light', id: 'l1' }, { kind: 'environment', id: '' }]); // prettier-ignore
  });
});

describe('changes in words', () => {
  it('name whose value it is, the value before and after, and the unit', () => {
    expect(wordsOf([{ op: 'replace', path: '/surfaces/s1/transmission_depth', value: 0.02 }])).to.deep.equal(['honey: transmission depth 0 to 0.02 m']); // prettier-ignore
    expect(wordsOf([{ op: 'replace', path: '/surfaces/s1/transmission_tint', value: [0.8, 0.8, 0.8] }])).to.deep.equal(['honey: transmission tint 1 1 1 to 0.8 0.8 0.8']); // prettier-ignore
    expect(wordsOf([{ op: 'replace', path: '/objects/o0/castsShadows', value: false }])).to.deep.equal(['o0: casts shadows yes to no']); // prettier-ignore
    expect(wordsOf([{ op: 'replace', path: '/final/depth/total', value: 3 }])[0]).to.match(/^final: total depth \d+ to 3 events$/); // prettier-ignore
  });
  it('say what is referred to by its name', () => {
    expect(wordsOf([{ op: 'replace', path: '/objects/o0/surface', value: 's1' }])).to.deep.equal(['o0: surface wax to honey']); // prettier-ignore
    expect(wordsOf([{ op: 'replace', path: '/lights/l0/linked', value: null }])).to.deep.equal(['l0: lights only o1 to all']); // prettier-ignore
  });
  it('tell what came and went', () => {
    expect(wordsOf([{ op: 'remove', path: '/objects/o2' }])).to.deep.equal(['object o2 removed']);
  });
  it('tell of a move where it led to', () => {
    const line = wordsOf([{ op: 'replace', path: '/objects/o0/transform/3', value: 0.25 }]);
    expect(line).to.deep.equal(['o0: place (0, 0, 0) to (0.25, 0, 0)']);
    // a sun has no place: where it turns to
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    const turned = valueWords(['lights', 'l1', 'transform'], [c, 0, s, 5, 0, 1, 0, 6, -s, 0, c, 7], shot());
    expect(turned).to.equal('30° / 0°');
  });
  it('leave out what the settings of the other use do not show', () => {
    const after = patchShot(shot(), [{ op: 'replace', path: '/preview/seed', value: 9 }, { op: 'replace', path: '/noise/limit', value: 3 }]); // prettier-ignore
    expect(changesSeen(shot(), after, 'final')).to.deep.equal([]);
    expect(changesSeen(shot(), after, 'preview')).to.have.length(1);
  });
  it('lines of the slip are named alike', () => {
    expect(placeWords(['surfaces', 's1', 'specular_ior'], shot())).to.equal('honey: IOR');
    expect(placeWords(['surfaces', 's1', 'maps', 'normal'], shot())).to.equal('honey: map of normal');
    expect(placeWords(['environment', 'rotation'], shot())).to.equal('environment: rotation');
    expect(valueWords(['environment', 'background'], null, shot())).to.equal('none');
  });
});

describe('parameters', () => {
  it('have the ranges and units of the schema', () => {
    expect(parameterAt(['surfaces', 'x', 'specular_ior'])).to.include({ title: 'IOR', kind: 'number', minimum: 1, maximum: 5 }); // prettier-ignore
    expect(parameterAt(['lights', 'x', 'exposure'])).to.include({ title: 'stops', unit: 'EV', minimum: -30 });
    expect(parameterAt(['surfaces', 'x', 'base_color'])).to.include({ kind: 'color', maximum: 1 });
    expect(parameterAt(['environment', 'background'])).to.include({ kind: 'color' });
    expect(parameterAt(['textures', 'x', 'wrapU'])!.choices).to.deep.equal(['repeat', 'mirror', 'clamp']);
    expect(parameterAt(['objects', 'x', 'castsShadows'])).to.include({ kind: 'switch', title: 'casts shadows' });
    expect(parameterAt(['surfaces', 'x', 'sheen'])).to.equal(null);
  });
});
