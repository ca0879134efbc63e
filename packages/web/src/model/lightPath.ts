import { BufferAttribute, BufferGeometry, Group, Line, LineBasicMaterial, Points, PointsMaterial } from 'three';

/** A light path as a line with a dot at each vertex. Neither is hidden by what stands before it. */
export function lightPath(positions: number[][]): Group {
  const corners = positions.filter((p) => p.length === 3).flat();
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(corners), 3));
  const look = { color: 0xf0e442, depthTest: false, transparent: true };
  const group = new Group();
  group.add(new Line(geometry, new LineBasicMaterial(look)), new Points(geometry, new PointsMaterial({ ...look, size: 7, sizeAttenuation: false }))); // prettier-ignore
  group.renderOrder = 10;
  return group;
}
