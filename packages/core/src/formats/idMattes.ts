// ID mattes by the open specification of hashed names (Friedman & Jones 2015, "Fully automatic ID mattes with support for
// motion blur and transparency", and its public specification 1.2): each pixel holds pairs of an id and the share of the
// pixel that it covers, the largest first; an id is a hash of a name, kept as a float.
import type { Picture } from '../image/index.ts';

const ATTRIBUTE = 'cryptomatte';
const SEED = 0;

/** MurmurHash3, x86, 32 bits (Appleby, public domain), of the UTF-8 bytes of a text. */
export function murmurHash3(text: string): number {
  const bytes = new TextEncoder().encode(text);
  const mix = (k: number) => Math.imul(rotate(Math.imul(k, 0xcc9e2d51), 15), 0x1b873593);
  let h = SEED;
  const whole = bytes.length & ~3;
  for (let i = 0; i < whole; i += 4) {
    h ^= mix(bytes[i] | (bytes[i + 1] << 8) | (bytes[i + 2] << 16) | (bytes[i + 3] << 24));
    h = (Math.imul(rotate(h, 13), 5) + 0xe6546b64) | 0;
  }
  let tail = 0;
  for (let i = bytes.length - 1; i >= whole; i--) tail = (tail << 8) | bytes[i];
  if (bytes.length > whole) h ^= mix(tail);
  h ^= bytes.length;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
const rotate = (v: number, by: number) => (v << by) | (v >>> (32 - by));

const bits = new Uint32Array(1);
const float = new Float32Array(bits.buffer);

/** Hash of a name as the bits of a float that is a plain number: of the exponents 0 and 255 the lowest bit is turned. */
export function idOfName(name: string): number {
  let hash = murmurHash3(name);
  const exponent = (hash >>> 23) & 255;
  if (exponent === 0 || exponent === 255) hash = (hash ^ (1 << 23)) >>> 0;
  bits[0] = hash;
  return float[0];
}
function hexOf(id: number): string {
  float[0] = id;
  return bits[0].toString(16).padStart(8, '0');
}
function idOfHex(hex: string): number {
  bits[0] = parseInt(hex, 16);
  return float[0];
}

export interface IdMattes {
  /** Such as "objects". */
  name: string;
  /** Ids by name. */
  ids: Map<string, number>;
  /** The largest share first. */
  ranks: { id: Float32Array; coverage: Float32Array }[];
}

/** The text attributes that name the ids of mattes: their channels are `NAME00.R`, `.G`, `.B`, `.A`, `NAME01.R` ... in pairs. */
export function matteMetadata(name: string, names: string[]): Record<string, string> {
  const key = `${ATTRIBUTE}/${murmurHash3(name).toString(16).padStart(8, '0').slice(0, 7)}`;
  return {
    [`${key}/name`]: name,
    [`${key}/hash`]: 'MurmurHash3_32',
    [`${key}/conversion`]: 'uint32_to_float32',
    [`${key}/manifest`]: JSON.stringify(Object.fromEntries(names.map((n) => [n, hexOf(idOfName(n))]))),
  };
}

/** The mattes of a picture; names whose list is missing or cannot be read have their ids alone, and are left out. */
export function readIdMattes(picture: Pick<Picture, 'channels' | 'metadata'>): IdMattes[] {
  const { metadata } = picture;
  const plane = (name: string) => picture.channels.find((c) => c.name === name)?.data;
  return Object.keys(metadata).flatMap((key) => {
    const found = new RegExp(`^${ATTRIBUTE}/([^/]+)/name$`).exec(key);
    if (!found) return [];
    const name = metadata[key];
    const ranks: IdMattes['ranks'] = [];
    for (let rank = 0; ; rank++) {
      const layer = `${name}${String(rank >> 1).padStart(2, '0')}`;
      const [first, second] = rank & 1 ? 'BA' : 'RG';
      const [id, coverage] = [plane(`${layer}.${first}`), plane(`${layer}.${second}`)];
      if (!id || !coverage) break;
      ranks.push({ id, coverage });
    }
    const ids = readManifest(metadata[`${ATTRIBUTE}/${found[1]}/manifest`]);
    return ids.size > 0 && ranks.length > 0 ? [{ name, ids, ranks }] : [];
  });
}

/** Layers that hold ids and shares: not to be looked at, and found again by their names. */
export function matteLayers(picture: Pick<Picture, 'channels' | 'metadata'>): string[] {
  return readIdMattes(picture).flatMap(({ name, ranks }) =>
    Array.from({ length: (ranks.length + 1) >> 1 }, (_, i) => `${name}${String(i).padStart(2, '0')}`),
  );
}

function readManifest(text: string | undefined): Map<string, number> {
  let list: unknown;
  try {
    list = JSON.parse(text ?? '');
  } catch {
    return new Map();
  }
  if (typeof list !== 'object' || list === null) return new Map();
  const entries = Object.entries(list).filter(([, hex]) => typeof hex === 'string' && /^[0-9a-f]{1,8}$/i.test(hex));
  return new Map(entries.map(([n, hex]) => [n, idOfHex(hex)]));
}

/** Share of each pixel that a name covers, 0..1. */
export function matteOf({ ids, ranks }: IdMattes, name: string): Float32Array {
  const id = ids.get(name);
  const out = new Float32Array(ranks[0].id.length);
  if (id === undefined) return out;
  for (const rank of ranks) for (let i = 0; i < out.length; i++) if (rank.id[i] === id) out[i] += rank.coverage[i];
  return out;
}

/** Names that cover a pixel with their shares, the largest first. */
export function namesAt({ ids, ranks }: IdMattes, pixel: number): { name: string; share: number }[] {
  const names = new Map([...ids].map(([name, id]) => [id, name]));
  return ranks
    .map((rank) => ({ name: names.get(rank.id[pixel]) ?? '', share: rank.coverage[pixel] }))
    .filter(({ name, share }) => name !== '' && share > 0);
}
