// A light that is dragged: a sun turns about the vertical and rises, one with a place stays under the pointer.
import { expect } from 'chai';
import { PerspectiveCamera, Vector3 } from 'three';
import { draggedLight } from '../src/model/draggedLight.ts';

const CANVAS = { width: 400, height: 300 };
const way = (x: number, y: number, from = { x: 200, y: 150 }) => ({ ...CANVAS, from, to: { x: from.x + x, y: from.y + y } }); // prettier-ignore
const view = new PerspectiveCamera(40, CANVAS.width / CANVAS.height, 0.1, 100);
view.position.set(3, 2, 8);
view.lookAt(0, 1, 0);
view.updateMatrixWorld();
const column = (t: number[], k: number) => new Vector3(t[k], t[k + 4], t[k + 8]);
const height = (t: number[]) => (Math.asin(column(t, 2).y) * 180) / Math.PI;
const azimuth = (t: number[]) => (Math.atan2(column(t, 2).x, column(t, 2).z) * 180) / Math.PI;

describe('a light that is dragged', () => {
  /** Shines from the front, 30 degrees above the horizon. */
  const [s, c] = [Math.sin(Math.PI / 6), Math.cos(Math.PI / 6)];
  const sun = { kind: 'sun' as const, transform: [1, 0, 0, 7, 0, c, s, 8, 0, -s, c, 9] };

  it('a sun: across by 100 pixels is 25 degrees about the vertical, upwards as much higher', () => {
    const across = draggedLight(sun, way(100, 0), view);
    expect([height(across), azimuth(across)].map(Math.round)).to.deep.equal([30, 25]);
    const higher = draggedLight(sun, way(0, -100), view);
    expect([height(higher), azimuth(higher)].map(Math.round)).to.deep.equal([55, 0]);
    for (const turned of [across, higher]) {
      expect([turned[3], turned[7], turned[11]]).to.deep.equal([7, 8, 9]);
      for (const k of [0, 1, 2]) {
        expect(column(turned, k).length()).to.be.closeTo(1, 1e-6);
        expect(column(turned, k).dot(column(turned, (k + 1) % 3))).to.be.closeTo(0, 1e-6);
      }
    }
  });

  it('a sun stays above the ground and below the zenith', () => {
    expect(height(draggedLight(sun, way(0, 4000), view))).to.be.closeTo(1, 0.01);
    expect(height(draggedLight(sun, way(0, -4000), view))).to.be.closeTo(89, 0.01);
  });

  it('a lamp stays under the pointer; upright it moves up and down alone', () => {
    const lamp = { kind: 'sphere' as const, transform: [1, 0, 0, 0.4, 0, 1, 0, 1.2, 0, 0, 1, -0.3] };
    const seen = (t: number[]) => {
      const { x, y } = new Vector3(t[3], t[7], t[11]).project(view);
      return { x: ((x + 1) / 2) * CANVAS.width, y: ((1 - y) / 2) * CANVAS.height };
    };
    const from = seen(lamp.transform);
    const moved = draggedLight(lamp, way(60, -25, from), view);
    expect(seen(moved).x).to.be.closeTo(from.x + 60, 0.01);
    expect(seen(moved).y).to.be.closeTo(from.y - 25, 0.01);
    const upright = draggedLight(lamp, way(60, -25, from), view, true);
    expect([upright[3], upright[11]]).to.deep.equal([0.4, -0.3]);
    expect(upright[7]).to.be.above(1.2);
  });
});
