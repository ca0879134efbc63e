// glTF 2.0 (GLB, or JSON with its files) to plain values. The library reads the structure; what this file adds is
// clear refusals for damaged files and a list of everything in the file that is not carried over.
import { WebIO, type Document, type JSONDocument, type Material, type Node, type Texture } from '@gltf-transform/core';
import {
  KHRLightsPunctual,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  type EmissiveStrength,
  type IOR,
  type Light,
  type Specular,
  type Transmission,
  type Volume,
} from '@gltf-transform/extensions';
import { affineFromColumns, determinant } from '../math/index.ts';
import { InputError } from './inputError.ts';
import type { MeshData } from './meshBlob.ts';
import { placesOfExtension, readGltfJson } from './gltfJson.ts';

const SUPPORTED = [
  KHRLightsPunctual,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMeshQuantization,
];

/** Something that the file uses and that is not carried over. */
export interface Unsupported {
  feature: string;
  place: string;
  effect: string;
}
export interface GltfTexture {
  name: string;
  bytes: Uint8Array;
  mediaType: string;
  wrapU: GltfWrap;
  wrapV: GltfWrap;
  place: string;
}
export type GltfWrap = 'repeat' | 'mirror' | 'clamp';
export interface GltfSurface {
  name: string;
  baseColor: number[]; // linear RGB
  metalness: number;
  roughness: number;
  specular: number;
  specularColor: number[];
  ior: number;
  transmission: number;
  /** 0: a thin wall; otherwise the closed surface of a volume. */
  thickness: number;
  attenuationColor: number[];
  /** Metres; Infinity: no absorption. */
  attenuationDistance: number;
  /** Radiance, W/(m2 sr). */
  emission: number[];
  baseColorTexture: GltfTexture | null;
  emissionTexture: GltfTexture | null;
  metalRoughTexture: GltfTexture | null;
}
export interface GltfObject {
  name: string;
  mesh: { key: string; name: string; data: MeshData };
  surface: number; // -1: none given
  transform: number[]; // affine, row by row
}
export interface GltfCamera {
  name: string;
  kind: 'perspective' | 'orthographic';
  verticalAngle: number; // degrees
  height: number; // metres, orthographic
  aspect: number | null;
  transform: number[];
}
export interface GltfLight {
  name: string;
  kind: 'point' | 'spot' | 'sun';
  /** point and spot: W/sr; sun: W/m2 across the beam. */
  intensity: number[];
  innerCone: number; // degrees from the axis
  outerCone: number;
  transform: number[];
}
export interface GltfScene {
  objects: GltfObject[];
  surfaces: GltfSurface[];
  cameras: GltfCamera[];
  lights: GltfLight[];
  unsupported: Unsupported[];
}

/** @param resources for a .gltf: the other files by the name that it refers to them with */
export async function readGltf(
  bytes: Uint8Array,
  name: string,
  resources: Record<string, Uint8Array> = {},
): Promise<GltfScene> {
  const json = readGltfJson(bytes, name);
  const known = new Set(SUPPORTED.map((e) => e.EXTENSION_NAME as string));
  const missing = (json.extensionsRequired ?? []).filter((e) => !known.has(e));
  if (missing.length > 0)
    throw new InputError(`it requires ${missing.join(', ')}, which is not supported: export it without`, name);
  const unsupported: Unsupported[] = (json.extensionsUsed ?? [])
    .filter((e) => !known.has(e))
    .flatMap((e) => placesOfExtension(json, e).map((place) => ({ feature: e, place, effect: 'ignored' })));
  const document = await parse(bytes, name, json, resources);
  try {
    return collect(document, name, unsupported);
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`the scene is damaged (${(error as Error).message})`, name);
  }
}

async function parse(
  bytes: Uint8Array,
  name: string,
  json: JSONDocument['json'],
  resources: Record<string, Uint8Array>,
): Promise<Document> {
  const io = new WebIO().registerExtensions(SUPPORTED);
  io.setLogger({ debug() {}, info() {}, warn() {}, error() {} });
  for (const { uri } of [...(json.buffers ?? []), ...(json.images ?? [])])
    if (uri && !uri.startsWith('data:') && !resources[uri] && !resources[decodeURIComponent(uri)])
      throw new InputError(`the file ${uri} belongs to it and is missing: bring in both together`, name);
  try {
    if (bytes[0] === 0x67) return await io.readBinary(bytes as Uint8Array<ArrayBuffer>);
    const named: JSONDocument['resources'] = {};
    for (const { uri } of [...(json.buffers ?? []), ...(json.images ?? [])])
      if (uri && !uri.startsWith('data:'))
        named[uri] = (resources[uri] ?? resources[decodeURIComponent(uri)]) as Uint8Array<ArrayBuffer>;
    return await io.readJSON({ json, resources: named });
  } catch (error) {
    throw new InputError(`it cannot be read as glTF (${(error as Error).message})`, name);
  }
}

