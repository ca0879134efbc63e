// The meshes that rays meet. Most are those of the document; an object that is subdivided or displaced has a shape of its own,
// which it shares with objects that are made the same way.
import { decodeMesh, InputError, type MeshData } from '../formats/index.ts';
import { displacedMesh, plainShape, subdividedMesh, type ShapedMesh } from '../geometry/index.ts';
import type { SceneObject, ShotDocument } from '../scene/index.ts';
import { lookUpTexture, texelsKey, uvSetOf, type TextureStore } from '../shade/index.ts';
import type { BlobReader } from './blobReader.ts';
import { paddingKey } from './paddedPictures.ts';

export interface ShapePlan {
  /** What each shape depends on. */
  keys: string[];
  /** An object of each shape. */
  examples: string[];
  /** Shape of each object, in their order. */
  ofObject: number[];
}

/** Shapes of a document; those of the same key are the same. */
export function planShapes(document: ShotDocument): ShapePlan {
  const keys: string[] = [];
  const examples: string[] = [];
  const ofObject = Object.entries(document.objects).map(([id, object]) => {
    const key = JSON.stringify([baseKey(document, object), displacementKey(document, object)]);
    let shape = keys.indexOf(key);
    if (shape < 0) {
      shape = keys.push(key) - 1;
      examples.push(id);
    }
    return shape;
  });
  return { keys, examples, ofObject };
}

/** What a mesh depends on before it is displaced. */
function baseKey(
  { meshes }: ShotDocument,
  { creaseAngle, mesh, rimRule, subdivisionLevels, uvRule }: SceneObject,
): unknown[] {
  const { blob } = meshes[mesh];
  return subdivisionLevels === 0 ? [blob] : [blob, subdivisionLevels, uvRule, rimRule, creaseAngle];
}

/** The map that displaces an object; null where nothing does. */
export function displacementOf({ surfaces, textures }: ShotDocument, { surface }: SceneObject) {
  const { displacement_kind: kind, displacement_neutral: neutral, displacement_scale: scale, maps } = surfaces[surface];
  const id = maps.displacement;
  return id === undefined || scale === 0 ? null : { id, texture: textures[id], kind, neutral, scale };
}

function displacementKey(document: ShotDocument, object: SceneObject): unknown {
  const found = displacementOf(document, object);
  if (!found) return null;
  const { kind, neutral, scale, texture } = found;
  const { filter, offset, rotation, scale: size, uvSet, wrapU, wrapV } = texture;
  return [
    kind,
    neutral,
    scale,
    texelsKey(texture),
    paddingKey(document, found.id),
    filter,
    offset,
    rotation,
    size,
    uvSet,
    wrapU,
    wrapV,
  ];
}

/** What was subdivided for a scene, at each time, so that it is not done over when only a map's scale or neutral value changes. */
export type BaseShapes = Map<string, ShapedMesh[]>;

/**
 * The meshes of all shapes, in their order.
 * @param before bases that were made already; those of this document are put in, the others go
 * @throws InputError for a damaged blob, or a mesh that would become too large, naming the object
 */
export function buildShapes(
  document: ShotDocument,
  plan: ShapePlan,
  textures: TextureStore,
  readBlob: BlobReader,
  before: BaseShapes,
): MeshData[] {
  // prettier-ignore
  const textureIds = Object.keys(document.textures);
  const kept: BaseShapes = new Map();
  const shapes = plan.examples.map((id): MeshData => {
    const object = document.objects[id];
    const moved = displacementOf(document, object);
    const decoded = () => decodeMesh(readBlob(document.meshes[object.mesh].blob));
    if (!moved && object.subdivisionLevels === 0) return decoded();
    const key = JSON.stringify(baseKey(document, object));
    try {
      const bases = before.get(key) ?? kept.get(key) ?? basesOf(decoded(), object);
      kept.set(key, bases);
      const texture = moved ? textureIds.indexOf(moved.id) : -1;
      const placed = (base: ShapedMesh) => {
        const uvs = moved && (uvSetOf(textures, texture) === 1 ? base.laterUvs : base.uvs);
        // without UVs a map has nowhere to lie
        return uvs ? displacedMesh(base, uvs, (u, v, footprint, out) => lookUpTexture(textures, texture, u, v, footprint, out), moved) : base; // prettier-ignore
      };
      const [first, ...later] = bases.map(placed);
      return { ...first, ...(later.length > 0 && { later }) };
    } catch (error) {
      throw error instanceof InputError && !error.place ? new InputError(error.message, object.name) : error;
    }
  });
  before.clear();
  for (const [key, bases] of kept) before.set(key, bases);
  return shapes;
}

/** The mesh of an object at each of its times before it is displaced. */
function basesOf(mesh: MeshData, object: SceneObject): ShapedMesh[] {
  const later = (mesh.later ?? []).map(({ normals, positions }) => ({ ...mesh, positions, normals }));
  return [mesh, ...later].map((key) => baseShape(key, object, mesh.positions));
}

/** The mesh of an object before it is displaced. @param together positions that tell which vertices meet */
export function baseShape(
  mesh: MeshData,
  { creaseAngle, rimRule, subdivisionLevels, uvRule }: SceneObject,
  together = mesh.positions,
): ShapedMesh {
  // prettier-ignore
  if (subdivisionLevels === 0) return plainShape(mesh, together);
  return subdividedMesh(mesh, subdivisionLevels, { creaseAngle, rim: rimRule, uvRule }, together);
}
