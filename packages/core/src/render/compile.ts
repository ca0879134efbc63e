import { decodeMesh, InputError, readTexture, type MeshData } from '../formats/index.ts';
import { transformPoint } from '../math/index.ts';
import type { RenderSettings, ShotDocument } from '../scene/index.ts';
import {
  ALBEDO_STRIDE,
  buildEmitters,
  buildEnvironment,
  fillLight,
  fillSurface,
  LIGHT_STRIDE,
  SURFACE_STRIDE,
  TEXTURE_STRIDE,
  WRAPS,
  type EmitterTable,
  type EmitterTriangle,
  type EnvironmentMap,
  type SurfaceTable,
  type TextureStore,
} from '../shade/index.ts';
import { buildRayScene, plainBuffer, type MakeBuffer, type RayScene } from '../trace/index.ts';
import { CAMERA_SIZE, cameraNumbers } from './camera.ts';

/**
 * A shot as flat arrays. With shared buffers it goes to other threads without a copy.
 * meshes, int32: // 0 first vertex, 1 first index, 2 has normals, 3 has UVs
 * objects, int32: // 0 mesh, 1 surface, 2 first emitter triangle or -1, 3 unused
 * objectTransforms, f64: // 12 numbers an object, object to world, row by row
 */
export interface CompiledScene {
  rays: RayScene;
  meshes: Int32Array;
  positions: Float32Array;
  normals: Float32Array;
  uvs: Float32Array;
  indices: Uint32Array;
  objects: Int32Array;
  objectTransforms: Float64Array;
  surfaces: SurfaceTable;
  textures: TextureStore;
  lights: Float64Array;
  emitters: EmitterTable;
  environment: EnvironmentMap | null;
  camera: Float64Array;
  /** Largest coordinate in the scene, for the size of ray offsets. */
  extent: number;
  triangles: number;
  objectIds: string[];
  surfaceIds: string[];
}

export type BlobReader = (id: string) => Uint8Array;

export function compileScene(
  document: ShotDocument,
  settings: RenderSettings,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer = plainBuffer,
): CompiledScene {
  const meshIds = Object.keys(document.meshes);
  const meshes = meshIds.map((id) => decodeMesh(readBlob(document.meshes[id].blob)));
  const surfaceIds = Object.keys(document.surfaces);
  const objectIds = Object.keys(document.objects);
  const objects = objectIds.map((id) => {
    const { mesh, surface, transform } = document.objects[id];
    return { mesh: meshIds.indexOf(mesh), surface: surfaceIds.indexOf(surface), transform };
  });
  if (objects.length === 0) throw new InputError('the scene has no surface to render', document.name);
  const { textures, textureIds } = loadTextures(document, readBlob, makeBuffer);
  const surfaces: SurfaceTable = {
    values: new Float64Array(makeBuffer(surfaceIds.length * SURFACE_STRIDE * 8)),
    albedos: new Float32Array(makeBuffer(surfaceIds.length * ALBEDO_STRIDE * 4)),
  };
  surfaceIds.forEach((id, i) =>
    fillSurface(surfaces, i, document.surfaces[id], (map) => (map === undefined ? -1 : textureIds.indexOf(map))),
  );

  const objectTable = new Int32Array(makeBuffer(objects.length * 16));
  const objectTransforms = new Float64Array(makeBuffer(objects.length * 96));
  const emitting: EmitterTriangle[] = [];
  objects.forEach(({ mesh, surface, transform }, i) => {
    const radiance = surfaces.values.subarray(surface * SURFACE_STRIDE + 17, surface * SURFACE_STRIDE + 20);
    const mapped = document.surfaces[surfaceIds[surface]].maps.emission_color !== undefined;
    // a surface whose emission comes from a map is found by surface sampling alone
    const emits = !mapped && radiance.some((r) => r > 0);
    objectTable.set([mesh, surface, emits ? emitting.length : -1, 0], i * 4);
    objectTransforms.set(transform, i * 12);
    if (emits) emitting.push(...emitterTriangles(meshes[mesh], transform, i, radiance));
  });

  const lights = Object.values(document.lights).filter((l) => l.strength > 0);
  const lightTable = new Float64Array(makeBuffer(lights.length * LIGHT_STRIDE * 8));
  lights.forEach((light, i) => fillLight(lightTable, i, light));

  const camera = new Float64Array(makeBuffer(CAMERA_SIZE * 8));
  camera.set(cameraNumbers(document.cameras[document.camera], settings));
  const rays = buildRayScene(meshes, objects, makeBuffer);
  const extent = rays.topNodes.subarray(0, 6).reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  return {
    rays,
    ...packMeshes(meshes, makeBuffer),
    objects: objectTable,
    objectTransforms,
    surfaces,
    textures,
    lights: lightTable,
    emitters: buildEmitters(emitting, makeBuffer),
    environment: loadEnvironment(document, readBlob, makeBuffer),
    camera,
    extent,
    triangles: objects.reduce((sum, o) => sum + meshes[o.mesh].indices.length / 3, 0),
    objectIds,
    surfaceIds,
  };
}

