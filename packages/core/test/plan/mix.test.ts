// Light is additive (the rendering equation is linear in the emitted light: Kajiya 1986): lights changed by the patch render
// what the mix of their layers showed.
import { expect } from 'chai';
import { mixChange, type Tint } from '@dusting/core/plan';
import { FILM, renderHere, frameOf, compileScene } from '@dusting/core/render';
import { patchShot, type ShotDocument } from '@dusting/core/scene';
import { makeShot, square } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const lamp = { kind: 'point' as const, strength: 4, seenByCamera: false };

describe('a mix as a change of the lights', () => {
  const { document, blobs } = makeShot({
    objects: [
      { mesh: square(4), surface: { base_color: [0.5, 0.6, 0.7], specular_weight: 0 } },
      { mesh: square(1), surface: { emission_luminance: 2, emission_color: [1, 0.5, 0.25] }, transform: [0.3, 0, 0, 0.7, 0, 0.3, 0, 0, 0, 0, 0.3, 0.6] }, // prettier-ignore
    ],
    lights: [
      { ...lamp, group: 'window side', transform: at(-1, 0, 2) },
      { ...lamp, group: 'shelf', color: [0.2, 0.8, 1], transform: at(1, 0, 2) },
    ],
    environment: { color: [0.3, 0.2, 0.1], strength: 2, seenByCamera: false },
    view: 1,
    settings: { pixelSamples: 64, lightSamples: 1, depth: { total: 1 } },
  });
  const render = (shot: ShotDocument) =>
    renderHere(
      compileScene(shot, shot.final, (id) => blobs.get(id)!),
      shot.final,
      frameOf(shot.final),
    ).data;

  it('renders what was seen', () => {
    const before = render(document);
    const tints: Record<string, Tint> = { 'window-side': [0.5, 0.5, 0.5], shelf: [2, 1, 0], environment: [0, 0, 0], surfaces: [1, 1, 2] }; // prettier-ignore
    const after = render(patchShot(document, mixChange(document, tints)));
    const order = ['window-side', 'shelf', 'environment', 'surfaces'];
    const [mixed, rendered] = [[0, 0, 0], [0, 0, 0]]; // prettier-ignore
    for (let i = 0; i < before.length; i += FILM.stride)
      for (let k = 0; k < 3; k++) {
        order.forEach((group, g) => (mixed[k] += tints[group][k] * before[i + FILM.group + g * 3 + k]));
        rendered[k] += after[i + FILM.beauty + k];
      }
    for (let k = 0; k < 3; k++) expect(rendered[k] / mixed[k]).to.be.closeTo(1, 0.02);
  });

  it('says only what changes, and nothing for a mix that is as it was', () => {
    expect(mixChange(document, { shelf: [1, 1, 1] })).to.deep.equal([]);
    const [only, ...rest] = mixChange(document, { 'window-side': [0.25, 0.25, 0.25] });
    expect(rest).to.deep.equal([]);
    expect(only).to.include({ op: 'replace', value: 1 });
    expect(only.path).to.match(/^\/lights\/[a-z0-9-]+\/strength$/);
  });
});
