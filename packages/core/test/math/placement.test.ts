// Against three's Euler angles of the order YXZ, and its composition of position, turn and scale.
import { expect } from 'chai';
import { Euler, Matrix4, Quaternion, Vector3 } from 'three';
import { placementOf, transformFrom, type Placement } from '@dusting/core/math';

const CASES: Placement[] = [
  { position: [1, 2, 3], heading: 30, pitch: -20, roll: 75, scale: [1, 1, 1] },
  { position: [0, -1, 0.5], heading: -160, pitch: 60, roll: -10, scale: [0.5, 2, 3] },
  { position: [4, 0, 0], heading: 10, pitch: 5, roll: 170, scale: [-1, 1, 2] },
];

describe('placement', () => {
  for (const placement of CASES)
    it(`heading ${placement.heading}, pitch ${placement.pitch}, roll ${placement.roll}`, () => {
      const { position, heading, pitch, roll, scale } = placement;
      const [x, y, z] = [pitch, heading, roll].map((d) => (d * Math.PI) / 180);
      const turn = new Quaternion().setFromEuler(new Euler(x, y, z, 'YXZ'));
      const theirs = new Matrix4().compose(new Vector3(...position), turn, new Vector3(...scale)).transpose().elements;
      const ours = transformFrom(placement);
      ours.forEach((v, k) => expect(v).to.be.closeTo(theirs[k], 1e-12));
      const back = placementOf(ours);
      expect(back.position).to.deep.equal(position);
      for (const key of ['heading', 'pitch', 'roll'] as const) expect(back[key]).to.be.closeTo(placement[key], 1e-9);
      back.scale.forEach((s, k) => expect(s).to.be.closeTo(scale[k], 1e-12));
    });

  it('straight up and down lead back to the same transform', () => {
    for (const pitch of [90, -90]) {
      const transform = transformFrom({ position: [0, 0, 0], heading: 40, pitch, roll: 25, scale: [1, 1, 1] });
      transformFrom(placementOf(transform)).forEach((v, k) => expect(v).to.be.closeTo(transform[k], 1e-9));
    }
  });
});
