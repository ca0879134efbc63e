// DWAA and DWAB: colours as cosine transforms of 8 x 8 blocks, alpha in runs, everything else deflated. A chunk holds
// eleven 64-bit numbers, rules that say which channels are treated how, and four packed parts.
import { DamagedBlock, joinPlanes, samplesAcross, samplesDown, TYPES, TYPE_BYTES, view, type ExrBlock, type ExrChannel } from './layout.ts'; // prettier-ignore
import { expandRuns, inflateTo, unpackZip, type Unpacking } from './deflate.ts';
import { expandHuffman } from './huffman.ts';
import { fromHalf, fromHalves, toHalf } from '../half.ts';

const HEAD = 88;
const PLAIN = 0;
const COSINES = 1;
const RUNS = 2;
/** Linear light of the stored, nearly even steps: a power of 2.2 up to 1, exponential above. */
const POWER = 2.2;

interface Rule {
  suffix: string;
  scheme: number;
  type: string;
  /** Place in a set of red, green and blue, or -1. */
  color: number;
  anyCase: boolean;
}

/** Rules of the first version of the form, which does not store them. */
const OLD_RULES: Rule[] = [
  ...['r', 'red', 'g', 'grn', 'green', 'b', 'blu', 'blue'].map((suffix) => ({ suffix, scheme: COSINES, type: 'half', color: 'rgb'.indexOf(suffix[0]), anyCase: true })), // prettier-ignore
  ...['y', 'by', 'ry'].map((suffix) => ({ suffix, scheme: COSINES, type: 'half', color: -1, anyCase: true })),
  ...['uint', 'half', 'float'].map((type) => ({ suffix: 'a', scheme: RUNS, type, color: -1, anyCase: true })),
];

export function unpackDwa(packed: Uint8Array, block: ExrBlock, length: number, { inflate }: Unpacking): Uint8Array {
  if (packed.length < HEAD) throw new DamagedBlock('its head is cut off');
  const head = view(packed);
  const [version, plainSize, plainPacked, acPacked, dcPacked, runsPacked, runsSize, runsRaw, acCount, dcCount, acForm] =
    Array.from({ length: 11 }, (_, i) => Number(head.getBigUint64(i * 8, true)));
  if (version > 2) throw new DamagedBlock(`version ${version} of its form is unknown`);
  let at = HEAD;
  let rules = OLD_RULES;
  if (version >= 2) {
    const size = packed.length >= at + 2 ? head.getUint16(at, true) : 0;
    if (size < 2 || at + size > packed.length) throw new DamagedBlock('its rules are cut off');
    rules = readRules(packed.subarray(at + 2, at + size));
    at += size;
  }
  const part = (size: number) => {
    if (!(size >= 0 && at + size <= packed.length)) throw new DamagedBlock('a part of it is cut off');
    at += size;
    return packed.subarray(at - size, at);
  };
  const limit = length * 2 + 65536;
  for (const size of [plainSize, runsSize, runsRaw, acCount, dcCount])
    if (size > limit) throw new DamagedBlock('it claims to hold more than there are pixels');
  const plain = inflateTo(part(plainPacked), plainSize, inflate);
  const acBytes = part(acPacked);
  const ac = acForm === 0 ? expandHuffman(acBytes, acCount) : words(inflateTo(acBytes, acCount * 2, inflate));
  const dc = words(unpackZip(part(dcPacked), dcCount * 2, { inflate, wanted: null }));
  const runs = expandRuns(inflateTo(part(runsPacked), runsSize, inflate), runsRaw);

  const channels = block.channels.map((channel) => classify(channel, rules));
  const planes = new Array<Uint8Array>(channels.length);
  const blocks = new CosineBlocks(ac, dc);
  // sets of red, green and blue come first
  for (const set of colorSets(block.channels, channels)) {
    const sizes = set.map((c) => sizeOf(block.channels[c], block));
    const decoded = blocks.decode(sizes[0].nx, sizes[0].ny, 3, true);
    set.forEach((c, k) => (planes[c] = asType(decoded[k], block.channels[c])));
  }
  let plainAt = 0;
  let runsAt = 0;
  block.channels.forEach((channel, c) => {
    if (planes[c]) return;
    const { nx, ny } = sizeOf(channel, block);
    const bytes = nx * ny * TYPE_BYTES[channel.type];
    const { scheme } = channels[c];
    if (scheme === COSINES) planes[c] = asType(blocks.decode(nx, ny, 1, !channel.linear)[0], channel);
    else if (scheme === RUNS) {
      if (runsAt + bytes > runs.length) throw new DamagedBlock('its runs are too short');
      planes[c] = joinBytes(runs.subarray(runsAt, runsAt + bytes), nx * ny);
      runsAt += bytes;
    } else {
      if (plainAt + bytes > plain.length) throw new DamagedBlock('its plain part is too short');
      planes[c] = plain.subarray(plainAt, plainAt + bytes);
      plainAt += bytes;
    }
  });
  return joinPlanes(block, planes, length);
}

