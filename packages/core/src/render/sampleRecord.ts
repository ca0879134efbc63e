// What one camera sample brings. Sums go to the film at once; components wait for the end of the sample, because their
// squares are those of the whole sample. Kept in full for every sample, cleared and added up at its end, all of it took
// 17 % of the time on the matt balls of the benchmark; now only the components that were touched are.
import { luminance } from '../color/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import {
  COMPONENTS,
  earlySamples,
  FILM,
  FIRST_EVENT,
  LIMITS,
  MEASURED,
  MOST_GROUPS,
  OUTLIER_GROUP,
  SPLIT_LEVELS,
  type Film,
} from './film.ts';
import { clampLimit } from './clampLimit.ts';
import { isInHalf } from './isInHalf.ts';
import type { SplitLevels } from './splitLevels.ts';

const CLAMP = LIMITS.indexOf('clamp');
/** From this component on, light is what the camera sees itself. */
const SEEN = COMPONENTS.indexOf('emission');
/** One sample in so many is timed: asking the clock takes as long as a tenth of a ray. */
export const TIMED_EVERY = 4;
const noClock = () => 0;

export class SampleRecord {
  /** RGB of each component. */
  private readonly values = new Float64Array(COMPONENTS.length * 3);
  /** Bits of the components that are not zero. */
  private touched = 0;
  /** Luminance of each light group, and bits of those that are not zero. */
  private readonly groups = new Float64Array(MOST_GROUPS);
  private touchedGroups = 0;
  private isBad = false;
  private data: Film['data'] = new Float64Array(0);
  private at = 0;
  /** Of this sample, by the pixel filter; below 0 where the filter is. */
  weight = 1;
  /** RGB that is booked next, and the share of the sample that it stands for. */
  readonly light = new Float64Array(3);
  share = 1;
  /** Milliseconds of some clock, and whether this sample is one of those that it is asked for. */
  clock: () => number = noClock;
  private isTimed = false;

  /** Of each component, by one event and by more. */
  private readonly clamps: Float64Array;
  private readonly early: number;
  private inHalf = false;

  constructor(private readonly settings: RenderSettings) {
    this.clamps = Float64Array.from(FIRST_EVENT.flatMap((lobe) => [false, true].map((indirect) => (lobe < 0 ? Infinity : clampLimit(settings.clamp, indirect, lobe))))); // prettier-ignore
    this.early = earlySamples(settings.pixelSamples);
  }

  /**
   * @param at first film slot of the pixel
   * @param sample its number
   * @param isTimed what its parts take is measured, and stands for TIMED_EVERY samples
   */
  begin(data: Film['data'], at: number, sample: number, isTimed: boolean): void {
    this.data = data;
    this.inHalf = isInHalf(sample, this.settings);
    this.at = at;
    this.isBad = false;
    this.isTimed = isTimed;
  }

  /** The time, where this sample is timed. */
  now(): number {
    return this.isTimed ? this.clock() : 0;
  }
  /** Books the time since `started` on a kind of splits. */
  addKindTime(kind: number, started: number): void {
    if (this.isTimed) this.data[this.at + FILM.kindTime + kind] += (this.clock() - started) * TIMED_EVERY;
  }
  /** Books `milliseconds` on the lights of a group. */
  addLightTime(group: number, milliseconds: number): void {
    if (this.isTimed) this.data[this.at + FILM.lightTime + group] += milliseconds * TIMED_EVERY;
  }

  countRay(type: number): void {
    this.data[this.at + FILM.rays + type]++;
  }
  /** Counts a ray that follows a first event of a kind. */
  countBranchRay(branch: number): void {
    this.data[this.at + FILM.branchRays + branch]++;
  }
  /** Counts a ray of a probe beyond a limit. */
  countProbeRay(limit: number): void {
    this.data[this.at + FILM.probeRays + limit]++;
  }
  /** Counts a ray of a path that is beyond half of some depth limits. @param deep a bit for each */
  countDeepRay(deep: number): void {
    this.addDeep(FILM.deepRays, deep, 1);
  }
  private addDeep(slot: number, deep: number, value: number): void {
    for (let limit = 0; deep !== 0; limit++, deep >>>= 1) if (deep & 1) this.data[this.at + slot + limit] += value;
  }
  /** Spread of the groups of the splits of a kind, in luminance. */
  addSplits(kind: number, levels: SplitLevels): void {
    const slot = this.at + FILM.splits + kind * SPLIT_LEVELS.length;
    for (let level = 0; level < SPLIT_LEVELS.length; level++)
      this.data[slot + level] += levels.spread(level) * this.weight * this.weight;
  }

  /** Luminance that a component holds so far. */
  luminanceOf(component: number): number {
    if ((this.touched & (1 << component)) === 0) return 0;
    const at = component * 3;
    return luminance(this.values[at], this.values[at + 1], this.values[at + 2]);
  }

  /** Books the light that a limit kept out of the picture. */
  addCut(limit: number): void {
    this.addTo(FILM.cut + limit * 3, this.share);
  }