function collect(document: Document, file: string, unsupported: Unsupported[]): GltfScene {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  if (!scene) throw new InputError('it holds no scene', file);
  const materials = root.listMaterials();
  const result: GltfScene = {
    objects: [],
    surfaces: materials.map((m, i) => surfaceOf(m, `materials/${i} (${m.getName()})`, unsupported)),
    cameras: [],
    lights: [],
    unsupported,
  };
  if (root.listAnimations().length > 0)
    unsupported.push({
      feature: 'animation',
      place: 'animations',
      effect: 'the scene stands still at its rest position',
    });
  const meshes = new Map<string, GltfObject['mesh']>();
  const meshNumbers = new Map(root.listMeshes().map((mesh, i) => [mesh, i]));

  const visit = (node: Node): void => {
    const transform = affineFromColumns(node.getWorldMatrix());
    const name = node.getName();
    const place = `nodes/${root.listNodes().indexOf(node)} (${name})`;
    if (node.getSkin()) unsupported.push({ feature: 'skin', place, effect: 'the mesh stands in its rest pose' });
    const camera = node.getCamera();
    if (camera) {
      const orthographic = camera.getType() === 'orthographic';
      result.cameras.push({
        name: name || camera.getName() || 'camera',
        kind: orthographic ? 'orthographic' : 'perspective',
        verticalAngle: (camera.getYFov() * 180) / Math.PI,
        height: camera.getYMag() * 2,
        aspect: orthographic ? camera.getXMag() / camera.getYMag() : camera.getAspectRatio(),
        transform,
      });
    }
    const light = node.getExtension<Light>('KHR_lights_punctual');
    if (light) result.lights.push(lightOf(light, name, place, transform, unsupported));
    const mesh = node.getMesh();
    mesh?.listPrimitives().forEach((primitive, p) => {
      const key = `meshes/${meshNumbers.get(mesh)}/primitives/${p}`;
      const data = meshes.get(key) ?? readPrimitive(primitive, key, mesh.getName() || name, file, unsupported);
      if (!data) return;
      meshes.set(key, data);
      if (determinant(transform) === 0) {
        unsupported.push({ feature: 'flattened node (a scale of 0)', place, effect: 'left out' });
        return;
      }
      const material = primitive.getMaterial();
      const label =
        mesh.listPrimitives().length > 1
          ? `${name || mesh.getName()} ${material?.getName() || p}`
          : name || mesh.getName();
      result.objects.push({ name: label, mesh: data, surface: material ? materials.indexOf(material) : -1, transform });
    });
    node.listChildren().forEach(visit);
  };
  scene.listChildren().forEach(visit);
  return result;
}

type Primitive = ReturnType<
  ReturnType<ReturnType<Document['getRoot']>['listMeshes']>[number]['listPrimitives']
>[number];

function readPrimitive(
  primitive: Primitive,
  key: string,
  name: string,
  file: string,
  unsupported: Unsupported[],
): GltfObject['mesh'] | null {
  const mode = primitive.getMode();
  if (mode < 4) {
    unsupported.push({ feature: 'points and lines', place: `${key} (${name})`, effect: 'left out' });
    return null;
  }
  if (primitive.listTargets().length > 0)
    unsupported.push({ feature: 'morph targets', place: `${key} (${name})`, effect: 'the mesh keeps its base shape' });
  const position = primitive.getAttribute('POSITION');
  if (!position || position.getCount() === 0) throw new InputError('the mesh has no positions', `${file}, ${key}`);
  const vertices = position.getCount();
  const read = (semantic: string, size: number): Float32Array | null => {
    const accessor = primitive.getAttribute(semantic);
    if (!accessor) return null;
    if (accessor.getCount() !== vertices || accessor.getElementSize() !== size)
      throw new InputError(`${semantic} does not fit the positions`, `${file}, ${key}`);
    const values = new Float32Array(vertices * size);
    const element: number[] = [];
    for (let i = 0; i < vertices; i++) values.set(accessor.getElement(i, element), i * size);
    if (!values.every(Number.isFinite))
      throw new InputError(`${semantic} holds a value that is not a number`, `${file}, ${key}`);
    return values;
  };
  const source = primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: vertices }, (_, i) => i);
  const indices = trianglesOf(source, mode);
  for (const index of indices)
    if (index >= vertices) throw new InputError(`an index of ${index} points past the last vertex`, `${file}, ${key}`);
  if (indices.length === 0) throw new InputError('the mesh has no triangles', `${file}, ${key}`);
  if (primitive.getAttribute('COLOR_0'))
    unsupported.push({ feature: 'vertex colours', place: `${key} (${name})`, effect: 'ignored' });
  const data = { positions: read('POSITION', 3)!, normals: read('NORMAL', 3), uvs: read('TEXCOORD_0', 2), indices };
  return { key, name: name || key, data };
}