const sizeOf = (c: ExrChannel, block: ExrBlock) => ({ nx: samplesAcross(c, block), ny: samplesDown(c, block) });

function words(bytes: Uint8Array): Uint16Array {
  return new Uint16Array(bytes.slice().buffer);
}

function readRules(bytes: Uint8Array): Rule[] {
  const rules: Rule[] = [];
  for (let at = 0; at < bytes.length;) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 2 >= bytes.length) throw new DamagedBlock('its rules are cut off');
    const value = bytes[end + 1];
    rules.push({
      suffix: new TextDecoder().decode(bytes.subarray(at, end)),
      color: (value >> 4) - 1,
      scheme: (value >> 2) & 3,
      anyCase: (value & 1) === 1,
      type: TYPES[bytes[end + 2]],
    });
    at = end + 3;
  }
  return rules;
}

function classify(channel: ExrChannel, rules: Rule[]): { scheme: number; color: number; prefix: string } {
  const dot = channel.name.lastIndexOf('.');
  const [prefix, suffix] = [channel.name.slice(0, dot + 1), channel.name.slice(dot + 1)];
  const rule = rules.find((r) => r.type === channel.type && (r.anyCase ? r.suffix.toLowerCase() === suffix.toLowerCase() : r.suffix === suffix)); // prettier-ignore
  return { scheme: rule?.scheme ?? PLAIN, color: rule?.color ?? -1, prefix };
}

/** Channels of one prefix that are red, green and blue, of one size. */
function colorSets(channels: ExrChannel[], classes: ReturnType<typeof classify>[]): number[][] {
  const sets = new Map<string, number[]>();
  classes.forEach(({ prefix, color, scheme }, c) => {
    if (scheme !== COSINES || color < 0) return;
    const set = sets.get(prefix) ?? [-1, -1, -1];
    set[color] = c;
    sets.set(prefix, set);
  });
  const same = (a: ExrChannel, b: ExrChannel) => a.xSampling === b.xSampling && a.ySampling === b.ySampling;
  return [...sets.values()].filter((set) => !set.includes(-1) && set.every((c) => same(channels[c], channels[set[0]])));
}

/** Numbers whose bytes stand in planes, the lowest byte's first. */
function joinBytes(planes: Uint8Array, count: number): Uint8Array {
  const out = new Uint8Array(planes.length);
  const bytes = count === 0 ? 0 : planes.length / count;
  for (let b = 0; b < bytes; b++) for (let i = 0; i < count; i++) out[i * bytes + b] = planes[b * count + i];
  return out;
}

/** Halves as they are, or widened to floats. */
function asType(halves: Uint16Array, { type }: ExrChannel): Uint8Array {
  if (type !== 'float') return new Uint8Array(halves.buffer, halves.byteOffset, halves.byteLength);
  return new Uint8Array(fromHalves(halves).buffer);
}

/** Where each of the 64 places of a block stands in the zigzag order of its numbers. */
const ZIGZAG = makeZigzag();
function makeZigzag(): Uint8Array {
  const order = new Uint8Array(64);
  let [x, y] = [0, 0];
  for (let i = 0; i < 64; i++) {
    order[i] = y * 8 + x;
    if ((x + y) % 2 === 0) {
      if (x === 7) y++;
      else if (y === 0) x++;
      else [x, y] = [x + 1, y - 1];
    } else if (y === 7) x++;
    else if (x === 0) y++;
    else [x, y] = [x - 1, y + 1];
  }
  return order;
}

