// The state of the path that is being followed. One object is filled again for every path.
import { hash32, hashPair, hashUnit, samplePoint } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { RAY_KINDS } from '../trace/index.ts';
import { luminance } from '../color/index.ts';
import { COMPONENTS, FIRST_EVENT, LIMITS } from './film.ts';
import { MediumStack } from './mediumStack.ts';
import { tallyLight, tallyRay, type PathTallies } from './pathTallies.ts';
import { PROBE_SHARE } from './probes.ts';
import type { SampleRecord } from './sampleRecord.ts';
import type { Strategies } from './strategies.ts';

/** Component of a path by its first lobe: met by light at once, or after further events. */
export const DIRECT = [
  COMPONENTS.indexOf('directDiffuse'),
  COMPONENTS.indexOf('directSpecular'),
  COMPONENTS.indexOf('transmission'),
  COMPONENTS.indexOf('volume'),
];
export const INDIRECT = [
  COMPONENTS.indexOf('indirectDiffuse'),
  COMPONENTS.indexOf('indirectSpecular'),
  COMPONENTS.indexOf('transmission'),
  COMPONENTS.indexOf('volume'),
];
const TOTAL_LIMIT = LIMITS.indexOf('total');
const TOTAL_BIT = 1 << TOTAL_LIMIT;

/** Half of a depth limit, beyond which light and rays are counted; a limit of 1 has no half. */
export const halfDepth = (limit: number) => (limit > 1 ? Math.floor(limit / 2) : Infinity);

/** Where light comes from, beside the numbers of lights. */
export const SKY_SOURCE = -1;
export const SURFACE_SOURCE = -2;
export const BACKGROUND_SOURCE = -3;

// dimensions of the sequences: // (depth * 8 + branch + 1) * 4096 + slot
export const SLOT = { pixel: 0, lobe: 1, direction: 2, probe: 3, time: 4, opacity: 5, channel: 6, occlusion: 7, flight: 8, lens: 9, behind: 10, held: 11, unit: 15, light: 16 } as const; // prettier-ignore

export class Path {
  readonly throughput = new Float64Array(3);
  readonly counts = new Int32Array(4);
  readonly medium: MediumStack;
  /** Undoes for roulette what refraction does to radiance: it comes back when the path leaves the glass. */
  etaScale = 1;
  events = 0;
  /** First event of the path: a lobe or VOLUME, or -1 at the camera. */
  branch = -1;
  component = 0;
  /** Which of the splits of the first event. */
  split = 0;
  /** Limit that this path is a probe for, or -1. */
  probe = -1;
  /** Of the light that is booked next. */
  weight = 1;
  /** Factor for splitting and probing, left out of roulette and clamping. */
  share = 1;
  // the ray
  ox = 0;
  oy = 0;
  oz = 0;
  dx = 0;
  dy = 0;
  dz = 0;
  /** Where the ray is looked at: between these distances. */
  tMin = 0;
  tMax = Infinity;
  /** The stretch of it that is being passed. */
  from = 0;
  to = Infinity;
  /** Kind of the ray: a bit of RAY_KINDS. */
  kind: number = RAY_KINDS.camera;
  /** 0..1 over the shutter interval. */
  time = 0;
  /** Width of the cone about the ray at its origin, and its growth with distance. */
  width = 0;
  growth = 0;
  /** Density of the last direction times the number (or chance) of its samples; 0 after a smooth part. */
  density = 0;
  /** Colour that a dispersing boundary has chosen, or -1. */
  channel = -1;
  // the last vertex where lights could be asked: position, normal, object
  readonly vertex = new Float64Array(6);
  object = -1;
  /** An event so far has spread the light. */
  spread = false;
  /** Where the last one was, and how many events came before it. */
  readonly spreadAt = new Float64Array(3);
  spreadAfter = 0;
  /** Since then the path went through clear surfaces, if through any. */
  straight = false;
  /** It did: where shadow rays pass through them, they bring the light that such a path finds. */
  clear = false;

  constructor(
    readonly settings: RenderSettings,
    readonly record: SampleRecord,
    private readonly strategies: Strategies,
    surfaceOf: (object: number) => number,
    values: Float64Array,
  ) {
    this.medium = new MediumStack(surfaceOf, values);
    const { diffuse, specular, transmission, volume, total } = settings.depth;
    this.limits = [diffuse, specular, transmission, volume];
    this.halves = this.limits.map(halfDepth);
    this.halfTotal = halfDepth(total);
  }
  private readonly limits: number[];
  private readonly halves: number[];
  private readonly halfTotal: number;
  /** A bit for each of DEPTH_LIMITS that the events so far are beyond half of. */
  private deep = 0;
  pixelKey = 0;
  /** Told of all rays and light but those of probes, where the render keeps account of its paths. */
  tallies: PathTallies | null = null;
  /** Of the pixel, for the tallies. */
  tallyGroup = 0;
  /** Rays are tallied as well as light. */
  talliesRays = false;
  /** Number of the light that is being booked, or one of the sources above. */
  source = 0;
  /** The glowing object, where the source is a surface. */
  emitter = -1;
  /** Told of all light that is booked, while a path is replayed. */
  onLight: ((radiance: number[], limit: number, share: number, lobe: number, component: number) => void) | null = null;

  /** Radiance becomes another in another medium, and comes back where the path leaves it. */
  rescale(by: number): void {
    for (let k = 0; k < 3; k++) this.throughput[k] *= by;
    this.etaScale /= by;
  }

