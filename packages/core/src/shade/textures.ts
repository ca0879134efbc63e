// All textures of a scene in one array of texels, with mip levels: each is half the size of the one before, down to 1.
// table, int32: // 0 first texel, 1 width, 2 height, 3 wrap of u, 4 wrap of v (0 repeat, 1 mirror, 2 clamp),
//               // 5 filter (0 nearest, 1 bilinear, 2 mip), 6 levels, 7 UV set, 8 first number in placements,
//               // 9 its first tile in tiles, or -1. The tiles of a texture have entries of their own behind all textures.
// placements, f64: // 6 numbers a texture, from UV to texture coordinates: 0..2 u row, 3..5 v row
// tiles, int32: // 100 numbers a tiled texture: the entry of tile 1001 + i, or -1
import type { TextureRef } from '../scene/index.ts';
import type { MakeBuffer } from '../trace/index.ts';
import type { TexturePicture } from '../formats/index.ts';

const STRIDE = 10;
/** Tiles of a texture: ten across, ten up. */
const MOST_TILES = 100;
const WRAPS = ['repeat', 'mirror', 'clamp'] as const;
const FILTERS = ['nearest', 'bilinear', 'mip'] as const;

export interface TextureStore {
  table: Int32Array;
  placements: Float64Array;
  tiles: Int32Array;
  /** Linear RGBA. */
  texels: Float32Array;
  /** Texels that the narrowest look-up of each entry stood for, so far: Infinity before the first. */
  narrowest: Float32Array;
}

/** One texture: its picture, or the pictures of its tiles in the order of the reference. */
export interface TextureSource {
  ref: TextureRef;
  pictures: TexturePicture[];
}

export function buildTextures(sources: TextureSource[], makeBuffer: MakeBuffer): TextureStore {
  const entries = [
    ...sources.map(({ ref, pictures }) => ({ ref, picture: pictures[0] })),
    ...sources.flatMap(({ ref, pictures }) =>
      (ref.tiles.length > 0 ? pictures : []).map((picture) => ({ ref, picture })),
    ),
  ];
  const sizes = entries.map(({ ref, picture }, i) =>
    i < sources.length && ref.tiles.length > 0 ? [] : levelSizes(picture.width, picture.height, ref.filter === 'mip'),
  );
  const count = sizes.flat().reduce((sum, [w, h]) => sum + w * h, 0);
  const table = new Int32Array(makeBuffer(entries.length * STRIDE * 4));
  const placements = new Float64Array(makeBuffer(entries.length * 48));
  const tiled = sources.filter(({ ref }) => ref.tiles.length > 0);
  const tiles = new Int32Array(makeBuffer(tiled.length * MOST_TILES * 4)).fill(-1);
  const texels = new Float32Array(makeBuffer(count * 16));
  let first = 0;
  entries.forEach(({ ref, picture: { width, height, texels: source } }, i) => {
    const isTile = i >= sources.length;
    const firstTile = isTile || ref.tiles.length === 0 ? -1 : tiled.indexOf(sources[i]) * MOST_TILES;
    table.set([first, width, height, 0, 0, 0, sizes[i].length, 0, i * 6, firstTile], i * STRIDE);
    placeEntry(table, placements, i, ref, isTile);
    if (sizes[i].length === 0) return;
    texels.set(source, first * 4);
    for (const [w, h] of sizes[i].slice(0, -1)) {
      halve(texels, first, w, h);
      first += w * h;
    }
    const [w, h] = sizes[i][sizes[i].length - 1];
    first += w * h;
  });
  let entry = sources.length;
  tiled.forEach(({ ref }, t) => ref.tiles.forEach(({ number }) => (tiles[t * MOST_TILES + number - 1001] = entry++)));
  const narrowest = new Float32Array(makeBuffer(entries.length * 4)).fill(Infinity);
  return { table, placements, tiles, texels, narrowest };
}

/** What of an entry does not depend on its texels. Tiles are placed by the texture that they belong to. */
function placeEntry(
  table: Int32Array,
  placements: Float64Array,
  entry: number,
  ref: TextureRef,
  isTile: boolean,
): void {
  const { wrapU, wrapV, filter, uvSet } = ref;
  const at = entry * STRIDE;
  table[at + 3] = isTile ? 2 : WRAPS.indexOf(wrapU);
  table[at + 4] = isTile ? 2 : WRAPS.indexOf(wrapV);
  table[at + 5] = FILTERS.indexOf(filter);
  table[at + 7] = uvSet;
  placements.set(isTile ? [1, 0, 0, 0, 1, 0] : placementOf(ref), entry * 6);
}

