import type { MeshData } from '../formats/index.ts';
import { invertAffine, isIdentity, layOutRow, transformPoint, writeRow } from '../math/index.ts';
import type { RenderSettings, SceneObject, ShotDocument } from '../scene/index.ts';
import { isUnseen, SURFACE, type EmitterTriangle, type SurfaceTable } from '../shade/index.ts';
import { ALL_RAYS, meshBox, RAY_KINDS, type MakeBuffer, type MeshInstance, type TriangleMesh } from '../trace/index.ts';

/** Places of the numbers of a mesh. */
export const MESH = layOutRow({
  vertex: 1, // the first
  vertices: 1,
  index: 1, // the first
  indices: 1,
  normals: 1, // 1: it has some
  uvs: 1, // the first
  uvSets: 1,
  keys: 1, // of its motion, whose vertices follow each other; 1: it keeps its shape
});
/** Places of the numbers of an object. */
export const OBJECT = layOutRow({
  mesh: 1,
  surface: 1,
  emitter: 1, // its first among the emissive triangles, or -1
  still: 1, // 1: its transform is the identity
  flags: 1,
  firstKey: 1,
  keys: 1,
});
/** Flags of an object: rays have to ask whether its surface is there for them. */
export const ASKS = 1;
export const SINGLE_SIDED = 2;
export const NO_SHADOWS_ON_IT = 4;
export const FACES_TURNED = 8;
/** The camera looks through it, and sees the shadows on it. */
export const ONLY_SHADOWS = 16;

/** All meshes in a row: the shapes of a document (shapes.ts). */
export interface Geometry {
  meshes: Int32Array;
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  indices: Uint32Array;
  /** What was subtracted from the positions of each mesh, 3 numbers (placeOf). */
  centres: Float64Array;
  /** Largest coordinate of each mesh after that. */
  reaches: Float64Array;
  /** What each mesh was made from. */
  shapeKeys: string[];
}

/**
 * Spacing of single-precision numbers at 1 (IEEE 754), twice. The test of edges works in single precision in the space
 * of the mesh, so this times the coordinate of a hit is how far a ray may be off sideways; distances are exact.
 */
const SPACING = 2 * 2 ** -23;
/** The same of the size of a triangle: a corner far away moves the edge less. */
const CORNER_SPACING = 2 ** -26;
/** Of the coordinates in the world, which are doubles. */
const WORLD_SPACING = 2 ** -46;

/**
 * How far a ray sets out from a hit, metres.
 * @param coordinate sum of those of the hit, in the space of its mesh
 * @param size sum of the sides of its triangle on all axes
 * @param stretch by how much the transform of its object lengthens at most
 * @param world sum of its coordinates in the world
 */
export const rayOffset = (coordinate: number, size: number, stretch: number, world: number) =>
  (SPACING * coordinate + CORNER_SPACING * size) * stretch + WORLD_SPACING * world;

/**
 * objectTransforms, f64: // 12 numbers an object, object to world, row by row; objectInverses: world to object
 * objectKeys, f64: // 12 numbers a key of each moving object, object to world
 * objectStretches, f64: // by how much the transform of an object lengthens at most
 * objectOffsets, f64: // how far rays set out from an object at most, metres
 */
export interface ObjectTables {
  objects: Int32Array;
  objectTransforms: Float64Array;
  objectInverses: Float64Array;
  objectKeys: Float64Array;
  objectStretches: Float64Array;
  objectOffsets: Float64Array;
  /** Surfaces no farther apart than this may have to be crossed together, metres; 0 where nothing transmits. */
  crowding: number;
  /** Some object moves during the shutter interval. */
  moves: boolean;
  /** Some shadow rays have to ask what they pass. */
  asks: boolean;
  /** Something casts no shadow. */
  shadowless: boolean;
  /** Something that the camera sees is hidden from reflections and refractions. */
  hides: boolean;
  /** There are boundaries of volumes that are no surfaces. */
  bounds: boolean;
  triangles: number;
}

