// Scattering inside media. A ray that is followed on is scattered where chance says: the optical depth that it gets to is
// exponential in one colour, which is chosen by what the path carries, and every colour is weighed by the density over
// all three (the balance heuristic, Veach 1997, 9.2; for media: Novák et al. 2018, "Monte Carlo methods for volumetric
// light transport simulation", 5.4). The camera's ray is not ended: its stretches in media are kept, and volume samples
// choose points of them, so that surfaces behind fog and the fog itself are estimated apart.
import { SURFACE } from '../shade/index.ts';
import { MediumStack } from './mediumStack.ts';

/** The way of one ray through scattering media up to an event. */
export class Flight {
  /** Left of each colour since the start. */
  private readonly left = new Float64Array(3);
  private readonly chance = new Float64Array(3);
  private channel = 0;
  /** Optical depth still to go in the chosen colour. */
  private depth = 0;
  /** Whether anything could scatter the ray so far. */
  private used = false;

  begin(): void {
    this.used = false;
  }

  /**
   * Distance from the start of a stretch of `length` metres to where the ray is scattered, or -1 where it passes.
   * @param at first number of the surface whose inside it is
   * @param u v in [0, 1), for the first stretch of a flight
   */
  pass(values: Float64Array, at: number, length: number, throughput: Float64Array, u: number, v: number): number {
    if (!this.used) this.set(throughput, u, v);
    const extinction = values[at + SURFACE.extinction + this.channel];
    if (!(extinction > 0)) return -1;
    if (this.depth < extinction * length) return this.depth / extinction;
    this.depth -= extinction * length;
    return -1;
  }

  /** Leaves `distance` metres of a stretch behind. */
  goOn(values: Float64Array, at: number, distance: number): void {
    for (let k = 0; k < 3; k++) this.left[k] *= attenuation(values, at, distance, k);
  }

  private set(throughput: Float64Array, u: number, v: number): void {
    const sum = throughput[0] + throughput[1] + throughput[2];
    let channel = 0;
    let below = 0;
    for (let k = 0; k < 3; k++) {
      this.chance[k] = throughput[k] / sum;
      this.left[k] = 1;
      if (v >= below && this.chance[k] > 0) channel = k;
      below += this.chance[k];
    }
    this.channel = channel;
    this.depth = -Math.log(1 - u);
    this.used = true;
  }

  /** Weight of colour k for coming `distance` metres into the present stretch unscattered; it scatters, or absorbs alone. */
  weightAt(values: Float64Array, at: number, distance: number, scatters: boolean, k: number): number {
    const own = attenuation(values, at, distance, k);
    if (!this.used) return own;
    let mean = 0;
    for (let c = 0; c < 3; c++)
      mean += this.chance[c] * this.left[c] * (scatters ? attenuation(values, at, distance, c) : 1);
    return mean > 0 ? (this.left[k] * own) / mean : 0;
  }

  /** Weighs a throughput for the end of the flight: scattered inside of `at`, or having passed everything (-1). */
  finish(values: Float64Array, at: number, throughput: Float64Array): void {
    if (!this.used) return;
    let mean = 0;
    for (let c = 0; c < 3; c++)
      mean += this.chance[c] * this.left[c] * (at < 0 ? 1 : values[at + SURFACE.extinction + c]);
    for (let k = 0; k < 3; k++)
      throughput[k] *= mean > 0 ? (this.left[k] * (at < 0 ? 1 : values[at + SURFACE.scattering + k])) / mean : 0;
  }
}

/** What is left of colour c after a distance inside of a surface. */
export function attenuation(values: Float64Array, at: number, distance: number, c: number): number {
  const extinction = at < 0 ? 0 : values[at + SURFACE.extinction + c];
  return extinction > 0 ? Math.exp(-extinction * distance) : 1;
}

/** More stretches of scattering media than this on the way of a camera ray are seen through, without their own light. */
const MOST_STRETCHES = 8;

/** The stretches of a camera ray in scattering media. */
export class Stretches {
  count = 0;
  private readonly from = new Float64Array(MOST_STRETCHES);
  private readonly surface = new Int32Array(MOST_STRETCHES);
  /** Left of each colour at the start of each stretch, and the share of it that is lost within. */
  private readonly before = new Float64Array(MOST_STRETCHES * 3);
  private readonly lost = new Float64Array(MOST_STRETCHES * 3);
  private readonly media: MediumStack[];
  private readonly total = new Float64Array(3);
  // the point last chosen
  distance = 0;
  /** Scattering times what is left there, over the density of choosing it. */
  readonly weight = new Float64Array(3);
  place = 0;

  constructor(
    private readonly values: Float64Array,
    makeStack: () => MediumStack,
  ) {
    this.media = Array.from({ length: MOST_STRETCHES }, makeStack);
  }

  clear(): void {
    this.count = 0;
    this.total[0] = this.total[1] = this.total[2] = 0;
  }

  add(medium: MediumStack, at: number, from: number, length: number, throughput: Float64Array): void {
    if (this.count === MOST_STRETCHES) return;
    const i = this.count++;
    this.from[i] = from;
    this.surface[i] = at;
    this.media[i].copyFrom(medium);
    for (let k = 0; k < 3; k++) {
      this.before[i * 3 + k] = throughput[k];
      this.lost[i * 3 + k] = 1 - attenuation(this.values, at, length, k);
      this.total[k] += throughput[k] * this.lost[i * 3 + k];
    }
  }

  mediumOf(place: number): MediumStack {
    return this.media[place];
  }

  /** Chooses a point where light is lost; false where none is. @param u, v in [0, 1) */
  choose(u: number, v: number): boolean {
    const { before, lost, total, values } = this;
    let usable = 0;
    for (let k = 0; k < 3; k++) if (total[k] > 0) usable++;
    if (usable === 0) return false;
    let c = -1;
    for (let k = 0, n = Math.floor(v * usable); k < 3; k++) if (total[k] > 0 && n-- === 0) c = k;
    let rest = u * total[c];
    let i = 0;
    while (i < this.count - 1 && rest >= before[i * 3 + c] * lost[i * 3 + c]) {
      rest -= before[i * 3 + c] * lost[i * 3 + c];
      i++;
    }
    const at = this.surface[i];
    const share = Math.min(lost[i * 3 + c], rest / before[i * 3 + c]);
    const inside = -Math.log(1 - Math.min(share, 1 - 1e-12)) / values[at + SURFACE.extinction + c];
    let density = 0;
    for (let k = 0; k < 3; k++) {
      const extinction = values[at + SURFACE.extinction + k];
      this.weight[k] = before[i * 3 + k] * attenuation(values, at, inside, k);
      if (total[k] > 0) density += (extinction * this.weight[k]) / total[k] / usable;
      this.weight[k] *= values[at + SURFACE.scattering + k];
    }
    if (!(density > 0 && Number.isFinite(inside))) return false;
    for (let k = 0; k < 3; k++) this.weight[k] /= density;
    this.distance = this.from[i] + inside;
    this.place = i;
    return true;
  }
}