function packMeshes(meshes: MeshData[], makeBuffer: MakeBuffer) {
  const vertexCount = meshes.reduce((sum, m) => sum + m.positions.length / 3, 0);
  const indexCount = meshes.reduce((sum, m) => sum + m.indices.length, 0);
  const table = new Int32Array(makeBuffer(meshes.length * 16));
  const positions = new Float32Array(makeBuffer(vertexCount * 12));
  const normals = new Float32Array(makeBuffer(vertexCount * 12));
  const uvs = new Float32Array(makeBuffer(vertexCount * 8));
  const indices = new Uint32Array(makeBuffer(indexCount * 4));
  let vertex = 0;
  let index = 0;
  meshes.forEach((mesh, m) => {
    table.set([vertex, index, mesh.normals ? 1 : 0, mesh.uvs ? 1 : 0], m * 4);
    positions.set(mesh.positions, vertex * 3);
    if (mesh.normals) normals.set(mesh.normals, vertex * 3);
    if (mesh.uvs) uvs.set(mesh.uvs, vertex * 2);
    indices.set(mesh.indices, index);
    vertex += mesh.positions.length / 3;
    index += mesh.indices.length;
  });
  return { meshes: table, positions, normals, uvs, indices };
}

function emitterTriangles(
  mesh: MeshData,
  transform: number[],
  object: number,
  radiance: ArrayLike<number>,
): EmitterTriangle[] {
  return Array.from({ length: mesh.indices.length / 3 }, (_, triangle) => {
    const corners = [0, 1, 2].flatMap((c) => {
      const v = mesh.indices[triangle * 3 + c] * 3;
      return transformPoint(transform, mesh.positions.subarray(v, v + 3));
    });
    return { corners, object, triangle, radiance };
  });
}

function loadTextures(document: ShotDocument, readBlob: BlobReader, makeBuffer: MakeBuffer) {
  const textureIds = Object.keys(document.textures);
  const pictures = textureIds.map((id) => {
    const { blob, name, encoding } = document.textures[id];
    return readTexture(readBlob(blob), name, encoding);
  });
  const table = new Int32Array(makeBuffer(pictures.length * TEXTURE_STRIDE * 4));
  const texels = new Float32Array(makeBuffer(pictures.reduce((sum, p) => sum + p.texels.byteLength, 0)));
  let first = 0;
  pictures.forEach(({ width, height, texels: source }, i) => {
    const { wrapU, wrapV } = document.textures[textureIds[i]];
    table.set([first, width, height, WRAPS.indexOf(wrapU), WRAPS.indexOf(wrapV)], i * TEXTURE_STRIDE);
    texels.set(source, first * 4);
    first += width * height;
  });
  const textures: TextureStore = { table, texels };
  return { textures, textureIds };
}

function loadEnvironment(document: ShotDocument, readBlob: BlobReader, makeBuffer: MakeBuffer): EnvironmentMap | null {
  const { color, strength, rotation, picture } = document.environment;
  const tint = color.map((c) => c * strength);
  if (!tint.some((c) => c > 0)) return null;
  const pixels = picture ? readTexture(readBlob(picture.blob), picture.name, 'linear') : null;
  return buildEnvironment(pixels, tint, rotation, makeBuffer);
}
