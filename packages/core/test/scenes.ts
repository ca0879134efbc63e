// Small scenes whose answer is known, built as shot documents.
import { decodeMesh, encodeMesh, type MeshData } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import {
  compileScene,
  FILM,
  filmStatistics,
  frameOf,
  renderHere,
  type CompiledScene,
  type Film,
  type RenderStatistics,
} from '@dusting/core/render';
import {
  FINAL_DEFAULTS,
  PREVIEW_DEFAULTS,
  SURFACE_DEFAULTS,
  validateShot,
  type Light,
  type RenderSettings,
  type SceneObject,
  type ShotDocument,
  type Surface,
} from '@dusting/core/scene';

export const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

export interface TestObject {
  mesh: MeshData;
  surface: Partial<Surface>;
  transform?: number[];
  flags?: Partial<SceneObject>;
}
export interface TestScene {
  objects: TestObject[];
  lights?: Partial<Light>[];
  environment?: object;
  /** Orthographic height in metres, looking along -Z from z = 10 at the origin. */
  view?: number;
  camera?: { transform: number[]; verticalAngle: number; near?: number; far?: number };
  settings?: Omit<Partial<RenderSettings>, 'depth'> & { depth?: Partial<RenderSettings['depth']> };
}

export const OPEN_DEPTH = { diffuse: 100, specular: 100, transmission: 100, volume: 1000, total: 300 };

export function makeShot(scene: TestScene): { document: ShotDocument; blobs: Map<string, Uint8Array> } {
  const blobs = new Map<string, Uint8Array>();
  const id = (i: number) => i.toString(16).padStart(64, '0');
  const settings: RenderSettings = {
    ...structuredClone(FINAL_DEFAULTS),
    width: 8,
    height: 8,
    pixelSamples: 16,
    filter: { kind: 'box', width: 1 },
    ...scene.settings,
    depth: { ...OPEN_DEPTH, ...scene.settings?.depth },
  };
  const document = {
    format: 'dusting-shot',
    version: 1,
    name: 'test',
    camera: 'camera',
    cameras: {
      camera: scene.camera
        ? { name: 'camera', kind: 'perspective', height: 1, ...scene.camera }
        : {
            name: 'camera',
            kind: 'orthographic',
            verticalAngle: 40,
            height: scene.view ?? 0.1,
            transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 10],
          },
    },
    meshes: {} as Record<string, object>,
    objects: {} as Record<string, object>,
    surfaces: {} as Record<string, object>,
    textures: {},
    lights: {} as Record<string, object>,
    environment: { color: [0, 0, 0], ...scene.environment },
    noise: { limit: 1, stops: 1 },
    preview: structuredClone(PREVIEW_DEFAULTS),
    final: settings,
  };
  scene.objects.forEach(({ mesh, surface, transform, flags }, i) => {
    blobs.set(id(i), encodeMesh(mesh));
    document.meshes[`m${i}`] = { name: `m${i}`, blob: id(i), triangles: mesh.indices.length / 3 };
    document.surfaces[`s${i}`] = { ...structuredClone(SURFACE_DEFAULTS), ...surface };
    document.objects[`o${i}`] = { mesh: `m${i}`, surface: `s${i}`, transform: transform ?? IDENTITY, ...flags };
  });
  (scene.lights ?? []).forEach((light, i) => {
    document.lights[`l${i}`] = {
      kind: 'point',
      ...light,
    };
  });
  return { document: validateShot(document), blobs };
}

export function compileTest(scene: TestScene): { compiled: CompiledScene; settings: RenderSettings } {
  const { document, blobs } = makeShot(scene);
  return { compiled: compileScene(document, document.final, (id) => blobs.get(id)!), settings: document.final };
}

export function renderTest(scene: TestScene): {
  film: Film;
  statistics: RenderStatistics;
  mean: number;
  error: number;
} {
  const { compiled, settings } = compileTest(scene);
  const film = renderHere(compiled, settings, frameOf(settings));
  const statistics = filmStatistics(film, 1);
  return { film, statistics, mean: statistics.meanLuminance, error: errorOfMean(film) };
}

