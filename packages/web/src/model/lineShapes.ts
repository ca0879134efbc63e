// Lights and cameras as lines.
import { BufferGeometry, Float32BufferAttribute } from 'three';
import type { Camera, Light } from '@dusting/core/scene';

type Point = [number, number, number];
const STEPS = 48;

function linesOf(points: Point[][]): BufferGeometry {
  const flat = points.flatMap((line) => line.slice(1).flatMap((p, i) => [...line[i], ...p]));
  return new BufferGeometry().setAttribute('position', new Float32BufferAttribute(flat, 3));
}

/** A circle about an axis: 0 x, 1 y, 2 z. */
function circle(radius: number, axis: number, along = 0): Point[] {
  return Array.from({ length: STEPS + 1 }, (_, i) => {
    const t = (2 * Math.PI * i) / STEPS;
    const point: Point = [0, 0, 0];
    point[(axis + 1) % 3] = radius * Math.cos(t);
    point[(axis + 2) % 3] = radius * Math.sin(t);
    point[axis] = along;
    return point;
  });
}
const ball = (radius: number) => [0, 1, 2].map((axis) => circle(radius, axis));
const rectangle = (w: number, h: number, z = 0): Point[] => [[-w / 2, -h / 2, z], [w / 2, -h / 2, z], [w / 2, h / 2, z], [-w / 2, h / 2, z], [-w / 2, -h / 2, z]]; // prettier-ignore

/**
 * The shape of a light in its own space, where it shines along -Z, and as far as its reach.
 * @param size metres: how large what has no size of its own is drawn
 */
export function lightShape(light: Light, size: number): BufferGeometry {
  const { kind, width = 1, height = 1, radius = 0, outerCone = 45, reach } = light;
  const arrow = (length: number, x = 0, y = 0): Point[][] => [
    [[x, y, 0], [x, y, -length]],
    [[x - length / 12, y, -length * 0.85], [x, y, -length], [x + length / 12, y, -length * 0.85]],
  ]; // prettier-ignore
  const cross: Point[][] = [0, 1, 2].map((k) => [-1, 1].map((s) => [0, 0, 0].map((_, i) => (i === k ? s * size * 0.5 : 0)) as Point)); // prettier-ignore
  const spread = Math.tan((Math.min(outerCone, 85) * Math.PI) / 180);
  const shapes: Record<Light['kind'], () => Point[][]> = {
    point: () => cross,
    sphere: () => ball(radius),
    disc: () => [circle(radius, 2), ...arrow(size * 2)],
    rectangle: () => [rectangle(width, height), ...arrow(size * 2)],
    spot: () => [
      ...cross,
      circle(spread * size * 3, 2, -size * 3),
      ...[0, 1, 2, 3].map((i): Point[] => [[0, 0, 0], circle(spread * size * 3, 2, -size * 3)[(i * STEPS) / 4]]),
    ],
    sun: () => [[-1, -1], [1, -1], [0, 0], [-1, 1], [1, 1]].flatMap(([x, y]) => arrow(size * 3, x * size * 0.6, y * size * 0.6)), // prettier-ignore
  };
  return linesOf([...shapes[kind](), ...(reach > 0 ? ball(reach) : [])]);
}

/** The pyramid that a camera sees, in its own space; near and far clip as crossed rectangles, the plane of focus as one. */
export function cameraShape(camera: Camera, aspect: number, depth: number): BufferGeometry {
  const { kind, verticalAngle, height, near, far, apertureRadius, focusDistance } = camera;
  const at = (z: number): Point[] => {
    const h = kind === 'perspective' ? 2 * z * Math.tan((verticalAngle * Math.PI) / 360) : height;
    return rectangle(h * aspect, h, -z);
  };
  const end = far > 0 ? far : depth;
  const start = kind === 'perspective' ? ([0, 0, 0] as Point) : null;
  const corners = at(end).slice(0, 4).map((corner, i): Point[] => [start ?? at(near)[i], corner]); // prettier-ignore
  const cross = (z: number): Point[][] => [[at(z)[0], at(z)[2]], [at(z)[1], at(z)[3]]]; // prettier-ignore
  return linesOf([
    ...corners,
    ...(apertureRadius > 0 ? [at(focusDistance), circle(apertureRadius, 2)] : []),
    ...(near > 0 ? [at(near), ...cross(near)] : []),
    ...(far > 0 ? [at(far), ...cross(far)] : [at(depth)]),
  ]);
}
