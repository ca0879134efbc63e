// A sun of its real size: angular diameter 0.53 degrees (astronomical almanac). Shadow length h / tan(elevation), width of
// the penumbra d tan(0.53 deg) across the beam, by geometry. Numbers in single precision at 1 km are 0.06 mm apart (IEEE 754).
import { expect } from 'chai';
import { compileScene, FILM, frameOf, renderHere } from '@dusting/core/render';
import { makeShot, MATT, square } from '../scenes.ts';

/** Brightness along x on a floor at z = 0 behind a wall that stands at x = 0 and ends at height h. */
function profile(from: number, to: number, pixels: number, elevation: number, height: number, away = 0): number[] {
  const e = (elevation * Math.PI) / 180;
  const wall = {
    mesh: square(1),
    surface: { ...MATT, base_color: [0, 0, 0] },
    transform: [0, 0, 1, away, 0, 40, 0, 0, -height, 0, 0, height / 2],
  };
  // the sun stands over -x: light travels along (cos e, 0, -sin e), which is -Z of its transform
  const [c, s] = [Math.cos(e), Math.sin(e)];
  const { document, blobs } = makeShot({
    objects: [{ mesh: square(400), surface: { ...MATT, base_color: [0.5, 0.5, 0.5] }, transform: [1, 0, 0, away, 0, 1, 0, 0, 0, 0, 1, 0] }, { ...wall, flags: { seenByCamera: false } }],
    lights: [{ kind: 'sun', angle: 0.53, strength: 2, transform: [s, 0, -c, 0, 0, 1, 0, 0, c, 0, s, 0] }],
    settings: { width: pixels, height: 1, pixelSamples: 64 },
    view: (to - from) / pixels,
  }); // prettier-ignore
  const camera = document.cameras.camera;
  camera.transform = [1, 0, 0, away + (from + to) / 2, 0, 1, 0, 0, 0, 0, 1, 50];
  const scene = compileScene(document, document.final, (id) => blobs.get(id)!);
  const { data } = renderHere(scene, document.final, frameOf(document.final));
  return Array.from({ length: pixels }, (_, i) => data[i * FILM.stride + 1] / data[i * FILM.stride + FILM.samples]);
}

describe('the sun', () => {
  it('a wall of 2 m at 30 degrees throws a shadow of 3.46 m', () => {
    const values = profile(3.2, 3.7, 100, 30, 2);
    const lit = values[99];
    expect(values[0]).to.equal(0);
    expect(lit).to.be.closeTo((0.5 / Math.PI) * 2 * Math.sin(Math.PI / 6), 1e-3);
    const edge = 3.2 + 0.005 * values.filter((v) => v < lit / 2).length;
    expect(edge).to.be.closeTo(2 / Math.tan(Math.PI / 6), 0.01);
  });
  it('the penumbra is as wide as the sun is large: d tan(0.53 deg) across the beam', () => {
    const height = 10;
    const values = profile(9.5, 10.5, 400, 45, height);
    const lit = values[399];
    // from the first to the last value between dark and light, measured on the floor
    const [first, last] = [values.findIndex((v) => v > 0.001 * lit), values.findIndex((v) => v > 0.999 * lit)];
    const width = ((last - first) / 400) * 1;
    const distance = height * Math.SQRT2;
    const expected = (distance * Math.tan((0.53 * Math.PI) / 180)) / Math.sin(Math.PI / 4);
    expect(width).to.be.closeTo(expected, 0.06 * expected);
  });
  it('a kilometre away the shadow lies where it should, to the spacing of numbers there', () => {
    expect(Math.fround(1000 + 2 ** -14) - 1000).to.equal(2 ** -14); // 0.061 mm is the next number
    expect(Math.fround(1000 + 2 ** -16)).to.equal(1000);
    const near = profile(3.45, 3.48, 60, 30, 2);
    const far = profile(3.45, 3.48, 60, 30, 2, 1000);
    const edge = (values: number[]) => values.filter((v) => v < values[59] / 2).length;
    expect(Math.abs(edge(near) - edge(far)) * 0.0005).to.be.at.most(0.0011);
  });
});
