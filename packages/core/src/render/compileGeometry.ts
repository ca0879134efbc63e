import { decodeMesh, type MeshData } from '../formats/index.ts';
import { invertAffine, isIdentity, transformPoint } from '../math/index.ts';
import type { RenderSettings, SceneObject, ShotDocument } from '../scene/index.ts';
import { isUnseen, SURFACE, type EmitterTriangle, type SurfaceTable } from '../shade/index.ts';
import { ALL_RAYS, RAY_KINDS, type MakeBuffer, type MeshInstance, type TriangleMesh } from '../trace/index.ts';
import type { BlobReader } from './compile.ts';

/**
 * Places of the numbers of a mesh: first vertex, vertices, first index, indices, whether it has normals, first UV, UV sets,
 * keys of its motion (1: it keeps its shape), whose vertices follow each other.
 */
export const MESH = {
  vertex: 0,
  vertices: 1,
  index: 2,
  indices: 3,
  normals: 4,
  uvs: 5,
  uvSets: 6,
  keys: 7,
  stride: 8,
} as const;
/** Places of the numbers of an object. `still`: its transform is the identity. */
export const OBJECT = { mesh: 0, surface: 1, emitter: 2, still: 3, flags: 4, firstKey: 5, keys: 6, stride: 8 } as const;
/** Flags of an object: rays have to ask whether its surface is there for them. */
export const ASKS = 1;
export const SINGLE_SIDED = 2;
export const NO_SHADOWS_ON_IT = 4;
export const FACES_TURNED = 8;

/** All meshes in a row. */
export interface Geometry {
  meshes: Int32Array;
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  indices: Uint32Array;
}

/**
 * objectTransforms, f64: // 12 numbers an object, object to world, row by row; objectInverses: world to object
 * objectKeys, f64: // 12 numbers a key of each moving object, object to world
 */
export interface ObjectTables {
  objects: Int32Array;
  objectTransforms: Float64Array;
  objectInverses: Float64Array;
  objectKeys: Float64Array;
  /** Some object moves during the shutter interval. */
  moves: boolean;
  /** Some shadow rays have to ask what they pass. */
  asks: boolean;
  /** There are boundaries of volumes that are no surfaces. */
  bounds: boolean;
  triangles: number;
}

export function loadGeometry(document: ShotDocument, readBlob: BlobReader, makeBuffer: MakeBuffer): Geometry {
  const meshes = Object.values(document.meshes).map(({ blob }) => decodeMesh(readBlob(blob)));
  const sum = (count: (mesh: MeshData) => number) => meshes.reduce((total, mesh) => total + count(mesh), 0);
  const table = new Int32Array(makeBuffer(meshes.length * MESH.stride * 4));
  const keysOf = (m: MeshData) => 1 + (m.later?.length ?? 0);
  const positions = new Float32Array(makeBuffer(sum((m) => m.positions.byteLength * keysOf(m))));
  const normals = new Float32Array(makeBuffer(meshes.some((m) => m.normals) ? positions.byteLength : 0));
  const uvs = new Float32Array(makeBuffer(sum((m) => (m.uvs?.byteLength ?? 0) + (m.laterUvs?.byteLength ?? 0))));
  const indices = new Uint32Array(makeBuffer(sum((m) => m.indices.byteLength)));
  let vertex = 0;
  let index = 0;
  let uv = 0;
  meshes.forEach((mesh, m) => {
    const vertices = mesh.positions.length / 3;
    const sets = [mesh.uvs, mesh.laterUvs ?? null].filter((set) => set !== null);
    table.set(
      [vertex, vertices, index, mesh.indices.length, mesh.normals ? 1 : 0, uv, sets.length, keysOf(mesh)],
      m * MESH.stride,
    );
    [mesh, ...(mesh.later ?? [])].forEach((key, k) => {
      positions.set(key.positions, (vertex + k * vertices) * 3);
      if (key.normals) normals.set(key.normals, (vertex + k * vertices) * 3);
    });
    for (const set of sets) {
      uvs.set(set, uv * 2);
      uv += vertices;
    }
    indices.set(mesh.indices, index);
    vertex += vertices * keysOf(mesh);
    index += mesh.indices.length;
  });
  return { meshes: table, positions, normals, uvs, indices };
}

/** The meshes as ray queries take them: views, not copies. */
export function meshesOf({ meshes, positions, indices }: Geometry): TriangleMesh[] {
  return Array.from({ length: meshes.length / MESH.stride }, (_, m) => {
    const at = m * MESH.stride;
    const [vertex, index] = [meshes[at + MESH.vertex], meshes[at + MESH.index]];
    const vertices = meshes[at + MESH.vertices];
    const key = (k: number) => positions.subarray((vertex + k * vertices) * 3, (vertex + (k + 1) * vertices) * 3);
    const keys = meshes[at + MESH.keys];
    return {
      positions: key(0),
      ...(keys > 1 && { laterPositions: Array.from({ length: keys - 1 }, (_, k) => key(k + 1)) }),
      indices: indices.subarray(index, index + meshes[at + MESH.indices]),
    };
  });
}