/** Lists of triangles from the three triangle modes of glTF: 4 list, 5 strip, 6 fan. */
function trianglesOf(source: ArrayLike<number>, mode: number): Uint32Array {
  if (mode === 4) return Uint32Array.from(source).subarray(0, source.length - (source.length % 3));
  const out: number[] = [];
  for (let i = 2; i < source.length; i++)
    if (mode === 6) out.push(source[0], source[i - 1], source[i]);
    else if (i % 2) out.push(source[i - 1], source[i - 2], source[i]);
    else out.push(source[i - 2], source[i - 1], source[i]);
  return Uint32Array.from(out);
}

function lightOf(
  light: Light,
  name: string,
  place: string,
  transform: number[],
  unsupported: Unsupported[],
): GltfLight {
  if (light.getRange() !== null && light.getRange() !== 0)
    unsupported.push({ feature: 'light range', place, effect: 'the light reaches on by the inverse square law' });
  const kind = light.getType() === 'directional' ? 'sun' : light.getType() === 'spot' ? 'spot' : 'point';
  return {
    name: name || light.getName() || 'light',
    kind,
    intensity: light.getColor().map((c) => c * light.getIntensity()),
    innerCone: ((light.getInnerConeAngle() ?? 0) * 180) / Math.PI,
    outerCone: ((light.getOuterConeAngle() ?? Math.PI / 4) * 180) / Math.PI,
    transform,
  };
}

function surfaceOf(material: Material, place: string, unsupported: Unsupported[]): GltfSurface {
  const transmission = material.getExtension<Transmission>('KHR_materials_transmission');
  const volume = material.getExtension<Volume>('KHR_materials_volume');
  const specular = material.getExtension<Specular>('KHR_materials_specular');
  const strength =
    material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
  const skip = (present: unknown, feature: string) =>
    present && unsupported.push({ feature, place, effect: 'ignored: the plain value is used' });
  skip(material.getNormalTexture(), 'normal map');
  skip(material.getOcclusionTexture(), 'occlusion map');
  skip(transmission?.getTransmissionTexture(), 'transmission map');
  skip(volume?.getThicknessTexture(), 'thickness map');
  skip(specular?.getSpecularTexture() ?? specular?.getSpecularColorTexture(), 'specular map');
  if (material.getAlphaMode() !== 'OPAQUE')
    unsupported.push({ feature: `alpha mode ${material.getAlphaMode()}`, place, effect: 'the surface is opaque' });
  const texture = (value: Texture | null, info: ReturnType<Material['getBaseColorTextureInfo']>, slot: string) => {
    if (!value) return null;
    if (info && info.getTexCoord() !== 0)
      unsupported.push({ feature: 'second UV set', place: `${place}, ${slot}`, effect: 'the first set is used' });
    return textureOf(value, info, `${place}, ${slot}`);
  };
  return {
    name: material.getName() || place,
    baseColor: material.getBaseColorFactor().slice(0, 3),
    metalness: material.getMetallicFactor(),
    roughness: material.getRoughnessFactor(),
    specular: specular?.getSpecularFactor() ?? 1,
    specularColor: specular?.getSpecularColorFactor() ?? [1, 1, 1],
    ior: material.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? 1.5,
    transmission: transmission?.getTransmissionFactor() ?? 0,
    thickness: volume?.getThicknessFactor() ?? 0,
    attenuationColor: volume?.getAttenuationColor() ?? [1, 1, 1],
    attenuationDistance: volume?.getAttenuationDistance() ?? Infinity,
    emission: material.getEmissiveFactor().map((e) => e * strength),
    baseColorTexture: texture(material.getBaseColorTexture(), material.getBaseColorTextureInfo(), 'base colour'),
    emissionTexture: texture(material.getEmissiveTexture(), material.getEmissiveTextureInfo(), 'emission'),
    metalRoughTexture: texture(
      material.getMetallicRoughnessTexture(),
      material.getMetallicRoughnessTextureInfo(),
      'metalness and roughness',
    ),
  };
}

function textureOf(
  texture: Texture,
  info: ReturnType<Material['getBaseColorTextureInfo']>,
  place: string,
): GltfTexture {
  const bytes = texture.getImage();
  if (!bytes) throw new InputError('the picture of this texture is missing', place);
  const wrap = (mode: number | undefined): GltfWrap =>
    mode === 33071 ? 'clamp' : mode === 33648 ? 'mirror' : 'repeat';
  return {
    name: texture.getName() || texture.getURI() || place,
    bytes,
    mediaType: texture.getMimeType(),
    wrapU: wrap(info?.getWrapS()),
    wrapV: wrap(info?.getWrapT()),
    place,
  };
}
