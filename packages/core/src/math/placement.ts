import { determinant, type Affine } from './matrix.ts';

/** How something stands: degrees about Y, then X, then Z of itself, and its size along its own axes. */
export interface Placement {
  position: [number, number, number];
  heading: number;
  pitch: number;
  roll: number;
  /** The first is below 0 where it is mirrored. */
  scale: [number, number, number];
}

const DEGREES = 180 / Math.PI;

/** Of a transform without shear; with it, what comes nearest in its columns. */
export function placementOf(a: Affine): Placement {
  const scale = [0, 1, 2].map((k) => Math.hypot(a[k], a[4 + k], a[8 + k])) as Placement['scale'];
  if (determinant(a) < 0) scale[0] = -scale[0];
  const r = (row: number, column: number) => a[row * 4 + column] / scale[column];
  const pitch = Math.asin(Math.max(-1, Math.min(1, -r(1, 2))));
  // straight up or down, heading and roll are one: it is called heading
  const locked = Math.abs(r(1, 2)) > 1 - 1e-9;
  const heading = locked ? Math.atan2(-r(2, 0), r(0, 0)) : Math.atan2(r(0, 2), r(2, 2));
  const roll = locked ? 0 : Math.atan2(r(1, 0), r(1, 1));
  return { position: [a[3], a[7], a[11]], heading: heading * DEGREES, pitch: pitch * DEGREES, roll: roll * DEGREES, scale }; // prettier-ignore
}

export function transformFrom({ position, heading, pitch, roll, scale }: Placement): number[] {
  const [ch, sh] = [Math.cos(heading / DEGREES), Math.sin(heading / DEGREES)];
  const [cp, sp] = [Math.cos(pitch / DEGREES), Math.sin(pitch / DEGREES)];
  const [cr, sr] = [Math.cos(roll / DEGREES), Math.sin(roll / DEGREES)];
  const rows = [
    [ch * cr + sh * sp * sr, -ch * sr + sh * sp * cr, sh * cp],
    [cp * sr, cp * cr, -sp],
    [-sh * cr + ch * sp * sr, sh * sr + ch * sp * cr, ch * cp],
  ];
  return rows.flatMap((row, i) => [...row.map((v, k) => v * scale[k]), position[i]]);
}
