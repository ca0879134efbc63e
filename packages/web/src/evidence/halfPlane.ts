import { fromBase64 } from '@dusting/core/diagnose';
import { fromHalves } from '@dusting/core/formats';

/** Half-precision floats as evidence has them: little-endian, base64. */
export function halfPlane(halves: string): Float32Array {
  const bytes = fromBase64(halves);
  return fromHalves(new Uint16Array(bytes.buffer));
}
