// An object that a map moves, with all that is asked of it: its mesh before it is moved, and the map by itself.
import type { MeshData } from '../../formats/index.ts';
import { weld, type MapReader, type ShapedMesh } from '../../geometry/index.ts';
import { baseShape, CAMERA, displacementOf, type CompiledScene } from '../../render/index.ts';
import type { SceneObject, ShotDocument, UvRule } from '../../scene/index.ts';
import { coveredTexels, lookUpTexture, placedCorners, placementOf, type TextureStore } from '../../shade/index.ts';

export type Moved = NonNullable<ReturnType<typeof displacementOf>>;

export interface DisplacedObject {
  id: string;
  object: SceneObject;
  mesh: MeshData;
  moved: Moved;
  /** The map, red, as it was read: linear, its first tile where it has several. */
  map: {
    values: Float32Array;
    width: number;
    height: number;
    /** Where it begins, u and v, in whole tiles. */
    origin: [number, number];
  };
  /** Whether UVs of the mesh as it came lie on a texel of the map. // 1 a texel */
  covered: Uint8Array;
  base: ShapedMesh;
  uvs: Float32Array;
  /** A number for each vertex, the same for all that lie at one place. */
  places: Uint32Array;
  /** Metres in the world for one in the space of the mesh, on average over the axes. */
  stretch: number;
  /** Width of a pixel at a vertex of the base, in the space of the mesh. // 1 a vertex */
  pixels: Float32Array;
  /** Where each vertex of the base is seen, in pixels of the frame; NaN behind the camera. // 2 a vertex */
  seenAt: Float32Array;
}

/** @returns null where nothing moves it: no map, or no UVs */
export function displacedObject(
  document: ShotDocument,
  scene: CompiledScene,
  index: number,
  mesh: MeshData,
  frame: { width: number; height: number },
): DisplacedObject | null {
  const id = scene.objectIds[index];
  const object = document.objects[id];
  const moved = displacementOf(document, object);
  if (!moved) return null;
  const base = baseShape(mesh, object);
  const uvs = moved.texture.uvSet === 1 ? base.laterUvs : base.uvs;
  if (!uvs) return null;
  const places = object.subdivisionLevels === 0 ? weld(base.positions) : base.owner;
  return { id, object, mesh, moved, map: mapOf(scene, document, moved), base, uvs, places, covered: coveredBy(mesh, moved), ...viewOf(scene, object, base, frame) }; // prettier-ignore
}

/** The same under another rule for UVs. */
export function withRule(
  { mesh, moved, object }: DisplacedObject,
  uvRule: UvRule,
): { base: ShapedMesh; uvs: Float32Array } {
  const base = baseShape(mesh, { ...object, uvRule });
  return { base, uvs: (moved.texture.uvSet === 1 ? base.laterUvs : base.uvs)! };
}

/** Reads a texture of a store. */
export function readerOf(textures: TextureStore, texture: number): MapReader {
  return (u, v, footprint, out) => lookUpTexture(textures, texture, u, v, footprint, out);
}

/** The map of an object as its scene reads it. */
export const ownReader = (scene: CompiledScene, document: ShotDocument, { id }: Moved) => readerOf(scene.textures, Object.keys(document.textures).indexOf(id)); // prettier-ignore

/** Texels of the finest level, read where they lie. */
function mapOf(scene: CompiledScene, document: ShotDocument, moved: Moved): DisplacedObject['map'] {
  const { texture } = moved;
  const tile = texture.tiles[0];
  const { height, width } = tile ?? texture;
  const read = ownReader(scene, document, moved);
  const p = placementOf(texture);
  const det = p[0] * p[4] - p[1] * p[3];
  const rgba = new Float64Array(4);
  const origin: [number, number] = tile ? [(tile.number - 1001) % 10, -Math.floor((tile.number - 1001) / 10)] : [0, 0];
  const values = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [s, t] = [(x + 0.5) / width + origin[0] - p[2], (y + 0.5) / height + origin[1] - p[5]];
      read((p[4] * s - p[1] * t) / det, (p[0] * t - p[3] * s) / det, 0, rgba);
      values[y * width + x] = rgba[0];
    }
  return { values, width, height, origin };
}

function coveredBy(mesh: MeshData, { texture }: Moved): Uint8Array {
  const { height, width } = texture.tiles[0] ?? texture;
  const uvs = (texture.uvSet === 1 ? mesh.laterUvs : mesh.uvs)!;
  return coveredTexels(placedCorners(mesh.indices, uvs, texture), width, height);
}

function viewOf(
  { camera }: CompiledScene,
  { transform: m }: SceneObject,
  { positions }: ShapedMesh,
  frame: { width: number; height: number },
) {
  const count = positions.length / 3;
  const pixels = new Float32Array(count);
  const seenAt = new Float32Array(count * 2);
  const stretch = Math.cbrt(Math.abs(m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]))); // prettier-ignore
  const dot = (x: number, y: number, z: number, at: number) => x * camera[at] + y * camera[at + 1] + z * camera[at + 2];
  for (let v = 0; v < count; v++) {
    const [px, py, pz] = [positions[v * 3], positions[v * 3 + 1], positions[v * 3 + 2]];
    const x = m[0] * px + m[1] * py + m[2] * pz + m[3] - camera[CAMERA.position];
    const y = m[4] * px + m[5] * py + m[6] * pz + m[7] - camera[CAMERA.position + 1];
    const z = m[8] * px + m[9] * py + m[10] * pz + m[11] - camera[CAMERA.position + 2];
    const flat = camera[CAMERA.orthographic] === 1;
    const ahead = dot(x, y, z, CAMERA.forward);
    const far = flat ? 1 : ahead;
    pixels[v] = (camera[CAMERA.pixel] * Math.max(1e-6, far)) / stretch;
    const side = dot(x, y, z, CAMERA.right) / far / camera[CAMERA.halfWidth];
    const up = dot(x, y, z, CAMERA.up) / far / camera[CAMERA.halfHeight];
    seenAt[v * 2] = ahead > 0 ? ((side + 1) / 2) * frame.width : NaN;
    seenAt[v * 2 + 1] = ahead > 0 ? ((1 - up) / 2) * frame.height : NaN;
  }
  return { stretch, pixels, seenAt };
}
