import type { Light } from './shotDocument.ts';

/**
 * Width of the soft edge of a shadow, metres: by similar triangles between light, edge and surface. Of a rectangle its
 * longer side counts.
 * @param toEdge metres from the light to the edge that throws the shadow
 * @param behind metres from the edge to the surface behind it
 */
export function penumbra(light: Light, toEdge: number, behind: number): number {
  if (light.kind === 'sun') return 2 * Math.tan((((light.angle ?? 0) / 2) * Math.PI) / 180) * behind;
  return (lightSize(light) * behind) / toEdge;
}

/** Metres across; 0 for lights without a size. */
export function lightSize({ kind, width = 0, height = 0, radius = 0 }: Light): number {
  if (kind === 'rectangle') return Math.max(width, height);
  return kind === 'sphere' || kind === 'disc' ? 2 * radius : 0;
}