/** Orthonormal cosines: COSINE[frequency * 8 + place]. */
const COSINE = Float64Array.from({ length: 64 }, (_, i) => {
  const [frequency, place] = [i >> 3, i & 7];
  return Math.cos(((2 * place + 1) * frequency * Math.PI) / 16) * (frequency === 0 ? Math.SQRT1_2 : 1) * 0.5;
});

let linear: Uint16Array | null = null;
/** From stored halves to halves of linear light. */
function linearTable(): Uint16Array {
  if (linear) return linear;
  linear = new Uint16Array(65536);
  const above = Math.exp(POWER);
  for (let h = 0; h < 65536; h++) {
    const v = fromHalf(h);
    const size = Math.abs(v);
    if (!Number.isFinite(v)) continue;
    linear[h] = toHalf(Math.sign(v) * (size <= 1 ? size ** POWER : above ** (size - 1)));
  }
  return linear;
}

/** The cosine blocks of one chunk, read channel set by channel set from the two streams of numbers. */
class CosineBlocks {
  private acAt = 0;
  private dcAt = 0;
  constructor(
    private readonly ac: Uint16Array,
    private readonly dc: Uint16Array,
  ) {}

  /** Halves of one channel, or of a set of three that are stored as luminance and two differences. */
  decode(nx: number, ny: number, count: number, toLinear: boolean): Uint16Array[] {
    const [across, down] = [Math.ceil(nx / 8), Math.ceil(ny / 8)];
    const firsts = this.dc.subarray(this.dcAt, this.dcAt + across * down * count);
    if (firsts.length < across * down * count) throw new DamagedBlock('its block means are too few');
    this.dcAt += firsts.length;
    const out = Array.from({ length: count }, () => new Uint16Array(nx * ny));
    const parts = Array.from({ length: count }, () => new Float64Array(64));
    const table = toLinear ? linearTable() : null;
    for (let by = 0; by < down; by++)
      for (let bx = 0; bx < across; bx++) {
        for (let c = 0; c < count; c++) this.readBlock(firsts[c * across * down + by * across + bx], parts[c]);
        if (count === 3) toRgb(parts);
        for (let c = 0; c < count; c++)
          for (let y = 0; y < Math.min(8, ny - by * 8); y++)
            for (let x = 0; x < Math.min(8, nx - bx * 8); x++) {
              const half = toHalf(parts[c][y * 8 + x]);
              out[c][(by * 8 + y) * nx + bx * 8 + x] = table ? table[half] : half;
            }
      }
    return out;
  }

  private readonly frequencies = new Float64Array(64);
  private readonly rows = new Float64Array(64);

  /** One block: runs of zeros are marked by a high byte of ff, ff00 ends it. */
  private readBlock(first: number, into: Float64Array): void {
    const { ac, frequencies, rows } = this;
    frequencies.fill(0);
    frequencies[0] = fromHalf(first);
    let last = 0;
    for (let i = 1; i < 64;) {
      if (this.acAt >= ac.length) throw new DamagedBlock('its blocks are too few');
      const value = ac[this.acAt++];
      if (value === 0xff00) break;
      if (value >> 8 === 0xff) i += value & 0xff;
      else {
        last = i;
        frequencies[ZIGZAG[i++]] = fromHalf(value);
      }
    }
    if (last === 0) {
      into.fill(frequencies[0] / 8);
      return;
    }
    for (let v = 0; v < 8; v++)
      for (let x = 0; x < 8; x++) {
        let sum = 0;
        for (let u = 0; u < 8; u++) sum += frequencies[v * 8 + u] * COSINE[u * 8 + x];
        rows[v * 8 + x] = sum;
      }
    for (let x = 0; x < 8; x++)
      for (let y = 0; y < 8; y++) {
        let sum = 0;
        for (let v = 0; v < 8; v++) sum += rows[v * 8 + x] * COSINE[v * 8 + y];
        into[y * 8 + x] = sum;
      }
  }
}

/** From luminance and colour differences of Rec. 709. */
function toRgb([r, g, b]: Float64Array[]): void {
  for (let i = 0; i < 64; i++) {
    const [y, cb, cr] = [r[i], g[i], b[i]];
    r[i] = y + 1.5747 * cr;
    g[i] = y - 0.1873 * cb - 0.4682 * cr;
    b[i] = y + 1.8556 * cb;
  }
}
