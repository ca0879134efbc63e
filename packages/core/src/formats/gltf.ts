// glTF 2.0 (GLB, or JSON with its files) to plain values. The library reads the structure; what this file adds is
// clear refusals for damaged files and a list of everything in the file that is not carried over.
import { WebIO, type Document, type JSONDocument, type Node } from '@gltf-transform/core';
import {
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsDispersion,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
  type InstancedMesh,
  type Light,
} from '@gltf-transform/extensions';
import { affineFromColumns, affineFromParts, determinant, multiplyAffine } from '../math/index.ts';
import { InputError } from './inputError.ts';
import type { MeshData } from './meshBlob.ts';
import { surfaceOf, type GltfSurface, type Unsupported } from './gltfSurface.ts';
import { placesOfExtension, readGltfJson } from './gltfJson.ts';
import { SCENE_LIMITS, type SceneLimits } from './sceneLimits.ts';
import { setPose, shutterTimes, type ShutterInterval } from './gltfMotion.ts';

const SUPPORTED = [
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
  KHRMaterialsAnisotropy,
  KHRMaterialsClearcoat,
  KHRMaterialsDispersion,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
];

export interface GltfObject {
  name: string;
  mesh: { key: string; name: string; data: MeshData };
  surface: number; // -1: none given
  transform: number[]; // affine, row by row
  /** Transforms at later times of the shutter interval; empty where it stands still. */
  laterTransforms: number[][];
}
export interface GltfCamera {
  name: string;
  kind: 'perspective' | 'orthographic';
  verticalAngle: number; // degrees
  /** What the extras of the camera say under these names: the format itself knows no lens. Metres, whole number. */
  lens: { apertureRadius?: number; focusDistance?: number; apertureBlades?: number };
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
  /** Metres; 0: no limit. */
  reach: number;
  transform: number[];
}
export interface GltfScene {
  objects: GltfObject[];
  surfaces: GltfSurface[];
  cameras: GltfCamera[];
  lights: GltfLight[];
  unsupported: Unsupported[];
}

/**
 * @param resources for a .gltf: the other files by the name that it refers to them with
 * @param interval the time of its animations, and how they move while the shutter is open; null: the rest position
 */
