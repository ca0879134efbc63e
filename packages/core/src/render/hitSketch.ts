// How far the occlusion rays of a pixel get, counted: from it the layer follows for any distance, falloff and cone.
//
// A ray falls into a ring about the normal (each takes as many rays) and into a step of distance. Sorted distances of single
// rays would be as exact as the rays themselves, but they cannot be added up over samples and machines; counts can.
import type { Film } from './film.ts';

/** What a render counts of its occlusion rays where it is asked to. */
export interface HitSteps {
  /** Distances that part the hits into steps, m, shortest first. */
  hits: number[];
}

/** Rings from the normal to the edge of the cone, with as many rays each: their edges lie at sin^2 of 1/4, 2/4, 3/4 and all of its own. */
export const HIT_RINGS = 4;

/** Of each ring: rays that end before each step, but not before the one ahead of it, and those that get beyond the last. */
export const hitSlots = ({ hits }: HitSteps): number => HIT_RINGS * (hits.length + 1);

/** Edges of the cones that the rings make up, degrees, to a hundredth. @param cone the widest of them */
export function hitCones(cone: number): number[] {
  const widest = Math.sin((cone * Math.PI) / 180);
  const edge = (ring: number) => (Math.asin(widest * Math.sqrt((ring + 1) / HIT_RINGS)) * 180) / Math.PI;
  return Array.from({ length: HIT_RINGS }, (_, ring) =>
    ring === HIT_RINGS - 1 ? cone : Number(edge(ring).toFixed(2)),
  );
}

export class HitSketch {
  /** Rays are followed at least so far, m. */
  readonly far: number;
  private data: Film['data'] = new Float64Array(0);
  private at = 0;

  /** @param slot first of a pixel's numbers in the film */
  constructor(
    private readonly steps: HitSteps,
    private readonly slot: number,
  ) {
    this.far = steps.hits.at(-1)!;
  }

  /** @param at first film slot of the pixel */
  begin(data: Film['data'], at: number): void {
    this.data = data;
    this.at = at + this.slot;
  }

  /** @param distance m; Infinity: nothing was met @param away place between the normal (0) and the edge of the cone (1), even in rays */
  add(distance: number, away: number): void {
    const { hits } = this.steps;
    let step = 0;
    while (step < hits.length && distance >= hits[step]) step++;
    const ring = Math.min(HIT_RINGS - 1, Math.floor(away * HIT_RINGS));
    this.data[this.at + ring * (hits.length + 1) + step]++;
  }
}

/**
 * Shares of the rays of each cone that met something before each step, 0..1: for each pixel, cone by cone, the narrowest first.
 * Of a wider cone where one has no rays, and 0 where there are none at all.
 * @param slot first of a pixel's numbers @param steps how many there are
 */
export function stoppedShares({ data, region, stride }: Film, slot: number, steps: number): Float32Array {
  const pixels = region.width * region.height;
  const each = HIT_RINGS * steps;
  const shares = new Float32Array(pixels * each);
  const stopped = new Float64Array(steps);
  for (let i = 0; i < pixels; i++) {
    let at = i * stride + slot;
    let rays = 0;
    let missing = 0;
    stopped.fill(0);
    for (let cone = 0; cone < HIT_RINGS; cone++) {
      let sum = 0;
      for (let step = 0; step < steps; step++) stopped[step] += sum += data[at++];
      rays += sum + data[at++];
      if (rays === 0) {
        missing = cone + 1;
        continue;
      }
      for (let from = missing; from <= cone; from++)
        for (let step = 0; step < steps; step++) shares[i * each + from * steps + step] = stopped[step] / rays;
      missing = cone + 1;
    }
  }
  return shares;
}

/** Layer of a picture that holds them, and the names of its channels. */
export const HITS = 'hits';
export const hitChannel = (cone: number, step: number): string => String(cone * 100 + step);