  /** Books the light that a shadow kept from the first surface. */
  addShadow(): void {
    this.addTo(FILM.shadow, this.share);
  }

  /** Books how open the first surface is, 0..1. */
  addOcclusion(value: number): void {
    const { at, data } = this;
    data[at + FILM.occlusion] += value;
    data[at + FILM.occlusion + 1] += value * value;
    if (this.inHalf) data[at + FILM.half + MEASURED.occlusion] += value;
  }

  private addTo(slot: number, scale: number): void {
    const { at, data, light } = this;
    if (!this.isNumber(light[0] + light[1] + light[2])) return;
    for (let k = 0; k < 3; k++) data[at + slot + k] += light[k] * scale * this.weight;
  }

  /** Light that is not a number is left out, and its sample counted: one of them would blacken every sum that it enters. */
  private isNumber(sum: number): boolean {
    if (sum - sum === 0) return true;
    this.isBad = true;
    return false;
  }

  /**
   * Books the light of a component, clamped by its luminance before its share divides it among the splits.
   * @param events of the path: clamps tell direct light (one event) from indirect, and components
   * @param deep a bit for each depth limit that it is beyond half of
   * @returns the share of a sample with which it counts, once clamped
   */
  addLight(component: number, group: number, events: number, deep: number): number {
    const { light, values } = this;
    if (!this.isNumber(light[0] + light[1] + light[2])) return 0;
    const clamp = events === 0 ? Infinity : this.clamps[component * 2 + (events > 1 ? 1 : 0)];
    const all = luminance(light[0], light[1], light[2]);
    let kept = this.share;
    if (all > clamp) {
      kept = (this.share * clamp) / all;
      this.addTo(FILM.cut + CLAMP * 3, this.share - kept);
    }
    const at = component * 3;
    if ((this.touched & (1 << component)) === 0) {
      this.touched |= 1 << component;
      values[at] = values[at + 1] = values[at + 2] = 0;
    }
    for (let k = 0; k < 3; k++) values[at + k] += light[k] * kept;
    this.addTo(FILM.group + group * 3, kept);
    if ((this.touchedGroups & (1 << group)) === 0) {
      this.touchedGroups |= 1 << group;
      this.groups[group] = 0;
    }
    const y = all * kept;
    this.groups[group] += y;
    if (deep !== 0) this.addDeep(FILM.deepLight, deep, y * this.weight);
    return kept;
  }

  /** Adds the components and their squares to the sums of the pixel. */
  store(sample: number): void {
    const { at, data, inHalf, values, weight } = this;
    const { outlierGroups } = this.settings;
    const group = outlierGroups > 0 ? at + FILM.stride + (sample % outlierGroups) * OUTLIER_GROUP : -1;
    if (group >= 0) data[group + 3]++;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let c = 0; this.touched !== 0; c++, this.touched >>>= 1) {
      if ((this.touched & 1) === 0) continue;
      const vr = values[c * 3] * weight;
      const vg = values[c * 3 + 1] * weight;
      const vb = values[c * 3 + 2] * weight;
      const y = luminance(vr, vg, vb);
      const slot = at + FILM.component + c * FILM.componentStride;
      data[slot] += vr;
      data[slot + 1] += vg;
      data[slot + 2] += vb;
      data[slot + 3] += y * y;
      if (inHalf) data[at + FILM.half + MEASURED.component + c] += y;
      if (group >= 0 && c < SEEN) {
        data[group] += vr;
        data[group + 1] += vg;
        data[group + 2] += vb;
      }
      r += vr;
      g += vg;
      b += vb;
    }
    for (let k = 0; this.touchedGroups !== 0; k++, this.touchedGroups >>>= 1) {
      if ((this.touchedGroups & 1) === 0) continue;
      const y = this.groups[k] * weight;
      data[at + FILM.groupSquares + k] += y * y;
      if (inHalf) data[at + FILM.half + MEASURED.group + k] += y;
    }
    const y = luminance(r, g, b);
    const beauty = at + FILM.beauty;
    data[beauty] += r;
    data[beauty + 1] += g;
    data[beauty + 2] += b;
    data[beauty + 3] += r * r;
    data[beauty + 4] += g * g;
    data[beauty + 5] += b * b;
    data[beauty + 6] += y * y;
    data[at + FILM.samples]++;
    if (inHalf) {
      data[at + FILM.half] += y;
      data[at + FILM.halfSamples]++;
    }
    if (sample < this.early) {
      data[at + FILM.early] += y;
      data[at + FILM.early + 1] += y * y;
    }
    if (y > data[at + FILM.brightest]) {
      data[at + FILM.brightest] = y;
      data[at + FILM.brightestIndex] = sample;
    }
    if (this.isBad) {
      data[at + FILM.bad]++;
      if (data[at + FILM.badIndex] === 0) data[at + FILM.badIndex] = sample + 1;
    }
  }
}