/** From UV to texture coordinates (KHR_texture_transform: scaled, rotated, then moved). // 0..2 u row, 3..5 v row */
export function placementOf({ offset, rotation, scale }: Pick<TextureRef, 'offset' | 'rotation' | 'scale'>): number[] {
  const [c, s] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  return [scale[0] * c, scale[1] * s, offset[0], -scale[0] * s, scale[1] * c, offset[1]];
}

/** What the texels of a texture depend on: while it stays, they do. */
export function texelsKey({ blob, tiles, blend, encoding, padding, primaries, alpha, filter }: TextureRef): unknown {
  return [blob, tiles, blend, encoding, padding, primaries, alpha, filter === 'mip'];
}

/** The same texels, lying otherwise on the surfaces: textures of the same keys, in the same order. */
export function placeTextures(store: TextureStore, refs: TextureRef[], makeBuffer: MakeBuffer): TextureStore {
  const table = new Int32Array(makeBuffer(store.table.byteLength));
  const placements = new Float64Array(makeBuffer(store.placements.byteLength));
  table.set(store.table);
  const entries = [...refs, ...refs.flatMap((ref) => ref.tiles.map(() => ref))];
  entries.forEach((ref, i) => placeEntry(table, placements, i, ref, i >= refs.length));
  const narrowest = new Float32Array(makeBuffer(store.narrowest.byteLength)).fill(Infinity);
  return { ...store, table, placements, narrowest };
}

function levelSizes(width: number, height: number, mip: boolean): [number, number][] {
  const sizes: [number, number][] = [[width, height]];
  while (mip && (width > 1 || height > 1))
    sizes.push([(width = Math.max(1, width >> 1)), (height = Math.max(1, height >> 1))]);
  return sizes;
}

/** Means over the texels that each texel of the next level covers; odd sizes weigh the middle ones by their share. */
function halve(texels: Float32Array, first: number, width: number, height: number): void {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  const into = (first + width * height) * 4;
  const [sx, sy] = [width / w, height / h];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let k = 0; k < 4; k++) {
        let sum = 0;
        for (let py = Math.floor(y * sy); py < Math.min(height, (y + 1) * sy); py++)
          for (let px = Math.floor(x * sx); px < Math.min(width, (x + 1) * sx); px++) {
            const share =
              (Math.min(px + 1, (x + 1) * sx) - Math.max(px, x * sx)) *
              (Math.min(py + 1, (y + 1) * sy) - Math.max(py, y * sy));
            sum += share * texels[(first + py * width + px) * 4 + k];
          }
        texels[into + (y * w + x) * 4 + k] = sum / (sx * sy);
      }
}

/** Which UV set a texture is placed by: 0 or 1. */
export function uvSetOf(store: TextureStore, texture: number): number {
  return store.table[texture * STRIDE + 7];
}

/** The larger side of a texture in texels, of its first tile where it has several. */
export function textureSize(store: TextureStore, texture: number): number {
  return Math.max(store.table[texture * STRIDE + 1], store.table[texture * STRIDE + 2]);
}

/**
 * Linear RGBA at (u, v), v downwards, into out[0..3].
 * @param footprint width in UV of what the look-up is to stand for; chooses the mip level (common practice: between the
 * two nearest levels)
 */
export function lookUpTexture(
  store: TextureStore,
  texture: number,
  u: number,
  v: number,
  footprint: number,
  out: Float64Array,
): void {
  const { table, placements } = store;
  const at = texture * STRIDE;
  const p = table[at + 8];
  const s = placements[p] * u + placements[p + 1] * v + placements[p + 2];
  const t = placements[p + 3] * u + placements[p + 4] * v + placements[p + 5];
  const filter = table[at + 5];
  const scale = Math.sqrt(Math.abs(placements[p] * placements[p + 4] - placements[p + 1] * placements[p + 3]));
  if (table[at + 9] >= 0) {
    // a tile's edge belongs to it: 1 is still of the first one
    const column = Math.max(0, Math.ceil(s) - 1);
    const row = Math.max(0, Math.ceil(1 - t) - 1);
    const tile = column < 10 && row < 10 ? store.tiles[table[at + 9] + row * 10 + column] : -1;
    if (tile >= 0) lookUpTexture(store, tile, s - column, t + row, footprint * scale, out);
    else out[0] = out[1] = out[2] = out[3] = 0; // no tile is there: black and clear
    return;
  }
  const size = footprint * scale * Math.max(table[at + 1], table[at + 2]);
  if (size < store.narrowest[texture]) store.narrowest[texture] = size;
  if (filter < 2) {
    readLevel(store, at, 0, s, t, filter, out, 1);
    return;
  }
  const last = table[at + 6] - 1;
  const level = size > 1 ? Math.min(last, Math.log2(size)) : 0;
  const low = Math.floor(level);
  const share = level - low;
  readLevel(store, at, low, s, t, 1, out, 1);
  if (share > 0) readLevel(store, at, low + 1, s, t, 1, out, share);
}

