// How large a shot is, and how far from the origin: what numbers of single precision make of it, and whether its unit is likely.
import { determinant, quantile } from '../../math/index.ts';
import { CAMERA, objectMiddle, objectSize, type CompiledScene } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';

/** Diagonals of objects, metres, between which the median of a shot lies. Common practice, no source. */
const USUAL = { least: 0.01, most: 50 };
/** What a file may have meant by 1, metres. */
const UNITS = [
  { name: 'millimetres', factor: 0.001 },
  { name: 'centimetres', factor: 0.01 },
  { name: 'inches', factor: 0.0254 },
  { name: 'feet', factor: 0.3048 },
  { name: 'kilometres', factor: 1000 },
];
/** Cosine between two axes from which a placement counts as sheared. */
const SHEARED = 0.01;
/** Diagonals between an object's middle and the point that it is placed by, from which that point counts as far away. */
const FAR_PIVOT = 100;

export interface PlaceAndScale {
  /** Middle of the objects by its median in each axis, and its distance from the origin, metres. */
  middle: number[];
  away: number;
  /** Between neighbouring numbers of single precision there, metres, and in pixels of this shot at the nearest object. */
  spacing: number;
  spacingPixels: number;
  /** Diagonal of the middle object, and of the smallest and largest with their width on the picture in pixels. */
  median: number;
  smallest: { id: string; size: number; pixels: number };
  largest: { id: string; size: number; pixels: number };
  /** Ids of objects. */
  mirrored: string[];
  sheared: string[];
  farPivots: string[];
  /** What the file may have been in, where sizes are unlikely; times `factor` they are likely. */
  unit: { name: string; factor: number } | null;
}

/** Distance to the next number of single precision (IEEE 754: 24 bits). */
export const singleSpacing = (value: number): number =>
  2 ** (Math.floor(Math.log2(Math.max(Math.abs(value), 2 ** -126))) - 23);

export function placeAndScale(scene: CompiledScene, document: ShotDocument): PlaceAndScale {
  const { camera, objectIds } = scene;
  const middles = objectIds.map((_, i) => objectMiddle(scene, i));
  const sizes = objectIds.map((_, i) => objectSize(scene, i));
  const median = (values: number[]) => quantile(values, 0.5);
  const middle = [0, 1, 2].map((k) => median(middles.map((m) => m[k])));
  const pixelAt = (depth: number) => (camera[CAMERA.orthographic] ? 1 : Math.max(depth, 1e-6)) * camera[CAMERA.pixel];
  const depths = middles.map((m) => m.reduce((sum, v, k) => sum + (v - camera[k]) * camera[CAMERA.forward + k], 0));
  const inFront = depths.filter((depth) => depth > 0);
  const onPicture = (i: number) => ({ id: objectIds[i], size: sizes[i], pixels: sizes[i] / pixelAt(Math.abs(depths[i])) }); // prettier-ignore
  const bySize = objectIds.map((_, i) => i).sort((a, b) => sizes[a] - sizes[b]);
  const away = Math.hypot(...middle);
  const spacing = singleSpacing(Math.max(...middle.map(Math.abs)));
  const nearest = inFront.length > 0 ? Math.min(...inFront) : 1;
  const placed = (test: (transform: number[], index: number) => boolean) => objectIds.filter((id, i) => test(document.objects[id].transform, i)); // prettier-ignore
  return {
    middle,
    away,
    spacing,
    spacingPixels: spacing / pixelAt(nearest),
    median: median(sizes),
    smallest: onPicture(bySize[0]),
    largest: onPicture(bySize[bySize.length - 1]),
    mirrored: placed((m) => determinant(m) < 0),
    sheared: placed(isSheared),
    farPivots: placed((m, i) => Math.hypot(...middles[i].map((v, k) => v - m[k * 4 + 3])) > FAR_PIVOT * sizes[i]),
    unit: likelyUnit(median(sizes)),
  };
}

function isSheared(m: number[]): boolean {
  const axes = [0, 1, 2].map((k) => [m[k], m[4 + k], m[8 + k]]);
  const cosine = (a: number[], b: number[]) => Math.abs(a.reduce((sum, v, k) => sum + v * b[k], 0)) / (Math.hypot(...a) * Math.hypot(...b)); // prettier-ignore
  return cosine(axes[0], axes[1]) > SHEARED || cosine(axes[1], axes[2]) > SHEARED || cosine(axes[0], axes[2]) > SHEARED;
}

/** The unit that brings an unlikely size nearest to a metre, on the scale of logarithms. */
function likelyUnit(size: number): PlaceAndScale['unit'] {
  if (size >= USUAL.least && size <= USUAL.most) return null;
  const off = ({ factor }: { factor: number }) => Math.abs(Math.log(size * factor));
  const best = UNITS.toSorted((a, b) => off(a) - off(b))[0];
  return off(best) < Math.abs(Math.log(size)) ? best : null;
}
