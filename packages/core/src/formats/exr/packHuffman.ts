// Writes what huffman.ts reads.
import { HUFFMAN } from './huffman.ts';

/** Writes bits, highest first. */
class BitWriter {
  private held = 0;
  private count = 0;
  private at = 0;
  constructor(private bytes: Uint8Array) {}
  /** Bits that were written. */
  get length(): number {
    return this.at * 8 + this.count;
  }
  /** @param count up to 58 */
  put(value: number, count: number): void {
    for (let left = count; left > 0;) {
      const take = Math.min(8, left);
      left -= take;
      this.held = (this.held << take) | (Math.floor(value / 2 ** left) & ((1 << take) - 1));
      this.count += take;
      if (this.count >= 8) {
        this.count -= 8;
        if (this.at === this.bytes.length) this.grow();
        this.bytes[this.at++] = this.held >> this.count;
        this.held &= (1 << this.count) - 1;
      }
    }
  }
  /** All that was written, the last byte filled up with zeros. */
  finish(): Uint8Array {
    if (this.count === 0) return this.bytes.subarray(0, this.at);
    if (this.at === this.bytes.length) this.grow();
    this.bytes[this.at] = this.held << (8 - this.count);
    return this.bytes.subarray(0, this.at + 1);
  }
  private grow(): void {
    const larger = new Uint8Array(this.bytes.length * 2);
    larger.set(this.bytes);
    this.bytes = larger;
  }
}

export function packHuffman(values: Uint16Array): Uint8Array {
  if (values.length === 0) return new Uint8Array(0);
  const frequencies = new Uint32Array(HUFFMAN.symbols);
  for (const v of values) frequencies[v]++;
  const least = frequencies.findIndex((n) => n > 0);
  let most = HUFFMAN.symbols - 1;
  while (frequencies[most] === 0) most--;
  const runSymbol = ++most;
  frequencies[runSymbol] = 1;
  const lengths = codeLengths(frequencies);
  const codes = canonicalCodes(lengths);

  const table = new BitWriter(new Uint8Array(1024));
  writeLengths(table, lengths, least, most);
  const tableBytes = table.finish();
  const data = new BitWriter(new Uint8Array(values.length + 16));
  for (let i = 0; i < values.length;) {
    const v = values[i];
    let run = 1;
    while (run < 256 && i + run < values.length && values[i + run] === v) run++;
    i += run;
    data.put(codes[v], lengths[v]);
    if (lengths[runSymbol] + 8 < lengths[v] * (run - 1)) {
      data.put(codes[runSymbol], lengths[runSymbol]);
      data.put(run - 1, 8);
    } else for (let k = 1; k < run; k++) data.put(codes[v], lengths[v]);
  }
  const bits = data.length;
  const dataBytes = data.finish();
  const out = new Uint8Array(20 + tableBytes.length + dataBytes.length);
  const head = new DataView(out.buffer);
  [least, most, tableBytes.length, bits, 0].forEach((v, i) => head.setUint32(i * 4, v, true));
  out.set(tableBytes, 20);
  out.set(dataBytes, 20 + tableBytes.length);
  return out;
}

/** Lengths of a Huffman code by two queues: single symbols, lightest first, and joined ones, which come in order. */
function codeLengths(frequencies: Uint32Array): Uint8Array {
  const symbols = [...frequencies.keys()].filter((s) => frequencies[s] > 0).sort((a, b) => frequencies[a] - frequencies[b]); // prettier-ignore
  const count = symbols.length;
  const weight = new Float64Array(2 * count);
  const parent = new Int32Array(2 * count);
  symbols.forEach((s, i) => (weight[i] = frequencies[s]));
  let [single, joined] = [0, count];
  let next = count;
  const lightest = () => (single < count && (joined >= next || weight[single] <= weight[joined]) ? single++ : joined++);
  for (; next < 2 * count - 1; next++) {
    const [a, b] = [lightest(), lightest()];
    weight[next] = weight[a] + weight[b];
    parent[a] = parent[b] = next;
  }
  const depth = new Uint8Array(2 * count);
  for (let i = next - 2; i >= 0; i--) depth[i] = depth[parent[i]] + 1;
  const lengths = new Uint8Array(frequencies.length);
  symbols.forEach((s, i) => (lengths[s] = Math.max(1, depth[i])));
  return lengths;
}

/** Codes in the order of the symbols; longer ones have the smaller numbers. */
function canonicalCodes(lengths: Uint8Array): Float64Array {
  const counts = new Float64Array(HUFFMAN.mostBits + 1);
  for (const length of lengths) if (length > 0) counts[length]++;
  const next = new Float64Array(HUFFMAN.mostBits + 1);
  let code = 0;
  for (let length = HUFFMAN.mostBits; length > 0; length--) {
    next[length] = code;
    code = Math.floor((code + counts[length]) / 2);
  }
  return Float64Array.from(lengths, (length) => (length > 0 ? next[length]++ : 0));
}

function writeLengths(bits: BitWriter, lengths: Uint8Array, least: number, most: number): void {
  for (let symbol = least; symbol <= most; symbol++) {
    if (lengths[symbol] > 0) {
      bits.put(lengths[symbol], 6);
      continue;
    }
    let run = 1;
    while (run < HUFFMAN.shortest + 255 && symbol + run <= most && lengths[symbol + run] === 0) run++;
    if (run >= HUFFMAN.shortest) {
      bits.put(HUFFMAN.longRun, 6);
      bits.put(run - HUFFMAN.shortest, 8);
    } else if (run >= 2) bits.put(HUFFMAN.shortRun + run - 2, 6);
    else bits.put(0, 6);
    symbol += run - 1;
  }
}
