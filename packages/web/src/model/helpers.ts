// What stands in the model besides its objects: lights, cameras and the ground.
import { GridHelper, Vector3, type Box3, type LineSegments } from 'three';
import { sameContent, type ContentRef, type ShotDocument } from '@dusting/core/scene';
import { cameraShape, lightShape } from './lineShapes.ts';
import { LINES } from './looks.ts';
import { linesAt, matrixOf } from './modelParts.ts';

export interface Helper {
  of: ContentRef;
  lines: LineSegments;
}
/** Cells of the ground in one direction, at most. */
const MOST_CELLS = 100;

/**
 * @param size metres from corner to corner of the scene: how large what has no size of its own is drawn
 * @param through the shot is looked at through its camera, which is not drawn then
 */
export function helpersOf(document: ShotDocument, selection: ContentRef[], size: number, through: boolean): Helper[] {
  const { lights, cameras, camera: shown, final } = document;
  const lookOf = (of: ContentRef) => (selection.some((ref) => sameContent(ref, of)) ? LINES.chosen : LINES.plain);
  const place = (of: ContentRef, shape: ReturnType<typeof lightShape>, transform: number[]): Helper => ({ of, lines: linesAt(shape, lookOf(of), matrixOf(transform)) }); // prettier-ignore
  const ofLights = Object.entries(lights).map(([id, light]) => place({ kind: 'light', id }, lightShape(light, size / 25), light.transform)); // prettier-ignore
  const seen = Object.entries(cameras).filter(([id]) => !(through && id === shown));
  const aspect = final.width / final.height;
  const ofCameras = seen.map(([id, camera]) => place({ kind: 'camera', id }, cameraShape(camera, aspect, size / 4), camera.transform)); // prettier-ignore
  return [...ofLights, ...ofCameras];
}

/** The ground about a place under the scene, in cells of so many metres; where the scene floats a little, at height 0. */
export function groundGrid(step: number, whole: Box3, about: Vector3): GridHelper {
  const size = whole.getSize(new Vector3()).length() || 1;
  const low = whole.isEmpty() ? 0 : whole.min.y;
  const cells = Math.min(MOST_CELLS, 2 * Math.ceil(size / step / 2));
  const grid = new GridHelper(cells * step, cells, 0x6e6e6e, 0x484848);
  grid.position.set(Math.round(about.x / step) * step, low < 0 || low > size ? low : 0, Math.round(about.z / step) * step); // prettier-ignore
  return grid;
}
