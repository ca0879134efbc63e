// What a glowing object sends out, seen from far away: pictures of it alone from many directions. They hold whatever shapes
// its light: textures, holes, its own shadow on itself, sides that do not shine.
import { luminance } from '../color/index.ts';
import { InputError } from '../formats/index.ts';
import { transformPoint } from '../math/index.ts';
import { NO_CLAMP, type RenderSettings, type ShotDocument } from '../scene/index.ts';
import { frameOf } from './chunks.ts';
import { recompileScene, type CompiledScene } from './compile.ts';
import { meshesOf, OBJECT } from './compileGeometry.ts';
import { FILM } from './film.ts';
import { principalAxes } from './principalAxes.ts';
import { renderHere } from './renderHere.ts';

/** Of a texture single texels may hold most of the light: it is looked at more closely. */
export const EMITTER_SHINE_DEFAULTS = { directions: 64, pixels: 24, pixelSamples: 4, texturedSamples: 64 };

export interface EmitterShine {
  /** Unit vectors, evenly spread over the sphere. */
  directions: number[][];
  /** Radiant intensity towards each of them, W/sr, RGB. */
  intensities: number[][];
  /** Standard error of its power, as a share. */
  doubt: number;
  /** Middle of its surface in the world, metres. */
  middle: number[];
  /** Its axes, the longest first: right-handed unit vectors, and the length of an even box with its spread, metres. */
  axes: number[][];
  extents: number[];
}

/**
 * @param settings of the scene; `object` is an id that does not move
 * @throws InputError where it emits nothing
 */
export function emitterShine(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  object: string,
  { directions: count, pixels, pixelSamples, texturedSamples } = EMITTER_SHINE_DEFAULTS,
): EmitterShine {
  const isTextured = document.surfaces[document.objects[object].surface].maps.emission_color !== undefined;
  const { axes, extents, middle, radius } = principalAxes(cornersOf(scene, object));
  const view = {
    ...settings,
    width: pixels,
    height: pixels,
    pixelSamples: isTextured ? texturedSamples : pixelSamples,
    filter: { kind: 'box' as const, width: 1 },
    depth: { diffuse: 0, specular: 0, transmission: 0, volume: 0, total: 0 },
    clamp: NO_CLAMP,
    adaptive: { ...settings.adaptive, limit: 0 },
    occlusion: { ...settings.occlusion, samples: 0 },
  };
  const directions = evenDirections(count);
  let [before, from] = [scene, { document, settings }];
  let [power, variance] = [0, 0];
  const intensities = directions.map((towards) => {
    const seen = { document: seenFrom(document, object, middle, radius, towards), settings: view };
    before = recompileScene(before, from, seen, noBlob);
    from = seen;
    const { data, stride } = renderHere(before, view, frameOf(view));
    const sum = [0, 0, 0];
    for (let i = 0; i < data.length; i += stride) {
      const n = data[i + FILM.samples];
      const rgb = [0, 1, 2].map((k) => data[i + FILM.beauty + k] / n);
      rgb.forEach((v, k) => (sum[k] += v));
      const y = luminance(rgb[0], rgb[1], rgb[2]);
      power += y;
      variance += Math.max(0, data[i + FILM.beauty + 6] / n - y * y) / (n - 1);
    }
    return sum.map((s) => s * ((2 * radius) / pixels) ** 2);
  });
  if (!intensities.some(([r, g, b]) => luminance(r, g, b) > 0))
    throw new InputError('the object emits nothing', object);
  return { directions, intensities, doubt: Math.sqrt(variance) / power, middle, axes, extents };
}

/** The object by itself in the dark, from far away. */
function seenFrom(document: ShotDocument, object: string, middle: number[], radius: number, w: number[]): ShotDocument {
  const side = Math.abs(w[1]) < 0.9 ? [w[2], 0, -w[0]] : [0, -w[2], w[1]];
  const length = Math.hypot(...side);
  const x = side.map((c) => c / length);
  const y = [w[1] * x[2] - w[2] * x[1], w[2] * x[0] - w[0] * x[2], w[0] * x[1] - w[1] * x[0]];
  const transform = [0, 1, 2].flatMap((k) => [x[k], y[k], w[k], middle[k] + 4 * radius * w[k]]);
  return {
    ...document,
    objects: { [object]: { ...document.objects[object], seenByCamera: true } },
    lights: {},
    environment: { ...document.environment, strength: 0, background: [0, 0, 0] },
    cameras: { view: { ...Object.values(document.cameras)[0], kind: 'orthographic', height: 2 * radius, transform, near: 0, far: 0, apertureRadius: 0 } }, // prettier-ignore
    camera: 'view',
  };
}

/** Meshes and textures are taken over from the scene. */
const noBlob = (): never => {
  throw new Error('nothing is read again for another view');
};

/** Corners of the triangles of an object in the world, 9 numbers each. */
function cornersOf(scene: CompiledScene, object: string): Float64Array {
  const i = scene.objectIds.indexOf(object);
  const { indices, positions } = meshesOf(scene)[scene.objects[i * OBJECT.stride + OBJECT.mesh]];
  const transform = Array.from(scene.objectTransforms.subarray(i * 12, i * 12 + 12));
  const corners = new Float64Array(indices.length * 3);
  indices.forEach((v, n) => corners.set(transformPoint(transform, positions.subarray(v * 3, v * 3 + 3)), n * 3));
  return corners;
}

/** Fibonacci's lattice on the sphere (Gonzalez 2010, "Measurement of areas on a sphere using Fibonacci lattices"). */
function evenDirections(count: number): number[][] {
  const golden = Math.PI * (3 - Math.sqrt(5));
  return Array.from({ length: count }, (_, i) => {
    const z = 1 - (2 * i + 1) / count;
    const r = Math.sqrt(1 - z * z);
    return [r * Math.cos(golden * i), r * Math.sin(golden * i), z];
  });
}
