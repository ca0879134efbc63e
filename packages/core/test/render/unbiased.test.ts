// Veach 1997: the estimate does not depend on the strategy. Many small renders average to one reference within their
// standard error, whichever part of the sampling is changed.
import { expect } from 'chai';
import { compileScene, FILM, frameOf, renderHere, STRATEGIES, type CompiledScene, type Strategies } from '@dusting/core/render'; // prettier-ignore
import type { RenderSettings } from '@dusting/core/scene';
import { OBJECT } from '../../src/render/compileGeometry.ts';
import { GLASS, GLOW, makeShot, sphere, square } from '../scenes.ts';

const at = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];
const shot = makeShot({
  objects: [
    { mesh: square(4), surface: { base_color: [0.6, 0.5, 0.4], specular_roughness: 0.4 } },
    { mesh: sphere(0.3, 24), surface: { ...GLASS, specular_roughness: 0.3, transmission_color: [0.5, 0.7, 0.9], transmission_depth: 0.4 }, transform: at(0.5, 0, 0.5) },
    { mesh: sphere(0.4, 24), surface: { ...GLASS, specular_ior: 1, transmission_depth: 0.5, transmission_scatter: [0.6, 0.8, 1], transmission_scatter_anisotropy: 0.3 }, transform: at(0.1, -0.5, 0.5) },
    { mesh: square(0.4), surface: { ...GLOW, emission_luminance: 8 }, transform: [1, 0, 0, -1, 0, -1, 0, 0, 0, 0, -1, 1] },
    { mesh: sphere(0.25, 24), surface: { base_metalness: 1, specular_roughness: 0.5 }, transform: at(-0.5, 0.3, 0.3) },
  ], // prettier-ignore
  lights: [{ kind: 'sphere', radius: 0.15, strength: 12, transform: at(0.8, 0.8, 1.2) }],
  environment: { gradient: { zenith: [0.1, 0.2, 0.4], horizon: [0.6, 0.5, 0.4], ground: [0.1, 0.1, 0.1] } },
  view: 2.2,
  settings: {
    width: 4,
    height: 4,
    pixelSamples: 4,
    depth: { diffuse: 3, specular: 4, transmission: 6, volume: 4, total: 8 },
  },
});
const { document } = shot;
const read = (id: string) => shot.blobs.get(id)!;
const scene = compileScene(document, document.final, read);

/** Means over many seeds: the picture's mean luminance and its standard error. */
// prettier-ignore
function average(count: number, change: Partial<RenderSettings>, compiled: CompiledScene = scene, strategies: Partial<Strategies> = {}) {
  const values = Array.from({ length: count }, (_, i) => {
    const settings = { ...document.final, ...change, seed: 1000 + i };
    const { data } = renderHere(compiled, settings, frameOf(settings), { ...STRATEGIES, ...strategies });
    let sum = 0;
    for (let p = 0; p < data.length; p += FILM.stride)
      sum += (0.2126 * data[p] + 0.7152 * data[p + 1] + 0.0722 * data[p + 2]) / data[p + FILM.samples];
    return (sum * FILM.stride) / data.length;
  });
  const mean = values.reduce((s, v) => s + v, 0) / count;
  return { mean, error: Math.sqrt(values.reduce((s, v) => s + (v - mean) ** 2, 0) / count / (count - 1)) };
}

describe('a thousand small renders', () => {
  const reference = average(24, { pixelSamples: 512 });
  const agree = (other: { mean: number; error: number }) =>
    expect(Math.abs(other.mean - reference.mean)).to.be.below(4 * Math.hypot(other.error, reference.error));

  it('average to the reference', () => agree(average(1000, {})));

  const strategies: [string, Partial<RenderSettings>][] = [
    ['many light samples', { lightSamples: 4 }],
    ['many diffuse and specular samples', { diffuseSamples: 3, specularSamples: 5 }],
    ['many transmission and volume samples', { transmissionSamples: 7, volumeSamples: 3 }],
    ['a box filter, which is even', { filter: { kind: 'box', width: 1 } }],
  ];
  for (const [name, change] of strategies) it(`with ${name}`, () => agree(average(300, change)));

  const without: [string, Partial<Strategies>, number][] = [
    ['lights asked for only', { lights: 'asked' }, 4],
    ['lights met only', { lights: 'met' }, 16],
    ['no roulette', { roulette: false }, 4],
    ['independent points', { evenPoints: false }, 4],
  ];
  for (const [name, strategies, pixelSamples] of without)
    it(`with ${name}`, () => agree(average(300, { pixelSamples }, scene, strategies)));

  it('without asking the glowing square, which is met by chance then', () => {
    const objects = scene.objects.slice();
    objects[3 * OBJECT.stride + OBJECT.emitter] = -1; // of the glowing square
    agree(average(300, { pixelSamples: 16 }, { ...scene, objects, lightTree: null }));
  });

  it('with the lamp chosen from the tree of lights', () => {
    const lamps = { ...document.lights };
    // nine lamps of a ninth each at one place are the one lamp
    for (let i = 0; i < 9; i++) lamps[`part-${i}`] = { ...lamps.l0, strength: lamps.l0.strength / 9 };
    delete lamps.l0;
    agree(average(300, {}, compileScene({ ...document, lights: lamps }, document.final, read)));
  });
});
