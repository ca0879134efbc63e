/** Integer finalizer with low bias, "lowbias32" (Wellons 2018, hash prospector). Takes and returns 32 bits. */
export function hash32(x: number): number {
  x ^= x >>> 16;
  x = Math.imul(x, 0x7feb352d);
  x ^= x >>> 15;
  x = Math.imul(x, 0x846ca68b);
  return x ^ (x >>> 16);
}

/** Mixes a second 32-bit word into a hash. Not symmetric: (a, b) and (b, a) differ. */
export function hashPair(a: number, b: number): number {
  return hash32(Math.imul(a, 0x9e3779b1) ^ hash32(b + 0x85ebca6b));
}

/** A number in [0, 1) that is a pure function of its key. */
export function hashUnit(key: number): number {
  return (hash32(key) >>> 0) * 2 ** -32;
}
