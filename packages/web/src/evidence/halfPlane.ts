import { fromHalf } from '@dusting/core/formats';

/** Half-precision floats as evidence has them: little-endian, base64. */
export function halfPlane(halves: string): Float32Array {
  const bytes = Uint8Array.from(atob(halves), (c) => c.charCodeAt(0));
  return Float32Array.from(new Uint16Array(bytes.buffer), fromHalf);
}
