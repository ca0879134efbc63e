// Shapes of lights and cameras by plane geometry: a camera of 90 degrees sees twice as high as far, a cone of 45 as wide.
import { expect } from 'chai';
import { CAMERA_DEFAULTS, LIGHT_DEFAULTS, type Camera, type Light } from '@dusting/core/scene';
import { cameraShape, lightShape } from '../src/model/lineShapes.ts';

const light = (change: Partial<Light>) => ({ name: 'x', ...structuredClone(LIGHT_DEFAULTS), kind: 'point', ...change }) as Light; // prettier-ignore
const camera = (change: Partial<Camera>) => ({ name: 'x', ...CAMERA_DEFAULTS, transform: [], ...change }) as Camera;
type Shape = ReturnType<typeof lightShape>;
const pointsOf = (shape: Shape) => {
  const { array } = shape.getAttribute('position');
  return Array.from({ length: array.length / 3 }, (_, i) => [array[i * 3], array[i * 3 + 1], array[i * 3 + 2]]);
};
const most = (shape: Shape, axis: number) => Math.max(...pointsOf(shape).map((p) => Math.abs(p[axis])));

describe('shapes of lights', () => {
  it('have the size of the light', () => {
    const panel = lightShape(light({ kind: 'rectangle', width: 1.1, height: 1.6 }), 0.1);
    expect(most(panel, 0)).to.be.closeTo(0.55, 1e-6);
    expect(most(panel, 1)).to.be.closeTo(0.8, 1e-6);
    const ball = lightShape(light({ kind: 'sphere', radius: 0.3 }), 0.1);
    for (const p of pointsOf(ball)) expect(Math.hypot(...p)).to.be.closeTo(0.3, 1e-6);
    const disc = pointsOf(lightShape(light({ kind: 'disc', radius: 0.2 }), 0.1)).filter((p) => p[2] === 0);
    expect(Math.max(...disc.map((p) => Math.hypot(...p)))).to.be.closeTo(0.2, 1e-6);
  });

  it('a spot opens by its outer cone, along -Z', () => {
    const spot = pointsOf(lightShape(light({ kind: 'spot', outerCone: 45 }), 0.1));
    const rim = spot.filter((p) => Math.abs(p[2] + 0.3) < 1e-6);
    for (const p of rim) expect(Math.hypot(p[0], p[1])).to.be.closeTo(0.3, 1e-6);
    expect(Math.max(...spot.map((p) => p[2])), 'nothing far behind it').to.be.at.most(0.05 + 1e-6);
  });

  it('what has no size is drawn as large as is asked; its reach is a ball', () => {
    expect(most(lightShape(light({}), 0.4), 0)).to.be.closeTo(0.2, 1e-6);
    expect(most(lightShape(light({ reach: 5 }), 0.4), 1)).to.be.closeTo(5, 1e-6);
    expect(
      pointsOf(lightShape(light({ kind: 'sun' }), 0.4)).some((p) => p[2] < -1),
      'arrows',
    ).to.equal(true);
  });
});

describe('the shape of a camera', () => {
  it('is a pyramid that opens by its angle, to the far clip', () => {
    const shape = cameraShape(camera({ verticalAngle: 90, far: 3 }), 2, 1);
    expect(most(shape, 2)).to.be.closeTo(3, 1e-6);
    expect(most(shape, 1)).to.be.closeTo(3, 1e-6);
    expect(most(shape, 0)).to.be.closeTo(6, 1e-6);
  });
  it('has planes at its near and far clip, and none where they are not set', () => {
    const at = (z: number, change: Partial<Camera>) => pointsOf(cameraShape(camera({ verticalAngle: 90, ...change }), 1, 1)).filter((p) => Math.abs(p[2] + z) < 1e-6).length; // prettier-ignore
    expect(at(0.5, { near: 0.5, far: 3 })).to.equal(12);
    expect(at(0.5, { far: 3 })).to.equal(0);
    expect(at(3, { far: 3 })).to.be.greaterThan(at(1, {}));
  });
  it('with a lens it shows its plane of focus and its aperture, and without one neither', () => {
    const shape = (change: Partial<Camera>) => pointsOf(cameraShape(camera({ verticalAngle: 90, far: 3, focusDistance: 2, ...change }), 1, 1)); // prettier-ignore
    const focus = shape({ apertureRadius: 0.1 }).filter((p) => Math.abs(p[2] + 2) < 1e-6);
    expect(focus, 'four sides').to.have.length(8);
    for (const p of focus) expect([Math.abs(p[0]), Math.abs(p[1])].map((v) => v.toFixed(5))).to.deep.equal(['2.00000', '2.00000']); // prettier-ignore
    const rim = shape({ apertureRadius: 0.1 }).filter((p) => p[2] === 0 && Math.hypot(p[0], p[1]) > 0);
    for (const p of rim) expect(Math.hypot(p[0], p[1])).to.be.closeTo(0.1, 1e-6);
    expect(rim.length).to.be.above(20);
    expect(shape({}).filter((p) => Math.abs(p[2] + 2) < 1e-6)).to.have.length(0);
  });
  it('an orthographic one is a box', () => {
    const points = pointsOf(cameraShape(camera({ kind: 'orthographic', height: 2, near: 1, far: 4 }), 1.5, 1));
    for (const p of points) expect([Math.abs(p[0]), Math.abs(p[1])]).to.deep.equal([1.5, 1]);
  });
});
