// Own guarantees: components sum to beauty, the chunk plan covers every sample once, films merge in any partition.
import { matteOf, readIdMattes } from '@dusting/core/formats';
import { expect } from 'chai';
import {
  COMPONENTS,
  emptyFilm,
  FILM,
  filmStride,
  frameOf,
  mergeFilm,
  PathTracer,
  planChunks,
  proofPicture,
  renderChunk,
  renderHere,
  standardError,
} from '@dusting/core/render';
import { findChannel } from '@dusting/core/image';
import { FINAL_DEFAULTS } from '@dusting/core/scene';
import { compileTest, GLASS, GLOW, IDENTITY, sphere, square, type TestScene } from '../scenes.ts';

const mixed: TestScene = {
  objects: [
    { mesh: square(6, -1), surface: { base_color: [0.8, 0.5, 0.3], specular_roughness: 0.3 } },
    {
      mesh: sphere(0.8),
      surface: { ...GLASS, specular_roughness: 0.2, transmission_color: [0.9, 0.5, 0.2], transmission_depth: 0.5 },
    },
    {
      mesh: sphere(0.5),
      surface: { ...GLASS, specular_ior: 1, transmission_depth: 1, transmission_scatter: [1, 1, 1] },
      transform: [...IDENTITY.slice(0, 3), -1.6, ...IDENTITY.slice(4, 12)],
    },
    { mesh: square(0.6), surface: GLOW, transform: [...IDENTITY.slice(0, 3), 1.2, ...IDENTITY.slice(4, 11), 0.4] },
  ],
  lights: [{ kind: 'sphere', strength: 3, radius: 0.3, transform: [1, 0, 0, -1.5, 0, 1, 0, 0, 0, 0, 1, 2] }],
  environment: { color: [0.3, 0.4, 0.6] },
  view: 6.4,
  settings: {
    width: 40,
    height: 36,
    pixelSamples: 17,
    transmissionSamples: 2,
    diffuseSamples: 2,
    depth: { diffuse: 3, specular: 3, transmission: 4, total: 6 },
  },
};

describe('film', () => {
  const { compiled, settings } = compileTest(mixed);
  const film = renderHere(compiled, settings, frameOf(settings));
  const picture = proofPicture(film, settings, {
    groups: [],
    objects: ['ground', 'glass', 'haze', 'glow'],
    surfaces: [],
  });

  it('the components sum to the beauty picture to the rounding of half floats, and every one of them is used', () => {
    for (const c of 'RGB') {
      const beauty = findChannel(picture, 'beauty', c)!.data;
      const parts = COMPONENTS.map((name) => findChannel(picture, name, c)!.data);
      beauty.forEach((v, i) => expect(parts.reduce((s, p) => s + p[i], 0)).to.be.closeTo(v, 2 ** -11 * v + 1e-6));
      parts.forEach((p, i) =>
        expect(
          p.some((v) => v > 0),
          COMPONENTS[i],
        ).to.equal(true),
      );
    }
  });

  it('mattes of the objects cover what is not background, and each its own place', () => {
    const objects = readIdMattes(picture).find((m) => m.name === 'objects')!;
    const all = [...objects.ids.keys()].map((name) => matteOf(objects, name));
    const depth = findChannel(picture, 'depth', 'Z')!.data;
    depth.forEach((z, i) => {
      const covered = all.reduce((sum, m) => sum + m[i], 0);
      expect(covered).to.be.within(0, 1 + 2 ** -11); // shares are half floats
      if (z === Infinity) expect(covered).to.equal(0);
    });
    // the square of 0.6 m a side in a view of 6.4 m over 36 pixels
    const glow = matteOf(objects, 'glow').reduce((sum, v) => sum + v, 0);
    expect(glow).to.be.closeTo((0.6 * (36 / 6.4)) ** 2, 0.4);
  });

  it('the chunk plan covers every sample of every pixel once, whatever the region', () => {
    const region = { x: 5, y: 3, width: 70, height: 33 };
    const counts = new Map<string, number>();
    for (const { region: r, sampleStart, sampleCount } of planChunks(region, { ...FINAL_DEFAULTS, pixelSamples: 70 }))
      for (let y = r.y; y < r.y + r.height; y++)
        for (let x = r.x; x < r.x + r.width; x++)
          for (let s = sampleStart; s < sampleStart + sampleCount; s++)
            counts.set(`${x},${y},${s}`, (counts.get(`${x},${y},${s}`) ?? 0) + 1);
    expect(counts.size).to.equal(70 * 33 * 70);
    expect([...counts.values()].every((n) => n === 1)).to.equal(true);
  });

  it('a region is the same to the bit as that part of the frame', () => {
    const region = { x: 9, y: 7, width: 11, height: 13 };
    const part = renderHere(compiled, settings, region);
    for (let y = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++)
        for (let k = 0; k < FILM.time; k++)
          expect(part.data[(y * region.width + x) * FILM.stride + k]).to.equal(
            film.data[((y + 7) * 40 + x + 9) * FILM.stride + k],
          );
  });

  it('another seed gives another picture', () => {
    const region = { x: 16, y: 14, width: 4, height: 4 };
    const [one, two] = [1, 2].map((seed) => renderHere(compiled, { ...settings, seed }, region).data[0]);
    expect(one).to.not.equal(two);
  });

  it('standard error: a textbook example, and agreement with independent renders within its own uncertainty', () => {
    // 2, 4, 4, 4, 5, 5, 7, 9: mean 5, sample deviation 2.138
    expect(standardError(40, 232, 8)).to.be.closeTo(2.1381 / Math.sqrt(8), 1e-4);
    const region = { x: 16, y: 14, width: 4, height: 4 };
    const seeds = 40;
    const sums = new Float64Array(16);
    const squares = new Float64Array(16);
    let claimed = 0;
    for (let seed = 10; seed < 10 + seeds; seed++) {
      const { data } = renderHere(compiled, { ...settings, seed }, region);
      for (let i = 0; i < 16; i++) {
        const v = data[i * FILM.stride] / 17;
        sums[i] += v;
        squares[i] += v * v;
        claimed += standardError(data[i * FILM.stride], data[i * FILM.stride + 3], 17) ** 2 / 16 / seeds;
      }
    }
    const real = sums.reduce((s, v, i) => s + (squares[i] - (v * v) / seeds) / (seeds - 1) / 16, 0);
    // low-discrepancy samples do better than the independent ones that the formula stands for, never much worse
    expect(real / claimed).to.be.within(0.05, 1.15);
  });

  it('parts outside of a film, and of another layout, are refused', () => {
    const tracer = new PathTracer(compiled, settings);
    const part = renderChunk(tracer, { region: { x: 30, y: 0, width: 20, height: 2 }, sampleStart: 0, sampleCount: 1 });
    expect(() => mergeFilm(emptyFilm(frameOf(settings)), part)).to.throw(RangeError, 'outside');
    const wider = emptyFilm(frameOf(settings), filmStride({ outlierGroups: 5 }, []));
    expect(() => mergeFilm(wider, part)).to.throw(RangeError, 'other numbers');
  });
});
