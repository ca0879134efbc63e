// What a far distance cuts off, where it is known by construction: a floor 10 m away, of which a slab 8 m away hides one half.
import { expect } from 'chai';
import { frameOf } from '@dusting/core/render';
import { clipMap } from '../../src/diagnose/shadow/clipMap.ts';
import { clipping } from '../../src/diagnose/shadow/clipping.ts';
import { compileTest, makeShot, MATT, square, type TestScene } from '../scenes.ts';

const cut = (far: number) => {
  const half = { mesh: square(20), surface: MATT, transform: [1, 0, 0, 10, 0, 1, 0, 0, 0, 0, 1, 2] };
  const camera = { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 10], verticalAngle: 20, far };
  const scene: TestScene = { objects: [{ mesh: square(20), surface: MATT }, half], camera, settings: { width: 120, height: 60 } }; // prettier-ignore
  const { compiled, settings } = compileTest(scene);
  const region = frameOf(settings);
  return clipMap(clipping(compiled, settings, region), region, makeShot(scene).document, compiled.objectIds);
};

describe('map of what the camera cuts off', () => {
  it('shows the half of the floor that lies beyond the far distance, and names it', () => {
    const map = cut(9)!;
    expect(map.values.length).to.equal(map.columns * map.rows);
    expect(map.categories).to.have.length(1);
    map.values.forEach((v, i) => {
      const x = ((i % map.columns) + 0.5) * map.tile;
      if (Math.abs(x - 60) > map.tile) expect(v > 0, `column at ${x} px`).to.equal(x < 60);
      expect(map.leading![i]).to.equal(v > 0 ? 0 : -1);
    });
  });
  it('is none where nothing is cut off', () => {
    expect(cut(11)).to.equal(null);
    expect(cut(0)).to.equal(null);
  });
});
