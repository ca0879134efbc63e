import { BufferAttribute, BufferGeometry, Group, Line, LineBasicMaterial, LineDashedMaterial, Points, PointsMaterial } from 'three'; // prettier-ignore
import type { Ray } from '@dusting/core/diagnose';

const YELLOW = 0xf0e442;
const SHADE = 0x7f8794;
const STOP = 0xe8743c;
/** Sky blue of Okabe & Ito 2008. */
const RANGE = 0x56b4e9;

const geometryOf = (points: number[][]) => new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(points.flat()), 3)); // prettier-ignore
function dots(points: number[][], color: number, size: number): Points {
  return new Points(geometryOf(points), new PointsMaterial({ color, size, sizeAttenuation: false, depthTest: false, transparent: true })); // prettier-ignore
}

/** A light path as a line with a dot at each vertex. Nothing hides it. */
export function lightPath(positions: number[][]): Group {
  const corners = positions.filter((p) => p.length === 3);
  const group = new Group();
  group.add(new Line(geometryOf(corners), new LineBasicMaterial({ color: YELLOW, depthTest: false, transparent: true })), dots(corners, YELLOW, 7)); // prettier-ignore
  group.renderOrder = 10;
  return group;
}

/** Places as dots with a dark rim. Nothing hides them. */
export function markedPlaces(places: number[][]): Group {
  const group = new Group();
  group.add(dots(places, 0x1b1b1b, 15), dots(places, STOP, 11));
  group.renderOrder = 12;
  return group;
}

/** A ray up to what stops it, with a dot there, and in dashes beyond; a range of its shadows with dots at both ends. Nothing hides it. */
export function shadowRay({ points, range, stop }: Ray): Group {
  const group = new Group();
  const [from, to] = [points[0], points.at(-1)!];
  group.add(new Line(geometryOf([from, stop ?? to]), new LineBasicMaterial({ color: YELLOW, depthTest: false, transparent: true })), dots([from], YELLOW, 6)); // prettier-ignore
  if (stop) {
    const length = Math.hypot(...to.map((v, k) => v - stop[k]));
    const dashed = new Line(geometryOf([stop, to]), new LineDashedMaterial({ color: SHADE, depthTest: false, transparent: true, dashSize: length / 40, gapSize: length / 40 })); // prettier-ignore
    dashed.computeLineDistances();
    group.add(dashed, dots([stop], STOP, 8));
  }
  if (range) group.add(new Line(geometryOf(range), new LineBasicMaterial({ color: RANGE, depthTest: false, transparent: true })), dots(range, RANGE, 8)); // prettier-ignore
  // a range lies on its ray, and on those beside it
  group.renderOrder = range ? 11 : 10;
  return group;
}
