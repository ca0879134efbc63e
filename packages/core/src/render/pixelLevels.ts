// How finely objects are subdivided that ask for edges of so many pixels.
//
// All faces of an object get one level: between faces of different levels edges would part as soon as a map moves them, or need
// faces of their own that close them. It is the level at which 95 % of the edges in the frame are short enough, from the mesh as
// it came: each level halves them.
import type { MeshData } from '../formats/index.ts';
import { quantile } from '../math/index.ts';
import type { RenderSettings, SceneObject, ShotDocument } from '../scene/index.ts';
import { CAMERA, fillCamera } from './camera.ts';

/** Share of the edges that are short enough. */
const SHORT = 0.95;
/** Triangles that are looked at. */
const LOOKS = 20_000;

/** The document with the levels that edges of so many pixels take; itself where no object asks for that. @param meshOf by id of an object */
export function withPixelLevels(
  document: ShotDocument,
  settings: Pick<RenderSettings, 'width' | 'height'>,
  meshOf: (id: string) => MeshData,
): ShotDocument {
  const asking = Object.entries(document.objects).filter(([, object]) => asksPixels(object));
  if (asking.length === 0) return document;
  const camera = new Float64Array(CAMERA.stride);
  fillCamera(camera, document.cameras[document.camera], settings);
  const levels = asking.map(([id, object]) => [id, { ...object, subdivisionLevels: pixelLevel(meshOf(id), object, camera) }]); // prettier-ignore
  return { ...document, objects: { ...document.objects, ...Object.fromEntries(levels) } };
}

/** Whether its level hangs on how large it is seen. */
export const asksPixels = ({ edgeLength, subdivisionLevels }: SceneObject): boolean => edgeLength > 0 && subdivisionLevels > 0; // prettier-ignore

/** @param camera row of CAMERA @returns no more than the levels of the object */
export function pixelLevel(
  { indices, positions }: MeshData,
  { edgeLength, subdivisionLevels, transform: m }: SceneObject,
  camera: Float64Array,
): number {
  const step = Math.max(1, Math.ceil(indices.length / 3 / LOOKS));
  const [inFrame, ahead]: [number[], number[]] = [[], []];
  const place = (vertex: number) => {
    const [x, y, z] = [positions[vertex * 3], positions[vertex * 3 + 1], positions[vertex * 3 + 2]];
    const p = [0, 1, 2].map((k) => m[k * 4] * x + m[k * 4 + 1] * y + m[k * 4 + 2] * z + m[k * 4 + 3]);
    const along = (at: number) => p.reduce((sum, v, k) => sum + (v - camera[CAMERA.position + k]) * camera[at + k], 0);
    const depth = along(CAMERA.forward);
    const far = camera[CAMERA.orthographic] ? 1 : depth;
    const isInside = depth > 0 && Math.abs(along(CAMERA.right)) <= far * camera[CAMERA.halfWidth] && Math.abs(along(CAMERA.up)) <= far * camera[CAMERA.halfHeight]; // prettier-ignore
    return { p, depth, far, isInside };
  };
  for (let t = 0; t < indices.length / 3; t += step) {
    const corners = [0, 1, 2].map((k) => place(indices[t * 3 + k]));
    const edges = corners.map((a, k) => {
      const b = corners[(k + 1) % 3];
      return { a, b, length: Math.hypot(...a.p.map((v, i) => v - b.p[i])) };
    });
    // the longest is the diagonal of a face with four corners
    for (const { a, b, length } of edges.sort((x, y) => x.length - y.length).slice(0, 2)) {
      if (!(a.depth > 0 && b.depth > 0)) continue;
      const pixels = length / (Math.min(a.far, b.far) * camera[CAMERA.pixel]);
      ahead.push(pixels);
      if (a.isInside || b.isInside) inFrame.push(pixels);
    }
  }
  const seen = inFrame.length > 0 ? inFrame : ahead;
  if (seen.length === 0) return 0;
  return Math.max(0, Math.min(subdivisionLevels, Math.ceil(Math.log2(quantile(seen, SHORT) / edgeLength))));
}