/** The tables of the objects, their instances for ray queries, and the triangles that give light. */
export function compileObjects(
  document: ShotDocument,
  settings: RenderSettings,
  surfaces: SurfaceTable,
  geometry: Geometry,
  makeBuffer: MakeBuffer,
): { tables: ObjectTables; instances: MeshInstance[]; emitting: EmitterTriangle[] } {
  const meshIds = Object.keys(document.meshes);
  const surfaceIds = Object.keys(document.surfaces);
  const objects = Object.values(document.objects);
  const meshes = meshesOf(geometry);
  const asks = objects.map((object) => asksRays(document, object, settings));
  const unseen = objects.map((object) => isUnseen(document.surfaces[object.surface]));
  const table = new Int32Array(makeBuffer(objects.length * OBJECT.stride * 4));
  const objectTransforms = new Float64Array(makeBuffer(objects.length * 96));
  const objectInverses = new Float64Array(makeBuffer(objects.length * 96));
  const keys = objects.map((o) => (o.laterTransforms.length > 0 ? [o.transform, ...o.laterTransforms] : []));
  const objectKeys = new Float64Array(makeBuffer(keys.flat().length * 96));
  objectKeys.set(keys.flat(2));
  const emitting: EmitterTriangle[] = [];
  const instances: MeshInstance[] = [];
  let firstKey = 0;
  let triangles = 0;
  objects.forEach((object, i) => {
    const { surface, transform, laterTransforms, doubleSided, receivesShadows, facesTurned } = object;
    const mesh = meshIds.indexOf(object.mesh);
    const surfaceIndex = surfaceIds.indexOf(surface);
    const s = surfaceIndex * SURFACE.stride + SURFACE.emission;
    const radiance = surfaces.values.subarray(s, s + 3);
    const mapped = document.surfaces[surface].maps.emission_color !== undefined;
    // a surface whose emission comes from a map, and one that moves, is found by surface sampling alone
    const rigid = keys[i].length === 0 && geometry.meshes[mesh * MESH.stride + MESH.keys] === 1;
    const emits = !mapped && rigid && radiance.some((r) => r > 0);
    const still = keys[i].length === 0 && isIdentity(transform) ? 1 : 0;
    const flags = (asks[i] ? ASKS : 0) | (doubleSided ? 0 : SINGLE_SIDED) | (receivesShadows ? 0 : NO_SHADOWS_ON_IT) | (facesTurned ? FACES_TURNED : 0); // prettier-ignore
    table.set(
      [mesh, surfaceIndex, emits ? emitting.length : -1, still, flags, firstKey, keys[i].length],
      i * OBJECT.stride,
    );
    firstKey += keys[i].length;
    triangles += meshes[mesh].indices.length / 3;
    objectTransforms.set(transform, i * 12);
    objectInverses.set(invertAffine(transform), i * 12);
    if (emits) addEmitters(emitting, meshes[mesh], transform, i, radiance);
    const moves = laterTransforms.length > 0;
    instances.push({ mesh, transform, laterTransforms: moves ? laterTransforms : undefined, mask: maskOf(object, asks[i], unseen[i]) }); // prettier-ignore
  });
  const tables: ObjectTables = {
    objects: table,
    objectTransforms,
    objectInverses,
    objectKeys,
    moves: firstKey > 0 || meshes.some((mesh) => mesh.laterPositions !== undefined),
    asks: asks.some(Boolean),
    bounds: unseen.some(Boolean),
    triangles,
  };
  return { tables, instances, emitting };
}

/** Whether rays have to ask if an object is there: holes, back faces that are not there, glass with clear shadows, fog. */
export function asksRays(document: ShotDocument, object: SceneObject, settings: RenderSettings): boolean {
  const surface = document.surfaces[object.surface];
  const { geometry_opacity, maps, transmission_weight } = surface;
  const clear = settings.clearShadows !== 'off' && transmission_weight > 0;
  return geometry_opacity < 1 || maps.opacity !== undefined || !object.doubleSided || clear || isUnseen(surface);
}

function maskOf(object: SceneObject, asks: boolean, unseen: boolean): number {
  const { seenByCamera, seenByReflections, castsShadows } = object;
  if (unseen)
    return (
      (seenByCamera ? RAY_KINDS.cameraBoundary : 0) |
      (seenByReflections ? RAY_KINDS.boundary : 0) |
      (castsShadows ? RAY_KINDS.clearShadow : 0)
    );
  let mask = ALL_RAYS;
  if (!seenByCamera) mask &= ~RAY_KINDS.camera;
  if (!seenByReflections) mask &= ~(RAY_KINDS.specular | RAY_KINDS.transmission);
  if (!castsShadows || asks) mask &= ~RAY_KINDS.shadow;
  if (!castsShadows || !asks) mask &= ~RAY_KINDS.clearShadow;
  return mask;
}

function addEmitters(
  into: EmitterTriangle[],
  { positions, indices }: TriangleMesh,
  transform: number[],
  object: number,
  radiance: ArrayLike<number>,
): void {
  for (let triangle = 0; triangle < indices.length / 3; triangle++) {
    const corners = [0, 1, 2].flatMap((c) => {
      const v = indices[triangle * 3 + c] * 3;
      return transformPoint(transform, positions.subarray(v, v + 3));
    });
    into.push({ corners, object, triangle, radiance });
  }
}
