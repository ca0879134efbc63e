// Scenes of the benchmarks, made by code.
import { encodeMesh, type MeshData } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import { FINAL_DEFAULTS, SURFACE_DEFAULTS, validateShot, type Light, type ShotDocument, type Surface } from '@dusting/core/scene'; // prettier-ignore

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

/** A ball with pits: 2 n^2 triangles, with UVs and, where asked, normals. */
export function pitted(n: number, normals = false): MeshData {
  const positions = new Float32Array((n + 1) * (n + 1) * 3);
  const uvs = new Float32Array((n + 1) * (n + 1) * 2);
  const indices = new Uint32Array(n * n * 6);
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++) {
      const [t, f] = [(Math.PI * j) / n, (2 * Math.PI * (i % n)) / n];
      const r = 1 + 0.1 * Math.sin(17 * t) * Math.cos(23 * f) + 0.01 * hashUnit(j * n + (i % n));
      const at = j * (n + 1) + i;
      positions.set([r * Math.sin(t) * Math.cos(f), r * Math.cos(t), r * Math.sin(t) * Math.sin(f)], at * 3);
      uvs.set([i / n, j / n], at * 2);
      if (i === n || j === n) continue;
      indices.set([at, at + 1, at + n + 1, at + 1, at + n + 2, at + n + 1], (j * n + i) * 6);
    }
  return { positions, normals: normals ? positions.slice() : null, uvs, indices };
}

type Part = { mesh: MeshData; surface: Partial<Surface>; transform?: number[] };

/** A shot of the parts, seen from the front; objects are called ball-0, ball-1 ... where they are balls. */
export function makeShot(
  parts: Record<string, Part>,
  lights: Record<string, Partial<Light>>,
  more: { environment?: object; final?: object } = {},
): { document: ShotDocument; blobs: Map<string, Uint8Array> } {
  const blobs = new Map<string, Uint8Array>();
  const document = {
    format: 'dusting-shot',
    version: 1,
    name: 'bench',
    camera: 'front',
    cameras: { front: { name: 'front', verticalAngle: 40, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 6] } },
    meshes: {} as Record<string, object>,
    objects: {} as Record<string, object>,
    surfaces: {} as Record<string, object>,
    textures: {},
    lights,
    noise: { limit: 1, stops: 1 },
    preview: { ...FINAL_DEFAULTS },
    final: { ...FINAL_DEFAULTS, width: 128, height: 72, ...more.final },
    ...(more.environment && { environment: more.environment }),
  };
  Object.entries(parts).forEach(([id, { mesh, surface, transform }], i) => {
    const blob = i.toString(16).padStart(64, '0');
    blobs.set(blob, encodeMesh(mesh));
    document.meshes[id] = { name: id, blob, triangles: mesh.indices.length / 3 };
    const name = surface.name ?? id;
    document.surfaces[name] = { ...SURFACE_DEFAULTS, ...surface, name };
    document.objects[id] = { mesh: id, surface: name, transform: transform ?? IDENTITY };
  });
  return { document: validateShot(document), blobs };
}

export function quad(side: number): MeshData {
  const h = side / 2;
  return {
    positions: new Float32Array([-h, 0, h, h, 0, h, h, 0, -h, -h, 0, -h]),
    normals: null,
    uvs: new Float32Array([0, 1, 1, 1, 1, 0, 0, 0]),
    indices: new Uint32Array([0, 1, 2, 0, 2, 3]),
  };
}

const beside = (x: number, y = 0, z = 0) => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z];

/** Balls of clay on a floor below a lamp and a grey sky. */
export function pittedShot(n: number, balls: number): ReturnType<typeof makeShot> {
  const parts: Record<string, Part> = {
    floor: { mesh: quad(20), surface: { name: 'floor' }, transform: beside(0, -1.2) },
  };
  for (let i = 0; i < balls; i++)
    parts[`ball-${i}`] = {
      mesh: pitted(n, true),
      surface: { name: 'clay' },
      transform: beside(2.4 * i - 1.2 * (balls - 1)),
    };
  return makeShot(
    parts,
    { lamp: { name: 'lamp', kind: 'sphere', radius: 0.2, strength: 120, transform: beside(2, 4, 3) } },
    { environment: { color: [0.3, 0.35, 0.4] } },
  );
}