/** Standard error of the mean of the whole picture, from the spread of its pixels. */
function errorOfMean({ data, region }: Film): number {
  const pixels = region.width * region.height;
  const { stride } = FILM;
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < pixels; i++) {
    const y =
      (0.2126 * data[i * stride] + 0.7152 * data[i * stride + 1] + 0.0722 * data[i * stride + 2]) /
      data[i * stride + FILM.samples];
    sum += y;
    squares += y * y;
  }
  return Math.sqrt(Math.max(0, squares - (sum * sum) / pixels) / pixels / (pixels - 1));
}

/** A square in XY at height z, facing +Z. */
export function square(side: number, z = 0): MeshData {
  const h = side / 2;
  return {
    positions: new Float32Array([-h, -h, z, h, -h, z, h, h, z, -h, h, z]),
    normals: null,
    uvs: new Float32Array([0, 1, 1, 1, 1, 0, 0, 0]),
    indices: new Uint32Array([0, 1, 2, 0, 2, 3]),
  };
}

/** A closed slab, faces outwards, between two heights. */
export function slab(side: number, low: number, high: number): MeshData {
  const h = side / 2;
  const positions = [low, high].flatMap((z) => [-h, -h, z, h, -h, z, h, h, z, -h, h, z]);
  const quads = [[3, 2, 1, 0], [4, 5, 6, 7], [0, 1, 5, 4], [1, 2, 6, 5], [2, 3, 7, 6], [3, 0, 4, 7]]; // prettier-ignore
  const indices = quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d]);
  return { positions: new Float32Array(positions), normals: null, uvs: null, indices: new Uint32Array(indices) };
}

export function sphere(radius: number, steps = 64, smooth = true): MeshData {
  const positions: number[] = [];
  const normals: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= steps / 2; j++)
    for (let i = 0; i <= steps; i++) {
      const t = (2 * Math.PI * j) / steps;
      const f = (2 * Math.PI * (i % steps)) / steps; // the seam closes to the last bit
      const n = [Math.sin(t) * Math.cos(f), Math.cos(t), Math.sin(t) * Math.sin(f)];
      normals.push(...n);
      positions.push(...n.map((c) => c * radius));
    }
  for (let j = 0; j < steps / 2; j++)
    for (let i = 0; i < steps; i++) {
      const a = j * (steps + 1) + i;
      const b = a + steps + 1;
      indices.push(a, a + 1, b, a + 1, b + 1, b);
    }
  return {
    positions: new Float32Array(positions),
    normals: smooth ? new Float32Array(normals) : null,
    uvs: null,
    indices: new Uint32Array(indices),
  };
}

export const MATT: Partial<Surface> = { specular_weight: 0 };
export const GLASS: Partial<Surface> = { transmission_weight: 1, specular_roughness: 0, base_color: [1, 1, 1] };
export const GLOW: Partial<Surface> = { specular_weight: 0, base_color: [0, 0, 0], emission_luminance: 1 };

/** Gives a picture the times that a ray of one microsecond would take, the same on every machine. @returns their sum in seconds */
export function timeByRays({ channels }: Picture): number {
  const time = channels.find((c) => c.name === 'time.ms')!;
  time.data.fill(0);
  for (const { data, name } of channels) if (/^rays\./.test(name)) data.forEach((n, i) => (time.data[i] += n / 1000));
  return time.data.reduce((sum, ms) => sum + ms, 0) / 1000;
}

/** Meshes of a shot by their ids, as a diagnosis asks for them. */
export const meshReader = ({ meshes }: ShotDocument, blobs: Map<string, Uint8Array>) => async (id: string) => decodeMesh(blobs.get(meshes[id].blob)!); // prettier-ignore

/** Albedo of the closed ball. */
export const ALBEDO = 0.7;
/** The camera stands inside of a matt ball with a lamp in its middle: each bounce brings the albedo times the light before. */
export const closedBall: TestScene = {
  objects: [{ mesh: sphere(3), surface: { ...MATT, base_color: [ALBEDO, ALBEDO, ALBEDO] } }],
  lights: [{ kind: 'point', strength: 1 }],
  camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 1], verticalAngle: 40 },
};
/** A glow behind three panes of clear glass. */
export const threePanes: TestScene = {
  objects: [
    ...[0, 0.5, 1].map((z) => ({ mesh: slab(4, z, z + 0.1), surface: GLASS })),
    { mesh: square(4, -0.5), surface: GLOW },
  ],
  view: 1,
};
