// Half-precision floats, IEEE 754 binary16: 1 sign, 5 exponent, 10 fraction bits.
const f32 = new Float32Array(1);
const bits = new Int32Array(f32.buffer);
let table: Float32Array | null = null;

/** To the nearest half, ties to even. Values beyond 65504 become infinite; not-a-number stays so. */
export function toHalf(value: number): number {
  f32[0] = value;
  const x = bits[0];
  const sign = (x >>> 16) & 0x8000;
  const rest = x & 0x7fffffff;
  if (rest >= 0x7f800000) return sign | (rest > 0x7f800000 ? 0x7e00 : 0x7c00);
  if (rest >= 0x477ff000) return sign | 0x7c00; // rounds to 65536 or more
  if (rest >= 0x38800000) return sign | ((rest - 0x38000000 + 0xfff + ((rest >> 13) & 1)) >> 13);
  if (rest < 0x33000000) return sign; // below half of the smallest subnormal
  const shift = 126 - (rest >> 23);
  const fraction = (rest & 0x7fffff) | 0x800000;
  const kept = fraction >> shift;
  const cut = fraction & ((1 << shift) - 1);
  const middle = 1 << (shift - 1);
  return sign | (kept + (cut > middle || (cut === middle && kept & 1) ? 1 : 0));
}

export function fromHalf(half: number): number {
  table ??= makeTable();
  return table[half];
}

// a loop: the from() of typed arrays takes twenty times as long as soon as it is given a function
export function fromHalves(halves: ArrayLike<number>): Float32Array<ArrayBuffer> {
  table ??= makeTable();
  const values = new Float32Array(halves.length);
  for (let i = 0; i < values.length; i++) values[i] = table[halves[i]];
  return values;
}

export function toHalves(values: ArrayLike<number>): Uint16Array<ArrayBuffer> {
  const halves = new Uint16Array(values.length);
  for (let i = 0; i < halves.length; i++) halves[i] = toHalf(values[i]);
  return halves;
}

function makeTable(): Float32Array {
  const values = new Float32Array(65536);
  for (let h = 0; h < 65536; h++) {
    const exponent = (h >> 10) & 31;
    const fraction = h & 1023;
    const size =
      exponent === 0
        ? fraction * 2 ** -24
        : exponent === 31
          ? fraction
            ? NaN
            : Infinity
          : (1024 + fraction) * 2 ** (exponent - 25);
    values[h] = h & 0x8000 ? -size : size;
  }
  return values;
}