  /** Begins again at the camera, or at the first surface; the ray stays. */
  begin(): void {
    this.events = 0;
    this.deep = 0;
    this.etaScale = 1;
    this.counts[0] = this.counts[1] = this.counts[2] = this.counts[3] = 0;
    this.probe = -1;
    this.share = 1;
    this.branch = -1;
    this.throughput[0] = this.throughput[1] = this.throughput[2] = 1;
    this.density = 0;
    this.channel = -1;
    this.spread = false;
    this.straight = false;
    this.clear = false;
    this.object = -1;
  }

  /** Point `index` of the sequence for a use of random numbers at this depth, into out[0..1]. */
  sample(slot: number, index: number, out: Float64Array): void {
    const key = this.dimension(slot);
    if (this.strategies.evenPoints) return samplePoint(out, key, index);
    out[0] = hashUnit(hashPair(key, index));
    out[1] = hashUnit(hashPair(index, key));
  }

  private dimension(slot: number): number {
    return hash32(this.pixelKey ^ Math.imul((this.events * 8 + this.branch + 1) * 4096 + slot + 1, 0x9e3779b1));
  }

  /** Densities of asking for a light (Infinity: it has no extent) and of meeting it. */
  asked = 0;
  met = 0;

  /** Weighs the light that was asked for. */
  weighAsked(): void {
    const { asked, met, strategies } = this;
    if (asked === Infinity || strategies.lights === 'asked') this.weight = 1;
    else if (strategies.lights === 'met') this.weight = 0;
    else this.weight = asked === 0 ? 0 : (asked * asked) / (asked * asked + met * met);
  }

  /** Weighs light that the ray met and that asking would have found. */
  weighMet(): void {
    const { asked, density, strategies } = this;
    if (density === 0 || strategies.lights === 'met') this.weight = 1;
    else if (strategies.lights === 'asked') this.weight = 0;
    else this.weight = (density * density) / (asked * asked + density * density);
  }

  /** A number in [0, 1) that no sequence spreads. */
  chance(slot: number, index: number): number {
    return hashUnit(hashPair(this.pixelKey ^ index, (this.events * 8 + this.branch + 1) * 4096 + slot));
  }

  /** The limit that forbids an event of this lobe now, or -1. The total limit counts first: raising the other alone would not help. */
  forbids(lobe: number): number {
    if (this.probe >= 0) return -1;
    if (this.events >= this.settings.depth.total) return TOTAL_LIMIT;
    return this.counts[lobe] >= this.limits[lobe] ? lobe : -1;
  }

  isProbe(index: number): boolean {
    return this.chance(SLOT.probe, index) < PROBE_SHARE;
  }

  /** Whether the path may go on with this lobe; turns it into a probe for the limit that it met, or stops it. */
  passLimits(lobe: number, index: number): boolean {
    const limit = this.forbids(lobe);
    if (limit < 0) return true;
    if (!this.isProbe(index)) return false;
    this.probe = limit;
    this.share /= PROBE_SHARE;
    return true;
  }

  /** The event that happens next spreads the light, at this place. */
  spreadFrom(x: number, y: number, z: number): void {
    this.spread = true;
    this.spreadAt[0] = x;
    this.spreadAt[1] = y;
    this.spreadAt[2] = z;
    this.spreadAfter = this.events;
  }

  /** Keeps book of clear surfaces, before an event happens. @param spreads whether it spreads the light */
  passClear(transmits: boolean, spreads: boolean): void {
    if (transmits && this.spread) this.clear ||= this.straight;
    else if (spreads) {
      this.straight = true;
      this.clear = false;
    } else if (!transmits) this.straight = false;
  }

  /** Counts an event. */
  happen(lobe: number): void {
    this.deep |= this.deepWith(lobe);
    this.counts[lobe]++;
    this.events++;
  }

  /** A bit for each depth limit that an event more would be beyond half of. */
  private deepWith(lobe: number): number {
    return (this.counts[lobe] >= this.halves[lobe] ? 1 << lobe : 0) | (this.events >= this.halfTotal ? TOTAL_BIT : 0);
  }

  /**
   * Books a ray on the lobe that the path began with, and on the limits that it is a probe for or deep in.
   * @param lobe of the event that the light of a shadow ray would add, or -1
   */
  countRay(lobe: number): void {
    if (this.branch >= 0) this.record.countBranchRay(this.branch);
    const deep = lobe < 0 ? this.deep : this.deep | this.deepWith(lobe);
    if (this.probe >= 0) this.record.countProbeRay(this.probe);
    else {
      if (deep !== 0) this.record.countDeepRay(deep);
      if (this.tallies && this.talliesRays) tallyRay(this.tallies, this.counts, lobe);
    }
  }

  /**
   * Books light that the path brings to the pixel, times `weight`.
   * @param limit the limit that this light is a probe for, or -1
   * @param lobe of the event that this light would add, or -1 where it comes by itself
   */
  add(component: number, group: number, limit: number, radiance: Float64Array, lobe: number): void {
    const { throughput, record, share } = this;
    const { light } = record;
    for (let k = 0; k < 3; k++) light[k] = throughput[k] * radiance[k] * this.weight;
    record.share = share;
    this.onLight?.([light[0] * share, light[1] * share, light[2] * share], limit, share, lobe, component);
    if (limit >= 0) {
      record.addCut(limit);
      return;
    }
    const kept = lobe < 0 ? record.addLight(component, group, this.events, this.deep) : record.addLight(component, group, this.events + 1, this.deep | this.deepWith(lobe)); // prettier-ignore
    if (!this.tallies) return;
    const y = luminance(light[0], light[1], light[2]);
    tallyLight(
      this.tallies,
      this.counts,
      lobe,
      FIRST_EVENT[component],
      y,
      share * record.weight,
      kept * record.weight,
      this.tallyGroup,
    );
  }
}
