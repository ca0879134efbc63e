import { SURFACE } from '../shade/index.ts';

const DEPTH = 32;
const AIR = 1;

/**
 * Which closed objects a path is inside of (Schmidt & Budge 2002, "Simple nested dielectrics in ray traced images").
 * Where they overlap, the medium of the greatest priority counts, of equal ones that entered last: honey that reaches
 * into the wall of its jar meets the glass without a gap of air. An object that is left without having been entered,
 * because its faces are turned or the camera stands inside, is noted and not entered the next time.
 */
export class MediumStack {
  private readonly objects = new Int32Array(DEPTH);
  private readonly owed = new Int32Array(DEPTH);
  private count = 0;
  private debts = 0;
  /** Place of the entry that counts, or -1 in air: kept, since every ray asks for it and few enter or leave. */
  private top = -1;

  /** @param surfaceOf surface of each object; values: SURFACE.stride numbers a surface */
  constructor(
    private readonly surfaceOf: (object: number) => number,
    private readonly values: Float64Array,
  ) {}

  clear(): void {
    this.count = 0;
    this.debts = 0;
    this.top = -1;
  }
  copyFrom(other: MediumStack): void {
    // a call of set() costs more than these few
    for (let i = 0; i < other.count; i++) this.objects[i] = other.objects[i];
    for (let i = 0; i < other.debts; i++) this.owed[i] = other.owed[i];
    this.count = other.count;
    this.debts = other.debts;
    this.top = other.top;
  }
  enter(object: number): void {
    for (let i = 0; i < this.debts; i++)
      if (this.owed[i] === object) {
        this.owed[i] = this.owed[--this.debts];
        return;
      }
    if (this.count === DEPTH) return;
    if (this.top < 0 || this.priority(object) >= this.priority(this.objects[this.top])) this.top = this.count;
    this.objects[this.count++] = object;
  }
  leave(object: number): void {
    const at = this.lastOf(object);
    if (at >= 0) {
      this.count--;
      // a call of copyWithin() costs more than these few
      for (let i = at; i < this.count; i++) this.objects[i] = this.objects[i + 1];
      this.top = this.findTop(-1);
    } else if (this.debts < DEPTH) this.owed[this.debts++] = object;
  }

  /** Whether a boundary lies inside of a medium that counts more, so that light passes it unchanged. */
  hides(object: number, leaving: boolean): boolean {
    const { top } = this;
    if (top < 0) return false;
    if (!leaving) return this.priority(this.objects[top]) > this.priority(object);
    const at = this.lastOf(object);
    return at >= 0 && at !== top;
  }

  /** Index of refraction beyond a boundary over that before it. @param channel 0..2: red, green, blue */
  relativeIor(object: number, leaving: boolean, channel: number): number {
    const own = this.values[this.surfaceOf(object) * SURFACE.stride + SURFACE.ior + channel];
    const top = this.topWithout(leaving ? this.lastOf(object) : -1);
    const other =
      top < 0 ? AIR : this.values[this.surfaceOf(this.objects[top]) * SURFACE.stride + SURFACE.ior + channel];
    return leaving ? other / own : own / other;
  }

  /** Index of refraction of the medium that counts here. @param channel 0..2: red, green, blue */
  ior(channel: number): number {
    const at = this.surfaceThatCounts();
    return at < 0 ? AIR : this.values[at + SURFACE.ior + channel];
  }

  /** Whether the medium of another place refracts as the one here does. */
  sameIndex(other: MediumStack): boolean {
    return this.ior(0) === other.ior(0) && this.ior(1) === other.ior(1) && this.ior(2) === other.ior(2);
  }

  /** Multiplies a throughput by what is left after a distance in metres (Beer-Lambert). */
  absorb(distance: number, throughput: Float64Array): void {
    const at = this.surfaceThatCounts();
    if (at < 0) return;
    for (let k = 0; k < 3; k++) {
      const extinction = this.values[at + SURFACE.extinction + k];
      if (extinction > 0) throughput[k] *= Math.exp(-extinction * distance);
    }
  }

  /** First number of the surface whose inside counts here, or -1 in air. */
  surfaceThatCounts(): number {
    const { top } = this;
    return top < 0 ? -1 : this.surfaceOf(this.objects[top]) * SURFACE.stride;
  }

  /** The object whose inside counts here, or -1 in air. */
  objectThatCounts(): number {
    return this.top < 0 ? -1 : this.objects[this.top];
  }

  has(object: number): boolean {
    return this.lastOf(object) >= 0;
  }

  private priority(object: number): number {
    return this.values[this.surfaceOf(object) * SURFACE.stride + SURFACE.priority];
  }

  /** Place of the entry that counts where one is left out; -1 in air. */
  private topWithout(place: number): number {
    return place < 0 || place !== this.top ? this.top : this.findTop(place);
  }

  private findTop(without: number): number {
    let best = -1;
    let priority = -1;
    for (let i = 0; i < this.count; i++) {
      if (i === without) continue;
      const mine = this.priority(this.objects[i]);
      if (mine >= priority) {
        best = i;
        priority = mine;
      }
    }
    return best;
  }

  private lastOf(object: number): number {
    for (let i = this.count - 1; i >= 0; i--) if (this.objects[i] === object) return i;
    return -1;
  }
}
