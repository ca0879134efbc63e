// The Huffman coding of 16-bit values that PIZ and DWA use. Codes are canonical, longer ones have the smaller numbers; the
// greatest symbol stands for a run of the value before it, with its length in the next 8 bits.
import { DamagedBlock, view } from './layout.ts';

export const HUFFMAN = {
  symbols: 65537,
  mostBits: 58,
  longRun: 63, // of absent symbols, its length - 6 in 8 bits
  shortRun: 59, // up to 62: of 2 to 5 absent symbols
  shortest: 6, // long run
};
const { symbols: SYMBOLS, mostBits: MOST_BITS, longRun: LONG_RUN, shortRun: SHORT_RUN } = HUFFMAN;
const FAST = 12; // bits that are looked up at once

/** Reads bits, highest first. */
class Bits {
  private at = 0;
  private held = 0;
  private count = 0;
  constructor(
    private readonly bytes: Uint8Array,
    /** Bits that may still be read. */
    private left: number,
  ) {}
  get bytesRead(): number {
    return this.at;
  }
  get rest(): number {
    return this.left;
  }
  /** The next bits without taking them; zeros beyond the end. @param count up to 16 */
  peek(count: number): number {
    while (this.count < count) {
      this.held = ((this.held << 8) | (this.bytes[this.at++] ?? 0)) & 0xffffffff;
      this.count += 8;
    }
    return (this.held >>> (this.count - count)) & ((1 << count) - 1);
  }
  skip(count: number): void {
    this.count -= count;
    this.left -= count;
    if (this.left < 0) throw new DamagedBlock('the codes end too soon');
    this.held &= (1 << this.count) - 1;
  }
  take(count: number): number {
    const value = this.peek(count);
    this.skip(count);
    return value;
  }
}

/** @returns exactly `count` values */
export function expandHuffman(packed: Uint8Array, count: number): Uint16Array {
  const out = new Uint16Array(count);
  if (packed.length === 0 && count === 0) return out;
  if (packed.length < 20) throw new DamagedBlock('its code table is cut off');
  const head = view(packed);
  const [least, most, bitCount] = [head.getUint32(0, true), head.getUint32(4, true), head.getUint32(12, true)];
  if (least >= SYMBOLS || most >= SYMBOLS || least > most) throw new DamagedBlock('its code table is out of range');
  const tableBits = new Bits(packed.subarray(20), (packed.length - 20) * 8);
  const lengths = readLengths(tableBits, least, most);
  // the table ends at a whole byte; peeking may have gone further
  const tableBytes = Math.ceil(((packed.length - 20) * 8 - tableBits.rest) / 8);
  const data = packed.subarray(20 + tableBytes);
  if (bitCount > data.length * 8) throw new DamagedBlock('its codes are cut off');
  decode(new Bits(data, bitCount), lengths, most, out);
  return out;
}

function readLengths(bits: Bits, least: number, most: number): Uint8Array {
  const lengths = new Uint8Array(SYMBOLS);
  for (let symbol = least; symbol <= most; symbol++) {
    const length = bits.take(6);
    if (length === LONG_RUN) symbol += bits.take(8) + HUFFMAN.shortest - 1;
    else if (length >= SHORT_RUN) symbol += length - SHORT_RUN + 1;
    else lengths[symbol] = length;
    if (symbol > most) throw new DamagedBlock('its code table is too long');
  }
  return lengths;
}

function decode(bits: Bits, lengths: Uint8Array, runSymbol: number, out: Uint16Array): void {
  const counts = new Float64Array(MOST_BITS + 1);
  for (const length of lengths) counts[length]++;
  // first code of each length, and where its symbols stand in the order of codes
  const first = new Float64Array(MOST_BITS + 2);
  let code = 0;
  for (let length = MOST_BITS; length > 0; length--) {
    first[length] = code;
    code = Math.floor((code + counts[length]) / 2);
  }
  const starts = new Int32Array(MOST_BITS + 2);
  for (let length = 1; length <= MOST_BITS; length++) starts[length + 1] = starts[length] + counts[length];
  const symbols = new Int32Array(starts[MOST_BITS + 1]);
  const next = starts.slice();
  for (let symbol = 0; symbol < SYMBOLS; symbol++) if (lengths[symbol] > 0) symbols[next[lengths[symbol]]++] = symbol;
  // short codes at once: symbol * 64 + length, or -1
  const fast = new Int32Array(1 << FAST).fill(-1);
  for (let length = 1; length <= FAST; length++)
    for (let i = 0; i < counts[length]; i++) {
      const from = (first[length] + i) * 2 ** (FAST - length);
      if (from + 2 ** (FAST - length) > fast.length) throw new DamagedBlock('its code table holds too many codes');
      fast.fill(symbols[starts[length] + i] * 64 + length, from, from + 2 ** (FAST - length));
    }

  let to = 0;
  while (to < out.length) {
    let symbol = -1;
    const found = fast[bits.peek(FAST)];
    if (found >= 0) {
      bits.skip(found & 63);
      symbol = found >> 6;
    } else {
      let value = 0;
      for (let length = 1; length <= MOST_BITS; length++) {
        value = value * 2 + bits.take(1);
        const place = value - first[length];
        if (counts[length] > 0 && place >= 0 && place < counts[length]) {
          symbol = symbols[starts[length] + place];
          break;
        }
      }
      if (symbol < 0) throw new DamagedBlock('it holds a code that stands for nothing');
    }
    if (symbol !== runSymbol) out[to++] = symbol;
    else {
      const run = bits.take(8);
      if (to === 0 || to + run > out.length) throw new DamagedBlock('a run of values is too long');
      out.fill(out[to - 1], to, to + run);
      to += run;
    }
  }
}
