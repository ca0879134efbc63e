// What the film says of its time and of its deep paths, against other renders of the same scene.
import { expect } from 'chai';
import { addSamples, emptyFilm, FILM, filmStatistics, frameOf, PathTracer, renderHere, type Film } from '@dusting/core/render'; // prettier-ignore
import { compileTest, GLASS, MATT, slab, sphere, square, type TestScene } from '../scenes.ts';

const room: TestScene = {
  objects: [
    { mesh: square(6), surface: { ...MATT, base_color: [0.8, 0.8, 0.8] } },
    { mesh: square(6, 3), surface: { ...MATT, base_color: [0.8, 0.8, 0.8] }, transform: [1, 0, 0, 2.6, 0, -1, 0, 0, 0, 0, -1, 4] }, // prettier-ignore
    { mesh: sphere(0.6, 24), surface: { ...GLASS, specular_roughness: 0.3 }, transform: [1, 0, 0, 0.5, 0, 1, 0, 0, 0, 0, 1, 0.8] }, // prettier-ignore
    { mesh: slab(1, 0.3, 0.4), surface: GLASS, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 0] },
  ],
  lights: [
    { kind: 'sphere', radius: 0.3, strength: 6, group: 'Key', seenByCamera: false, transform: [1, 0, 0, -2, 0, 1, 0, 1, 0, 0, 1, 2] }, // prettier-ignore
    { kind: 'point', strength: 4, group: 'Fill', transform: [1, 0, 0, 2, 0, 1, 0, -1, 0, 0, 1, 2] },
  ],
  view: 2,
  settings: {
    width: 24,
    height: 16,
    pixelSamples: 16,
    diffuseSamples: 2,
    transmissionSamples: 3,
    lightSamples: 2,
    depth: { diffuse: 6, specular: 6, transmission: 10, volume: 0, total: 14 },
  },
};
const { compiled, settings } = compileTest(room);
const sumOf = ({ data }: Film, slot: number) => {
  let sum = 0;
  for (let at = slot; at < data.length; at += FILM.stride) sum += data[at];
  return sum;
};

describe('time of a render by what it goes to', () => {
  const film = emptyFilm(frameOf(settings));
  const rays = () => [0, 1, 2, 3, 4, 5].reduce((sum, type) => sum + sumOf(film, FILM.rays + type), 0);
  // a clock that goes on by a second for each ray
  addSamples(new PathTracer(compiled, settings), film, 0, settings.pixelSamples, () => 1000 * rays());
  const { kindSeconds, lightSeconds, pixelSeconds } = filmStatistics(film, 1);

  it('is that of the rays of each kind, measured on one sample in four', () => {
    expect(pixelSeconds).to.be.closeTo(rays(), 1e-6 * rays());
    for (const [lobe, k] of [
      ['diffuse', 0],
      ['specular', 1],
      ['transmission', 2],
    ] as const)
      expect(kindSeconds[lobe] / sumOf(film, FILM.branchRays + k), lobe).to.be.closeTo(1, 0.06);
    const branches = [0, 1, 2, 3].reduce((sum, k) => sum + sumOf(film, FILM.branchRays + k), 0);
    const asked = rays() - sumOf(film, FILM.rays) - branches;
    expect(kindSeconds.light / asked).to.be.closeTo(1, 0.06);
    expect(Object.values(kindSeconds).reduce((sum, s) => sum + s, 0)).to.be.closeTo(pixelSeconds, 1e-6 * pixelSeconds);
  });

  it('is told of each light', () => {
    const [key, fill, ...rest] = lightSeconds;
    expect(key + fill).to.be.closeTo(kindSeconds.light, 1e-9 * kindSeconds.light);
    // a shadow ray for each sample of either, where they face the surface
    expect(key).to.be.above(0.2 * kindSeconds.light);
    expect(fill).to.be.above(0.2 * kindSeconds.light);
    expect(rest.every((s) => s === 0)).to.equal(true);
  });
});

describe('what paths bring beyond half of a depth limit', () => {
  const whole = renderHere(compiled, settings, frameOf(settings));
  const before = filmStatistics(whole, 1);

  for (const [limit, k] of [
    ['diffuse', 0],
    ['specular', 1],
    ['transmission', 2],
    ['total', 4],
  ] as const)
    it(`is what a render with half of the ${limit} depth lacks`, () => {
      const depth = { ...settings.depth, [limit]: Math.floor(settings.depth[limit] / 2) };
      const half = filmStatistics(renderHere(compiled, { ...settings, depth }, frameOf(settings)), 1);
      const lost = before.meanLuminance - half.meanLuminance;
      const told = sumOf(whole, FILM.deepLight + k) / before.samples;
      expect(told).to.be.closeTo(lost, 1e-5 * before.meanLuminance);
      const count = (rays: Record<string, number>) => Object.values(rays).reduce((sum, n) => sum + n, 0);
      // one path in eight goes on as a probe beyond the new limit
      const saved = count(before.rays) - count(half.rays);
      expect(before.deep[limit].rays * (7 / 8) - saved).to.be.closeTo(0, 0.01 * count(before.rays));
      if (limit === 'diffuse') {
        expect(told).to.be.above(1e-4);
        expect(before.deep[limit].brings).to.be.above(0.01);
      }
    });

  it('a limit of one has no half', () => {
    const shallow = { ...settings, depth: { diffuse: 1, specular: 1, transmission: 1, volume: 0, total: 1 } };
    const { deep } = filmStatistics(renderHere(compiled, shallow, frameOf(settings)), 1);
    expect(Object.values(deep).every(({ brings, rays }) => brings === 0 && rays === 0)).to.equal(true);
  });
});
