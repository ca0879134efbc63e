// A mesh with its displacement map and nothing else: all that a question about displacement needs. A camera that shows the whole
// of it and a sun make a shot of it; scale and neutral value are a guess, and the settings of the shot that it comes from are to
// be put there.
import { decodeMesh, PLAIN_SPACE, readTexture, type GltfScene, type Unsupported } from '../formats/index.ts';
import { normalize, transformPoint } from '../math/index.ts';
import { addBlob, type Blobs, type ImportFile } from './importFiles.ts';
import { mediaTypeOf } from './overlaySettings.ts';
import { CAMERA_DEFAULTS, LIGHT_DEFAULTS, TEXTURE_DEFAULTS, type ShotDocument } from './shotDocument.ts';

/** Movement over the whole range of the map, of the size of the object. Common practice, no source. */
const SCALE = 0.02;
/** Levels at most, and the length of edges on the picture that they are for, pixels. */
const SUBDIVIDED = { subdivisionLevels: 5, edgeLength: 2 };
const FRAME = { width: 640, height: 480 };
const SMALL = { width: 320, height: 240 };
const ANGLE = 40;
const MARGIN = 1.1;
/** From the middle of the mesh towards the camera, and towards the sun: Y is up. */
const CAMERA_SIDE = [0.5, 0.5, 1];
const SUN_SIDE = [-0.7, 0.8, 0.6];
const PICTURE = /\.(png|jpe?g|tiff?|exr|hdr)$/i;
/** Floating-point maps rest at 0, others in the middle. Common practice, no source. */
const FLOATING = /\.(exr|hdr)$/i;

/** The one picture among the files that the scene does not refer to; null where there is none, or more than one. */
export function looseMap(files: ImportFile[], { surfaces }: Pick<GltfScene, 'surfaces'>): ImportFile | null {
  const used = surfaces.flatMap(({ maps }) => Object.values(maps).flatMap((map) => (map ? [map.bytes] : [])));
  const isSame = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((v, i) => v === b[i]);
  const loose = files.filter(({ bytes, name }) => PICTURE.test(name) && !used.some((other) => isSame(bytes, other))); // prettier-ignore
  return loose.length === 1 ? loose[0] : null;
}

/** Puts the map on all surfaces of a document without a camera, and a camera and a sun before them. @throws InputError */
export async function showMeshWithMap(
  document: ShotDocument,
  blobs: Blobs,
  { bytes, name }: ImportFile,
  notes: Unsupported[],
): Promise<void> {
  const { height, width } = readTexture(bytes, name, PLAIN_SPACE);
  const blob = await addBlob(blobs, bytes, mediaTypeOf(name));
  const id = 'displacement' in document.textures ? 'displacement-map' : 'displacement';
  document.textures[id] = { ...structuredClone(TEXTURE_DEFAULTS), name, blob, width, height, encoding: 'linear' } as ShotDocument['textures'][string]; // prettier-ignore
  const [low, high] = [[Infinity, Infinity, Infinity], [-Infinity, -Infinity, -Infinity]]; // prettier-ignore
  for (const object of Object.values(document.objects)) {
    const { positions } = decodeMesh(blobs.get(document.meshes[object.mesh].blob)!.bytes);
    const own = { low: [Infinity, Infinity, Infinity], high: [-Infinity, -Infinity, -Infinity] };
    for (let v = 0; v < positions.length; v += 3) {
      const raw = [positions[v], positions[v + 1], positions[v + 2]];
      transformPoint(object.transform, raw).forEach((p, k) => {
        low[k] = Math.min(low[k], p);
        high[k] = Math.max(high[k], p);
        own.low[k] = Math.min(own.low[k], raw[k]);
        own.high[k] = Math.max(own.high[k], raw[k]);
      });
    }
    Object.assign(object, SUBDIVIDED);
    const surface = document.surfaces[object.surface];
    const scale = SCALE * Math.hypot(...own.high.map((v, k) => v - own.low[k]));
    surface.maps.displacement = id;
    surface.displacement_scale = Math.max(surface.displacement_scale, Number(scale.toPrecision(2)));
    surface.displacement_neutral = FLOATING.test(name) ? 0 : 0.5;
  }
  const middle = low.map((v, k) => (v + high[k]) / 2);
  document.cameras.camera = { ...CAMERA_DEFAULTS, name: 'camera', kind: 'perspective', verticalAngle: ANGLE, height: 1, transform: lookingFrom(CAMERA_SIDE, middle, distanceFor(low, high)) }; // prettier-ignore
  document.camera = 'camera';
  document.lights.sun = { ...structuredClone(LIGHT_DEFAULTS), name: 'sun', kind: 'sun', angle: 0.53, strength: 1.8, transform: lookingFrom(SUN_SIDE, middle, 0) }; // prettier-ignore
  document.environment.color = [0.2, 0.2, 0.2];
  Object.assign(document.preview, SMALL);
  Object.assign(document.final, FRAME);
  notes.push({
    feature: 'no shot: a mesh and a displacement map',
    place: name,
    effect: `a camera and a sun were put before it, and the map moves it by ${SCALE * 100} % of its size: set scale and neutral value as your shot has them`,
  });
}

/** So far from the middle of a box the whole of it is in the frame, with a margin. */
function distanceFor(low: number[], high: number[]): number {
  const m = lookingFrom(CAMERA_SIDE, [0, 0, 0], 0);
  const slope = Math.tan((ANGLE * Math.PI) / 360);
  const corners = Array.from({ length: 8 }, (_, i) => low.map((v, k) => ((i >> k) & 1 ? 1 : -1) * ((high[k] - v) / 2)));
  const along = (corner: number[], axis: number) => corner.reduce((sum, v, k) => sum + v * m[k * 4 + axis], 0);
  const aspect = FRAME.width / FRAME.height;
  return MARGIN * Math.max(...corners.map((c) => along(c, 2) + Math.max(Math.abs(along(c, 0)) / aspect, Math.abs(along(c, 1))) / slope)); // prettier-ignore
}

/** Rows of 3 x 4: from a side of a place, looking at it along -Z. */
function lookingFrom(side: number[], at: number[], away: number): number[] {
  const back = normalize(side);
  const right = normalize([back[2], 0, -back[0]]);
  const up = [back[1] * right[2] - back[2] * right[1], back[2] * right[0] - back[0] * right[2], back[0] * right[1] - back[1] * right[0]]; // prettier-ignore
  return [0, 1, 2].flatMap((k) => [right[k], up[k], back[k], at[k] + away * back[k]]);
}