export async function readGltf(
  bytes: Uint8Array,
  name: string,
  resources: Record<string, Uint8Array> = {},
  interval: ShutterInterval | null = null,
  limits: SceneLimits = SCENE_LIMITS,
): Promise<GltfScene> {
  const json = readGltfJson(bytes, name, limits);
  const known = new Set(SUPPORTED.map((e) => e.EXTENSION_NAME as string));
  const missing = (json.extensionsRequired ?? []).filter((e) => !known.has(e));
  if (missing.length > 0)
    throw new InputError(
      missing.includes('KHR_texture_basisu')
        ? 'its textures are KTX2 (KHR_texture_basisu), which hold blocks for graphics cards and not texels: export it with PNG or JPEG'
        : `it requires ${missing.join(', ')}, which is not supported: export it without`,
      name,
    );
  const unsupported: Unsupported[] = (json.extensionsUsed ?? [])
    .filter((e) => !known.has(e))
    .flatMap((e) => placesOfExtension(json, e).map((place) => ({ feature: e, place, effect: 'ignored' })));
  const document = await parse(bytes, name, json, resources);
  if (!interval && document.getRoot().listAnimations().length > 0)
    unsupported.push({
      feature: 'animation',
      place: 'animations',
      effect: 'the scene stands still at its rest position: name a time under "motion" in a settings file',
    });
  try {
    return interval ? collectMotion(document, name, interval, unsupported) : collect(document, name, unsupported);
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
  await needDecoders(io, json, name);
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

/** Gives the reader what unpacks the meshes of a file, where it has packed ones. */
async function needDecoders(io: WebIO, { extensionsUsed = [] }: JSONDocument['json'], name: string): Promise<void> {
  try {
    if (extensionsUsed.includes('KHR_draco_mesh_compression')) {
      const { default: draco3d } = await import('draco3dgltf');
      io.registerDependencies({ 'draco3d.decoder': await draco3d.createDecoderModule() });
    }
    if (extensionsUsed.includes('EXT_meshopt_compression')) {
      const { MeshoptDecoder } = await import('meshoptimizer');
      await MeshoptDecoder.ready;
      io.registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
    }
  } catch (error) {
    throw new InputError(`its meshes are packed, and what unpacks them does not start here (${(error as Error).message})`, name); // prettier-ignore
  }
}

/** The scene at the opening of the shutter, with what has moved or changed its shape at later times. */
function collectMotion(
  document: Document,
  file: string,
  interval: ShutterInterval,
  unsupported: Unsupported[],
): GltfScene {
  const [first, ...others] = shutterTimes(interval).map((time, i) => {
    setPose(document, time);
    return collect(document, file, i === 0 ? unsupported : []);
  });
  const same = (a: ArrayLike<number>, b: ArrayLike<number>) => Array.prototype.every.call(a, (v, i) => v === b[i]);
  const note = (feature: string, name: string) => unsupported.push({ feature, place: name, effect: 'it stands as at the opening of the shutter' }); // prettier-ignore
  first.objects.forEach((object, i) => {
    const keys = others.map((other) => other.objects[i]);
    if (keys.some((key) => !same(key.transform, object.transform))) object.laterTransforms = keys.map((key) => key.transform); // prettier-ignore
    const { mesh } = object;
    if (keys.some((key) => !same(key.mesh.data.positions, mesh.data.positions)))
      mesh.data.later = keys.map(({ mesh: { data } }) => ({ positions: data.positions, normals: data.normals }));
  });
  for (const part of ['cameras', 'lights'] as const)
    first[part].forEach(({ name, transform }, i) => {
      if (others.some((other) => !same(other[part][i].transform, transform))) note(`motion of ${part}`, name);
    });
  return first;
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
  const meshes = new Map<string, GltfObject['mesh']>();
  const meshNumbers = new Map(root.listMeshes().map((mesh, i) => [mesh, i]));

  const nodeNumbers = new Map(root.listNodes().map((node, i) => [node, i]));

  const visit = (node: Node, parent: number[] | null): void => {
    const own = affineFromColumns(node.getMatrix());
    const transform = parent ? multiplyAffine(parent, own) : own;
    const name = node.getName();
    const place = `nodes/${nodeNumbers.get(node)} (${name})`;
    if (node.getSkin()) unsupported.push({ feature: 'skin', place, effect: 'the mesh stands in its rest pose' });
    const camera = node.getCamera();
    if (camera && !isFlat(transform)) {
      const orthographic = camera.getType() === 'orthographic';
      result.cameras.push({
        name: name || camera.getName() || 'camera',
        kind: orthographic ? 'orthographic' : 'perspective',
        verticalAngle: (camera.getYFov() * 180) / Math.PI,
        height: camera.getYMag() * 2,
        lens: lensOf(camera.getExtras()),
        aspect: orthographic ? camera.getXMag() / camera.getYMag() : camera.getAspectRatio(),
        transform,
      });
    }
    const light = node.getExtension<Light>('KHR_lights_punctual');
    const flat = isFlat(transform);
    if (flat && (camera || light)) unsupported.push({ feature: FLATTENED, place, effect: 'left out' });
    if (light && !flat) result.lights.push(lightOf(light, name, transform));
    const mesh = node.getMesh();
    mesh?.listPrimitives().forEach((primitive, p) => {
      const weights = primitive.listTargets().length === 0 ? [] : node.getWeights().length > 0 ? node.getWeights() : mesh.getWeights(); // prettier-ignore
      const place = `meshes/${meshNumbers.get(mesh)}/primitives/${p}`;
      const key = weights.some((w) => w !== 0) ? `${place} in the shape of ${name}` : place;
      const data = meshes.get(key) ?? readPrimitive(primitive, weights, key, mesh.getName() || name, file, unsupported);
      if (!data) return;
      meshes.set(key, data);
      const material = primitive.getMaterial();
      const label =
        mesh.listPrimitives().length > 1
          ? `${name || mesh.getName()} ${material?.getName() || p}`
          : name || mesh.getName();
      const surface = material ? materials.indexOf(material) : -1;
      const all = instancesOf(node, transform);
      const solid = all.filter((placed) => !isFlat(placed));
      if (solid.length < all.length) {
        const many = all.length > 1 ? `${all.length - solid.length} of ${all.length} instances: ` : '';
        unsupported.push({ feature: many + FLATTENED, place, effect: 'left out' });
      }
      for (const placed of solid)
        result.objects.push({ name: label, mesh: data, surface, transform: placed, laterTransforms: [] });
    });
    for (const child of node.listChildren()) visit(child, transform);
  };
  for (const node of scene.listChildren()) visit(node, null);
  return result;
}

const FLATTENED = 'flattened node (a scale of 0)';
/** Whether a transform leaves nothing of what it places, as far as numbers go. */
const isFlat = (transform: number[]) => !Number.isFinite(1 / determinant(transform));

/** The transforms of a node that stands for many (EXT_mesh_gpu_instancing), or its own. */
function instancesOf(node: Node, transform: number[]): number[][] {
  const batch = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
  if (!batch) return [transform];
  const [moves, turns, scales] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((name) => batch.getAttribute(name));
  const count = Math.max(...[moves, turns, scales].map((a) => a?.getCount() ?? 0));
  return Array.from({ length: count }, (_, i) => {
    const t = moves?.getElement(i, []) ?? [0, 0, 0];
    const r = turns?.getElement(i, []) ?? [0, 0, 0, 1];
    const s = scales?.getElement(i, []) ?? [1, 1, 1];
    return multiplyAffine(transform, affineFromParts(t, r, s));
  });
}

type Primitive = ReturnType<
  ReturnType<ReturnType<Document['getRoot']>['listMeshes']>[number]['listPrimitives']
>[number];

function readPrimitive(
  primitive: Primitive,
  weights: number[],
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
  const position = primitive.getAttribute('POSITION');
  const indexed = primitive.getIndices();
  if (!position || position.getCount() === 0 || (indexed && indexed.getCount() < 3)) {
    unsupported.push({ feature: 'a mesh without triangles', place: `${key} (${name})`, effect: 'left out' });
    return null;
  }
  const vertices = position.getCount();
  const read = (semantic: string, size: number): Float32Array | null => {
    const accessor = primitive.getAttribute(semantic);
    if (!accessor) return null;
    if (accessor.getCount() !== vertices || accessor.getElementSize() !== size)
      throw new InputError(`${semantic} does not fit the positions`, `${file}, ${key}`);
    const values = new Float32Array(vertices * size);
    const element: number[] = [];
    for (let i = 0; i < vertices; i++) values.set(accessor.getElement(i, element), i * size);
    // morph targets, glTF 2.0, 3.7.2.2: differences, each by its weight
    primitive.listTargets().forEach((target, t) => {
      const differences = weights[t] ? target.getAttribute(semantic) : null;
      for (let i = 0; differences && i < vertices; i++)
        differences
          .getElement(i, element)
          .slice(0, size)
          .forEach((d, k) => (values[i * size + k] += weights[t] * d));
    });
    const broken = values.reduce((count, v) => count + (Number.isFinite(v) ? 0 : 1), 0);
    if (broken > 0) {
      const effect = semantic === 'POSITION' ? 'their triangles are left out' : semantic === 'NORMAL' ? 'the faces there are flat' : '0 is taken'; // prettier-ignore
      unsupported.push({ feature: `${broken} values of ${semantic} that are not numbers`, place: `${key} (${name})`, effect }); // prettier-ignore
      if (size === 2) values.forEach((v, i) => (values[i] = Number.isFinite(v) ? v : 0));
    }
    return values;
  };
  const source = primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: vertices }, (_, i) => i);
  const indices = trianglesOf(source, mode);
  for (const index of indices)
    if (index >= vertices) throw new InputError(`an index of ${index} points past the last vertex`, `${file}, ${key}`);
  if (primitive.getAttribute('COLOR_0'))
    unsupported.push({ feature: 'vertex colours', place: `${key} (${name})`, effect: 'ignored' });
  const uvs = read('TEXCOORD_0', 2);
  const laterUvs = uvs && read('TEXCOORD_1', 2);
  const data = { positions: read('POSITION', 3)!, normals: read('NORMAL', 3), uvs, laterUvs, indices };
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

function lightOf(light: Light, name: string, transform: number[]): GltfLight {
  const kind = light.getType() === 'directional' ? 'sun' : light.getType() === 'spot' ? 'spot' : 'point';
  return {
    name: name || light.getName() || 'light',
    kind,
    intensity: light.getColor().map((c) => c * light.getIntensity()),
    innerCone: ((light.getInnerConeAngle() ?? 0) * 180) / Math.PI,
    outerCone: ((light.getOuterConeAngle() ?? Math.PI / 4) * 180) / Math.PI,
    reach: light.getRange() ?? 0,
    transform,
  };
}

/** @throws InputError for a value that is no number above 0 */
function lensOf(extras: Record<string, unknown>): GltfCamera['lens'] {
  const lens: GltfCamera['lens'] = {};
  for (const key of ['apertureRadius', 'focusDistance', 'apertureBlades'] as const) {
    const value = extras[key];
    if (value === undefined) continue;
    if (typeof value !== 'number' || !(value >= 0)) throw new InputError(`${key} must be a number of 0 or more`, 'cameras/extras'); // prettier-ignore
    lens[key] = value;
  }
  return lens;
}
