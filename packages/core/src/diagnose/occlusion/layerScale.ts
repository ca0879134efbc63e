// A layer against the size of things: pixels of the picture, the spacing of numbers where a mesh stands, the faces of a mesh.
import { lightness } from '../../color/index.ts';
import { quantile } from '../../math/index.ts';
import { CAMERA, type CompiledScene } from '../../render/index.ts';
import type { OcclusionSketch } from './occlusionSketch.ts';

/** The corner of a layer shows a facet where it is darker than the middle of the face by so much, L*. Common practice, no source. */
const SHOWS = 2;
/** Of an object's looks, those that do. Common practice, no source. */
const NOTABLE = 0.1;
/** An object with fewer looks says nothing. */
const LEAST = 30;

/** Pixels that a distance covers at the median depth. */
export function distanceInPixels(
  { depth, seen }: OcclusionSketch,
  { camera }: CompiledScene,
  distance: number,
): number {
  const away = camera[CAMERA.orthographic] ? 1 : quantile(seen.map((look) => depth[look]), 0.5); // prettier-ignore
  return distance / (away * camera[CAMERA.pixel]);
}

/** Median offset of ray origins from their surfaces, metres. */
export const middleOffset = ({ offset, seen }: OcclusionSketch) =>
  quantile(
    seen.map((look) => offset[look]),
    0.5,
  );

export interface Faceted {
  /** Number of the object. */
  object: number;
  /** Of its looks that show a facet. */
  share: number;
  /** L* by which the layer drops at most, at the corners of its faces. */
  drop: number;
}

/**
 * Objects whose faces show in the layer: rays about a smooth normal that go below the coarse face under it are lost. They are as
 * many as (1 - cos a) / 2 of all where the normal leans by a (Nusselt's analog: the part of the unit disc beyond the edge of
 * the tilted half sphere is a half disc less a half ellipse).
 */
export function facetedObjects({ any, below, clear, object, rays, seen }: OcclusionSketch, reach: number): Faceted[] {
  const drops = new Map<number, number[]>();
  for (const look of seen) {
    if (clear[look]) continue;
    let lost = 0;
    let open = 0;
    for (let k = look * rays; k < (look + 1) * rays; k++) {
      if (any[k] >= reach) open++;
      else if (below[k]) lost++;
    }
    const drop = lightness((open + lost) / rays) - lightness(open / rays);
    const of = drops.get(object[look]);
    if (of) of.push(drop);
    else drops.set(object[look], [drop]);
  }
  return [...drops]
    .filter(([, of]) => of.length >= LEAST)
    .map(([number, of]): Faceted => ({
      object: number,
      share: of.filter((drop) => drop >= SHOWS).length / of.length,
      drop: quantile(of, 0.98),
    })) // prettier-ignore
    .filter(({ share }) => share >= NOTABLE)
    .sort((a, b) => b.share - a.share);
}
