import { Matrix4, Plane, Quaternion, Raycaster, Vector2, Vector3, type PerspectiveCamera } from 'three';
import type { Light } from '@dusting/core/scene';
import { matrixOf } from './modelParts.ts';

/** Degrees that a sun turns by for a pixel. */
const TURN = 0.25;
/** A sun stays below the zenith and above the ground by this much, degrees: turned over it would be another sun. */
const EDGE = 1;
const UP = new Vector3(0, 1, 0);

/** Where a pointer went down and where it is, in pixels of a canvas. */
export interface PointerWay {
  from: { x: number; y: number };
  to: { x: number; y: number };
  width: number;
  height: number;
}

/**
 * The transform of a light that is dragged. One with a place stays under the pointer, in the plane that faces the view; with
 * `upright` it moves up and down alone. A sun has no place: across it turns about the vertical, upwards it rises.
 * @param light as it was when the pointer went down
 */
export function draggedLight(
  light: Pick<Light, 'kind' | 'transform'>,
  way: PointerWay,
  view: PerspectiveCamera,
  upright = false,
): number[] {
  const placed = matrixOf(light.transform);
  const next = light.kind === 'sun' ? turned(placed, way) : moved(placed, way, view, upright);
  const { elements: m } = next;
  // three keeps columns, documents have three rows
  return [0, 1, 2].flatMap((row) => [0, 1, 2, 3].map((column) => Number(m[column * 4 + row].toPrecision(7))));
}

function turned(placed: Matrix4, { from, to }: PointerWay): Matrix4 {
  const back = new Vector3().setFromMatrixColumn(placed, 2).normalize();
  const height = (Math.asin(back.y) * 180) / Math.PI;
  const rises = Math.min(90 - EDGE, Math.max(EDGE, height - TURN * (to.y - from.y))) - height;
  const across = new Quaternion().setFromAxisAngle(UP, (TURN * (to.x - from.x) * Math.PI) / 180);
  const level = new Vector3().crossVectors(UP, back);
  // straight from above every direction is level
  if (level.lengthSq() < 1e-12) level.set(1, 0, 0);
  const up = new Quaternion().setFromAxisAngle(level.normalize(), (-rises * Math.PI) / 180);
  const place = new Vector3().setFromMatrixPosition(placed);
  const rotation = new Matrix4().makeRotationFromQuaternion(across.multiply(up));
  return rotation.multiply(placed).setPosition(place);
}

function moved(placed: Matrix4, { from, height, to, width }: PointerWay, view: PerspectiveCamera, upright: boolean) {
  const place = new Vector3().setFromMatrixPosition(placed);
  const plane = new Plane().setFromNormalAndCoplanarPoint(view.getWorldDirection(new Vector3()), place);
  const caster = new Raycaster();
  const at = ({ x, y }: PointerWay['to']) => {
    caster.setFromCamera(new Vector2((2 * x) / width - 1, 1 - (2 * y) / height), view);
    return caster.ray.intersectPlane(plane, new Vector3());
  };
  const [start, end] = [at(from), at(to)];
  if (!start || !end) return placed;
  const way = end.sub(start);
  if (upright) way.multiply(UP);
  return placed.clone().setPosition(place.add(way));
}
