// Scenes made by chance, the same ones in every run: what a method has to hold on that nobody made for it.
import { hash32, hashUnit } from '@dusting/core/math';
import { NO_CLAMP, type Light, type Surface } from '@dusting/core/scene';
import { slab, sphere, square, type TestScene } from '../packages/core/test/scenes.ts';

const place = (x: number, y: number, z: number) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** A floor and a wall, some balls and slabs of any surface, a lamp or two, now and then a sky. */
export function randomScene(seed: number, width: number, height: number): TestScene {
  let next = hash32(seed + 1);
  const random = (low = 0, high = 1) => low + hashUnit((next = hash32(next + 1))) * (high - low);
  const colour = (low: number, high: number) => [random(low, high), random(low, high), random(low, high)];
  const surface = (): Partial<Surface> => {
    const kind = random();
    if (kind < 0.35) return { base_color: colour(0.1, 0.8), specular_weight: random() < 0.5 ? 0 : 1, specular_roughness: random(0.1, 0.6) }; // prettier-ignore
    if (kind < 0.6) return { base_color: colour(0.4, 0.9), base_metalness: 1, specular_roughness: random(0.05, 0.5) };
    return { transmission_weight: 1, base_color: [1, 1, 1], specular_roughness: random() < 0.5 ? 0 : random(0.1, 0.5) };
  };
  const things = Array.from({ length: 3 + Math.floor(random(0, 4)) }, () => {
    const size = random(0.25, 0.6);
    return {
      mesh: random() < 0.6 ? sphere(size, 24) : slab(2 * size, 0, random(0.1, 0.8)),
      surface: surface(),
      transform: place(random(-1.6, 1.6), random(-1, 1), random(0.6, 2)),
    };
  });
  const lights = Array.from({ length: 1 + Math.floor(random(0, 2)) }, (): Partial<Light> => {
    const transform = place(random(-2, 2), random(-2, 2), random(2.5, 5));
    const size = random(0.5, 1.5);
    const radiance = random(10, 40) / size ** 2;
    return random() < 0.5
      ? { kind: 'sphere', radius: size / 2, strength: radiance, transform }
      : { kind: 'rectangle', width: size, height: size, strength: radiance, transform };
  });
  return {
    objects: [
      { mesh: square(12), surface: { base_color: colour(0.3, 0.7), specular_weight: 0 } },
      { mesh: slab(9, -0.2, 0), surface: { base_color: colour(0.3, 0.7), specular_weight: 0 }, transform: [1, 0, 0, 0, 0, 0, 1, 2.4, 0, -1, 0, 0] }, // prettier-ignore
      ...things,
    ],
    lights,
    environment: random() < 0.5 ? { color: colour(0.05, 0.4) } : {},
    view: 3,
    settings: {
      width,
      height,
      clamp: { ...NO_CLAMP, indirect: 3 },
      depth: { diffuse: 3, specular: 4, transmission: 8, volume: 4, total: 12 },
    },
  };
}
