// The mesh of one object as it is rendered, for views of the scene: subdivided and displaced, without compiling the rest.
import { decodeMesh, type MeshData } from '../formats/index.ts';
import { plainBuffer } from '../trace/index.ts';
import type { ShotDocument, Surface } from '../scene/index.ts';
import type { BlobReader } from './blobReader.ts';
import { loadTextures } from './compile.ts';
import { asksPixels, withPixelLevels } from './pixelLevels.ts';
import { buildShapes, displacementOf, planShapes } from './shapes.ts';

/** The part of a document that the shape of an object depends on; null where it is the mesh as it came. */
export function shapeSource(document: ShotDocument, id: string): ShotDocument | null {
  const object = document.objects[id];
  const moved = displacementOf(document, object);
  if (!moved && object.subdivisionLevels === 0) return null;
  // how far a map is padded or blended hangs on all that lies on it
  const shares = (other: string) => moved !== null && moved.texture.padding + moved.texture.blend > 0 && displacementOf(document, document.objects[other])?.id === moved.id; // prettier-ignore
  const ids = Object.keys(document.objects).filter((other) => other === id || shares(other));
  const only = <T>(all: Record<string, T>, wanted: string[]) => Object.fromEntries([...new Set(wanted)].map((key) => [key, all[key]])); // prettier-ignore
  return {
    ...document,
    objects: only(document.objects, ids),
    meshes: only(document.meshes, ids.map((other) => document.objects[other].mesh)), // prettier-ignore
    surfaces: Object.fromEntries(ids.map((other) => [document.objects[other].surface, withoutLooks(document.surfaces[document.objects[other].surface])])), // prettier-ignore
    textures: moved ? { [moved.id]: moved.texture } : {},
    lights: {},
  };
}

/** Its other maps are not read. */
const withoutLooks = (surface: Surface): Surface => ({ ...surface, maps: surface.maps.displacement === undefined ? {} : { displacement: surface.maps.displacement } }); // prettier-ignore

/** Shapes of the same key are the same. @param source as shapeSource gives it */
export function shapeKey(source: ShotDocument, id: string): string {
  const { keys, ofObject } = planShapes(source);
  const { camera, cameras, final, objects } = source;
  const seenBy = asksPixels(objects[id]) ? [objects[id].transform, objects[id].edgeLength, cameras[camera], final.width, final.height] : []; // prettier-ignore
  return JSON.stringify([keys[ofObject[Object.keys(objects).indexOf(id)]], seenBy]);
}

/** Blobs that the shape is made from. */
export const shapeBlobs = ({ meshes, textures }: ShotDocument): string[] => [
  ...Object.values(meshes).map(({ blob }) => blob),
  ...Object.values(textures).flatMap(({ blob, tiles }) => (tiles.length > 0 ? tiles.map((tile) => tile.blob) : [blob])),
];

/** When the shutter opens, at the size of the final render. @param source as shapeSource gives it @throws InputError */
export function shownShape(source: ShotDocument, id: string, readBlob: BlobReader): MeshData {
  const meshOf = (object: string) => decodeMesh(readBlob(source.meshes[source.objects[object].mesh].blob));
  const document = withPixelLevels(source, source.final, meshOf);
  const plan = planShapes(document);
  const shape = plan.ofObject[Object.keys(document.objects).indexOf(id)];
  const own = { keys: [plan.keys[shape]], examples: [plan.examples[shape]], ofObject: [0] };
  return buildShapes(document, own, loadTextures(document, readBlob, plainBuffer), readBlob, new Map())[0];
}