export function layOutGeometry(shapeKeys: string[], meshes: MeshData[], makeBuffer: MakeBuffer): Geometry {
  const sum = (count: (mesh: MeshData) => number) => meshes.reduce((total, mesh) => total + count(mesh), 0);
  const table = new Int32Array(makeBuffer(meshes.length * MESH.stride * 4));
  const keysOf = (m: MeshData) => 1 + (m.later?.length ?? 0);
  const positions = new Float32Array(makeBuffer(sum((m) => m.positions.byteLength * keysOf(m))));
  const normals = new Float32Array(makeBuffer(meshes.some((m) => m.normals) ? positions.byteLength : 0));
  const uvs = new Float32Array(makeBuffer(sum((m) => (m.uvs?.byteLength ?? 0) + (m.laterUvs?.byteLength ?? 0))));
  const indices = new Uint32Array(makeBuffer(sum((m) => m.indices.byteLength)));
  const centres = new Float64Array(meshes.length * 3);
  const reaches = new Float64Array(meshes.length);
  let vertex = 0;
  let index = 0;
  let uv = 0;
  meshes.forEach((mesh, m) => {
    const vertices = mesh.positions.length / 3;
    const sets = [mesh.uvs, mesh.laterUvs ?? null].filter((set) => set !== null);
    writeRow(table, m * MESH.stride, MESH, { vertex, vertices, index, indices: mesh.indices.length, normals: mesh.normals ? 1 : 0, uvs: uv, uvSets: sets.length, keys: keysOf(mesh) }); // prettier-ignore
    const { centre, reach } = placeOf(mesh);
    centres.set(centre, m * 3);
    reaches[m] = reach;
    [mesh, ...(mesh.later ?? [])].forEach((key, k) => {
      const start = (vertex + k * vertices) * 3;
      positions.set(key.positions, start);
      if (centre.some((c) => c !== 0)) for (let i = 0; i < vertices * 3; i++) positions[start + i] -= centre[i % 3];
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
  return { meshes: table, positions, normals, uvs, indices, centres, reaches, shapeKeys };
}

/** A mesh is moved to the origin where it lies farther away than this, in halves of its size. */
const FAR = 16;

/**
 * Middle of a mesh on the axes where it lies far from its own origin, 0 on the others; and its largest coordinate once that
 * is taken off. Taking it off loses nothing: the difference of two single-precision numbers within a factor of two of each
 * other is exact (Sterbenz 1974, "Floating-point computation"), and rays then meet numbers as fine as the mesh has.
 */
function placeOf(mesh: MeshData): { centre: number[]; reach: number } {
  const { positions } = mesh;
  const box = meshBox({ positions, laterPositions: mesh.later?.map((key) => key.positions) });
  const half = Math.max(...[0, 1, 2].map((k) => (box[k + 3] - box[k]) / 2));
  const centre = [0, 1, 2].map((k) => {
    const middle = Math.fround((box[k] + box[k + 3]) / 2);
    return Math.abs(middle) > FAR * half ? middle : 0;
  });
  const reach = Math.max(0, ...box.map((value, i) => Math.abs(value - centre[i % 3])).filter(Number.isFinite));
  return { centre, reach };
}

/** A transform of the mesh as the document has it, for the mesh as the tables have it. */
function fromCentre(transform: number[], centre: ArrayLike<number>): number[] {
  const out = transform.slice();
  transformPoint(transform, centre).forEach((value, row) => (out[row * 4 + 3] = value));
  return out;
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

/**
 * The tables of the objects, their instances for ray queries, and the triangles that give light.
 * @param shapes mesh of each object
 */
export function compileObjects(
  document: ShotDocument,
  settings: RenderSettings,
  surfaces: SurfaceTable,
  geometry: Geometry,
  shapes: number[],
  makeBuffer: MakeBuffer,
): { tables: ObjectTables; instances: MeshInstance[]; emitting: EmitterTriangle[] } {
  const surfaceIds = Object.keys(document.surfaces);
  const objects = Object.values(document.objects);
  const meshes = meshesOf(geometry);
  const asks = objects.map((object) => asksRays(document, object, settings));
  const unseen = objects.map((object) => isUnseen(document.surfaces[object.surface]));
  const table = new Int32Array(makeBuffer(objects.length * OBJECT.stride * 4));
  const objectTransforms = new Float64Array(makeBuffer(objects.length * 96));
  const objectInverses = new Float64Array(makeBuffer(objects.length * 96));
  const centred = objects.map((object, i) => {
    const at = shapes[i] * 3;
    const centre = geometry.centres.subarray(at, at + 3);
    return [object.transform, ...object.laterTransforms].map((transform) => fromCentre(transform, centre));
  });
  const keys = centred.map((transforms) => (transforms.length > 1 ? transforms : []));
  const objectKeys = new Float64Array(makeBuffer(keys.flat().length * 96));
  objectKeys.set(keys.flat(2));
  const objectStretches = new Float64Array(makeBuffer(objects.length * 8));
  const objectOffsets = new Float64Array(makeBuffer(objects.length * 8));
  let crowding = 0;
  const emitting: EmitterTriangle[] = [];
  const instances: MeshInstance[] = [];
  let firstKey = 0;
  let triangles = 0;
  objects.forEach((object, i) => {
    const { surface, doubleSided, receivesShadows, facesTurned, onlyShadows } = object;
    const [transform, ...laterTransforms] = centred[i];
    const mesh = shapes[i];
    const surfaceIndex = surfaceIds.indexOf(surface);
    const s = surfaceIndex * SURFACE.stride + SURFACE.emission;
    const radiance = surfaces.values.subarray(s, s + 3);
    const mapped = document.surfaces[surface].maps.emission_color !== undefined;
    // a surface whose emission comes from a map, and one that moves, is found by surface sampling alone
    const rigid = keys[i].length === 0 && geometry.meshes[mesh * MESH.stride + MESH.keys] === 1;
    const emits = !mapped && rigid && !onlyShadows && radiance.some((r) => r > 0);
    const still = keys[i].length === 0 && isIdentity(transform) ? 1 : 0;
    const flags = (asks[i] ? ASKS : 0) | (doubleSided ? 0 : SINGLE_SIDED) | (receivesShadows ? 0 : NO_SHADOWS_ON_IT) | (facesTurned ? FACES_TURNED : 0) | (onlyShadows ? ONLY_SHADOWS : 0); // prettier-ignore
    writeRow(table, i * OBJECT.stride, OBJECT, { mesh, surface: surfaceIndex, emitter: emits ? emitting.length : -1, still, flags, firstKey, keys: keys[i].length }); // prettier-ignore
    firstKey += keys[i].length;
    triangles += meshes[mesh].indices.length / 3;
    objectTransforms.set(transform, i * 12);
    objectInverses.set(invertAffine(transform), i * 12);
    const stretch = Math.max(...centred[i].map(stretchOf));
    objectStretches[i] = stretch;
    const away = Math.max(...centred[i].flatMap((t) => [3, 7, 11].map((k) => Math.abs(t[k]))));
    const reach = geometry.reaches[mesh];
    objectOffsets[i] = rayOffset(3 * reach, 12 * reach, stretch, 3 * (away + reach * stretch));
    const { transmission_weight, geometry_thin_walled } = document.surfaces[surface];
    if (transmission_weight > 0 && !geometry_thin_walled) crowding = Math.max(crowding, CROWDING * objectOffsets[i]);
    const range = surfaces.values[surfaceIndex * SURFACE.stride + SURFACE.emissionReach];
    if (emits) addEmitters(emitting, meshes[mesh], transform, { object: i, radiance, range });
    const moves = laterTransforms.length > 0;
    instances.push({ mesh, transform, laterTransforms: moves ? laterTransforms : undefined, mask: maskOf(object, asks[i], unseen[i]) }); // prettier-ignore
  });
  const tables: ObjectTables = {
    objects: table,
    objectTransforms,
    objectInverses,
    objectKeys,
    objectStretches,
    objectOffsets,
    crowding,
    moves: firstKey > 0 || meshes.some((mesh) => mesh.laterPositions !== undefined),
    asks: asks.some(Boolean),
    shadowless: objects.some(({ castsShadows }, i) => !castsShadows && !unseen[i]),
    hides: objects.some((object) => object.seenByCamera && (!object.seenByReflections || object.onlyShadows)),
    bounds: unseen.some(Boolean),
    triangles,
  };
  return { tables, instances, emitting };
}

/** Rays set out to four times their offset at most, seen along a ray that meets the surface at 7 degrees or more. */
const CROWDING = 32;

/** Length of the longest axis of a transform. */
function stretchOf(t: number[]): number {
  return Math.max(...[0, 1, 2].map((k) => Math.hypot(t[k], t[k + 4], t[k + 8])));
}

/** Whether rays have to ask if an object is there: holes, back faces that are not there, glass with clear shadows, fog. */
export function asksRays(document: ShotDocument, object: SceneObject, settings: RenderSettings): boolean {
  const surface = document.surfaces[object.surface];
  const { geometry_opacity, maps, transmission_weight } = surface;
  const clear = settings.clearShadows !== 'off' && transmission_weight > 0;
  return geometry_opacity < 1 || maps.opacity !== undefined || !object.doubleSided || clear || isUnseen(surface);
}

function maskOf(object: SceneObject, asks: boolean, unseen: boolean): number {
  const { seenByCamera, seenByReflections, castsShadows, onlyShadows } = object;
  if (onlyShadows) return seenByCamera ? RAY_KINDS.camera : 0;
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
  if (!castsShadows) mask |= RAY_KINDS.shadowless;
  return mask;
}

function addEmitters(
  into: EmitterTriangle[],
  { positions, indices }: TriangleMesh,
  transform: number[],
  source: Pick<EmitterTriangle, 'object' | 'radiance' | 'range'>,
): void {
  for (let triangle = 0; triangle < indices.length / 3; triangle++) {
    const corners = [0, 1, 2].flatMap((c) => {
      const v = indices[triangle * 3 + c] * 3;
      return transformPoint(transform, positions.subarray(v, v + 3));
    });
    into.push({ ...source, corners, triangle });
  }
}
