// How the UVs of an object use its map.
import { uvLayout, type UvLayout } from '../../geometry/index.ts';
import { eachTexel, placedCorners } from '../../shade/index.ts';
import type { DisplacedObject } from './displacedObject.ts';

export const UV_FAULTS = ['collapsed', 'overlap', 'mirrored', 'stretched', 'uneven', 'outside'] as const;
export type UvFault = (typeof UV_FAULTS)[number];

export interface UvReading {
  layout: UvLayout;
  /** Texture coordinates as the map is asked. // 2 a corner, 3 corners a triangle */
  corners: Float64Array;
  /** A small picture of the map's tile: how many faces lie on each texel, and their largest stretch, NaN without a face. // 1 a texel */
  uses: { width: number; height: number; counts: Uint8Array; stretch: Float32Array };
  /** Share of the covered texels that two places of the surface have. */
  overlap: number;
  /** Shares of the surface: without area in texture space, stretched too far, outside of the map where it does not repeat. */
  collapsed: number;
  stretched: number;
  outside: number;
  /** Islands that lie mirrored among others that do not. */
  mirrored: number;
  /** Texels a metre of each island, and the ratio of the densest to the thinnest of those that matter. */
  density: number[];
  unevenness: number;
  faults: UvFault[];
}

/** Sides of the small picture, texels, at most. */
const SIDE = 384;
/** What is still fine: stretch, and density of one island against another. Common practice, no source. */
const STRETCH = 4;
const UNEVEN = 4;
/** Shares that are worth a word. No source. */
const SOME = 0.02;
/** Islands below this share of the surface are no matter for evenness. */
const MATTERS = 0.01;
/** Beyond so many pictures in texture space the map repeats over the surface, and only one of them is looked at. */
const REPEATS = 16;
/** Texels nearer to an edge are shared by its two faces and no overlap. */
const INSIDE = 1e-4;

export function uvReading({ map, mesh, moved: { texture }, stretch: toWorld }: DisplacedObject): UvReading {
  const uvs = (texture.uvSet === 1 ? mesh.laterUvs : mesh.uvs)!;
  const corners = placedCorners(mesh.indices, uvs, texture);
  const layout = uvLayout(mesh.positions, mesh.indices, corners);
  const { islands } = layout;
  const small = Math.min(1, SIDE / Math.max(map.width, map.height));
  const [width, height] = [Math.max(1, Math.round(map.width * small)), Math.max(1, Math.round(map.height * small))];
  const { counts, overlap, stretch } = usesOf(corners, layout, width, height, map.origin);

  const whole = islands.reduce((sum, { area }) => sum + area, 0) || 1;
  const shareWhere = (is: (t: number) => boolean) => layout.areas.reduce((sum, area, t) => (is(t) ? sum + area : sum), 0) / whole; // prettier-ignore
  const isOutside = (t: number) =>
    [0, 1].some((k) => {
      if (texture.tiles.length > 0 || (k === 0 ? texture.wrapU : texture.wrapV) !== 'clamp') return false;
      const middle = (corners[t * 6 + k] + corners[t * 6 + 2 + k] + corners[t * 6 + 4 + k]) / 3;
      return middle < 0 || middle > 1;
    });
  const mirroredOnes = islands.filter(({ isMirrored }) => isMirrored).length;
  const texels = Math.sqrt(map.width * map.height);
  const density = islands.map(({ area, uvArea }) => (area > 0 ? (texels * Math.sqrt(uvArea / area)) / toWorld : 0));
  const compared = density.filter((d, i) => d > 0 && islands[i].area >= MATTERS * whole);
  const reading = {
    layout,
    corners,
    uses: { width, height, counts, stretch },
    overlap,
    collapsed: shareWhere((t) => layout.stretch[t] === Infinity),
    stretched: shareWhere((t) => layout.stretch[t] > STRETCH && layout.stretch[t] < Infinity),
    outside: shareWhere(isOutside),
    mirrored: Math.min(mirroredOnes, islands.length - mirroredOnes),
    density,
    unevenness: compared.length > 0 ? Math.max(...compared) / Math.min(...compared) : 1,
  };
  const found: Record<UvFault, boolean> = {
    collapsed: reading.collapsed > SOME,
    overlap: overlap > SOME,
    mirrored: reading.mirrored > 0,
    stretched: reading.stretched > SOME,
    uneven: reading.unevenness > UNEVEN,
    outside: reading.outside > SOME,
  };
  return { ...reading, faults: UV_FAULTS.filter((fault) => found[fault]) };
}

/** Faces on each texel of one tile and the stretch there, and the share of texels of all tiles that have several. */
function usesOf(corners: Float64Array, layout: UvLayout, width: number, height: number, origin: number[]) {
  const tiles = new Map<string, Uint8Array>();
  const stretch = new Float32Array(width * height).fill(NaN);
  const repeats = layout.islands.reduce((sum, { uvArea }) => sum + uvArea, 0) > REPEATS;
  const [left, top] = [origin[0] * width, origin[1] * height];
  const clip = repeats ? [left, left + width - 1, top, top + height - 1] : undefined;
  let [covered, several] = [0, 0];
  let name = '';
  let counts = new Uint8Array(0) as Uint8Array;
  eachTexel(
    corners,
    width,
    height,
    (x, y, triangle, inside) => {
      const [column, row] = [Math.floor(x / width), Math.floor(y / height)];
      const tile = `${column} ${row}`;
      if (tile !== name || counts.length === 0) {
        name = tile;
        counts = tiles.get(tile) ?? new Uint8Array(width * height);
        tiles.set(tile, counts);
      }
      const texel = (y - row * height) * width + x - column * width;
      if (column === origin[0] && row === origin[1])
        stretch[texel] = Math.max(stretch[texel] || 1, layout.stretch[triangle]);
      if (counts[texel] > 0 && inside < INSIDE) return;
      if (counts[texel] === 0) covered++;
      else if (counts[texel] === 1) several++;
      counts[texel] = Math.min(255, counts[texel] + 1);
    },
    clip,
  );
  return { counts: tiles.get(origin.join(' ')) ?? new Uint8Array(width * height), overlap: several / Math.max(1, covered), stretch }; // prettier-ignore
}