/** A texture that is nowhere looked at as closely as it is fine. */
export interface LargeTexture {
  name: string;
  /** Larger side in texels: as it is (of its largest tile), and as would do. */
  size: number;
  needed: number;
  /** Bytes that would be saved. */
  saves: number;
}

/** Forgets what the look-ups stood for. */
export function forgetLookUps({ narrowest }: TextureStore): void {
  narrowest.fill(Infinity);
}

/**
 * Textures of which a smaller level would have done for every look-up since those were forgotten.
 * @param step pixels of the final picture across one of the picture that was rendered
 */
export function largeTextures({ narrowest, table }: TextureStore, refs: TextureRef[], step: number): LargeTexture[] {
  let next = refs.length;
  return refs.flatMap(({ filter, name, tiles }, i): LargeTexture[] => {
    const entries = tiles.length > 0 ? tiles.map(() => next++) : [i];
    const closest = Math.min(...entries.map((entry) => narrowest[entry])) / step;
    const size = Math.max(...entries.map((entry) => Math.max(table[entry * STRIDE + 1], table[entry * STRIDE + 2])));
    const levels = Math.min(Math.floor(Math.log2(closest)), Math.floor(Math.log2(size)));
    if (!(levels >= 1)) return [];
    const texels = entries.reduce((sum, entry) => sum + table[entry * STRIDE + 1] * table[entry * STRIDE + 2], 0);
    // smaller levels add up to a third of the first
    const bytes = 16 * texels * (filter === 'mip' ? 4 / 3 : 1);
    return [{ name, size, needed: size >> levels, saves: bytes * (1 - 1 / 4 ** levels) }];
  });
}

/** Blends one level into out with a share of 0..1. */
// prettier-ignore
function readLevel(
  store: TextureStore, at: number, level: number, s: number, t: number, filter: number, out: Float64Array, share: number,
): void {
  const { table, texels } = store;
  let first = table[at], width = table[at + 1], height = table[at + 2];
  for (let k = 0; k < level; k++) {
    first += width * height;
    width = width > 1 ? width >> 1 : 1;
    height = height > 1 ? height >> 1 : 1;
  }
  const x = s * width - 0.5, y = t * height - 0.5;
  const x0 = filter === 0 ? Math.round(x) : Math.floor(x), y0 = filter === 0 ? Math.round(y) : Math.floor(y);
  const fx = filter === 0 ? 0 : x - x0, fy = filter === 0 ? 0 : y - y0;
  const xa = wrap(x0, width, table[at + 3]), xb = wrap(x0 + 1, width, table[at + 3]);
  const ya = wrap(y0, height, table[at + 4]) * width, yb = wrap(y0 + 1, height, table[at + 4]) * width;
  const i00 = (first + ya + xa) * 4, i10 = (first + ya + xb) * 4;
  const i01 = (first + yb + xa) * 4, i11 = (first + yb + xb) * 4;
  for (let k = 0; k < 4; k++) {
    const value =
      (texels[i00 + k] * (1 - fx) + texels[i10 + k] * fx) * (1 - fy) +
      (texels[i01 + k] * (1 - fx) + texels[i11 + k] * fx) * fy;
    out[k] = share === 1 ? value : out[k] + share * (value - out[k]);
  }
}

function wrap(i: number, size: number, mode: number): number {
  if (mode === 2) return i < 0 ? 0 : i >= size ? size - 1 : i;
  if (mode === 0) return ((i % size) + size) % size;
  const period = 2 * size;
  const m = ((i % period) + period) % period;
  return m < size ? m : period - 1 - m;
}
