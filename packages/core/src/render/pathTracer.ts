// Follows one path at a time from the camera. Light sampling and surface sampling are combined by the power
// heuristic (Veach 1997, 9.2.4), for each lobe by itself, so that every component is estimated alone and all of
// them add up to the beauty picture. At the first surface each lobe is followed `...Samples` times; further on one
// lobe is chosen. Every random number is a function of (pixel, sample, dimension, seed).
//
// A path that meets a depth limit stops, but one in eight goes on as a probe: what it would have brought, times
// eight, is kept as the light cut off by that limit and never enters the picture. Adding up the throughput lost at
// the limit would cost nothing, but it cannot tell a path that would have found the window from one that would have
// died in the dark.
//
// Roulette leaves out the factor 1 / eta^2 of refraction, which comes back on the way out. With it, paths inside glass
// were ended at less than half of their worth: on LH-010 with open limits 3.55 L* of noise instead of 2.72, at 0.90 of
// the rays (200 x 112 pixels, 16 samples).
import { hash32, hashPair, hashUnit, samplePoint } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import {
  DIFFUSE,
  emitterDensity,
  environmentAt,
  LIGHT_STRIDE,
  LightSample,
  LOBES,
  meetLight,
  sampleEmitter,
  sampleEnvironment,
  sampleLight,
  SPECULAR,
  SURFACE_STRIDE,
  SurfacePoint,
  TRANSMISSION,
  type Lobe,
} from '../shade/index.ts';
import { emptyHit, type RayQuery } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { COMPONENTS, FILM, LIMITS, type Film } from './film.ts';
import { HitReader } from './hitReader.ts';
import { MediumStack } from './mediumStack.ts';
import { filterOffset, filterOffsets } from './pixelFilter.ts';
import { SampleRecord } from './sampleRecord.ts';

const EMISSION = COMPONENTS.indexOf('emission');
const BACKGROUND = COMPONENTS.indexOf('background');
/** Component of a path by its first lobe: met by light at once, or after further events. */
const DIRECT = [
  COMPONENTS.indexOf('directDiffuse'),
  COMPONENTS.indexOf('directSpecular'),
  COMPONENTS.indexOf('transmission'),
];
const INDIRECT = [
  COMPONENTS.indexOf('indirectDiffuse'),
  COMPONENTS.indexOf('indirectSpecular'),
  COMPONENTS.indexOf('transmission'),
];
const TOTAL_LIMIT = LIMITS.indexOf('total');
const SHADOW_RAY = 4;

/** Share of the paths stopped by a limit that go on as probes. */
export const PROBE_SHARE = 1 / 8;
const PROBE_EVENTS = 128;
/** Events before a path may be ended by chance. */
const ROULETTE_FROM = 4;

// dimensions of the sequences: // (depth * 4 + branch) * 4096 + slot
const SLOT_PIXEL = 0;
const SLOT_LOBE = 1;
const SLOT_DIRECTION = 2;
const SLOT_PROBE = 3;
const SLOT_LIGHT = 16; // + unit * 2; the second holds the choice of an emitter

export class PathTracer {
  private readonly hit = emptyHit();
  private readonly reader: HitReader;
  private readonly first: SurfacePoint;
  private readonly later: SurfacePoint;
  private readonly light = new LightSample();
  private readonly medium = new MediumStack();
  private readonly cameraMedium = new MediumStack();
  private readonly offsets: Float64Array;
  private readonly splits: number[];
  private readonly limits: number[];
  private readonly analytic: number;
  private readonly units: number;
  private readonly emitterUnit: number;

  // of one camera sample
  private readonly record: SampleRecord;
  private pixelKey = 0;

  // of the path being followed
  private readonly throughput = new Float64Array(3);
  private readonly counts = new Int32Array(3);
  /** Undoes for roulette what refraction does to radiance: it comes back when the path leaves the glass. */
  private etaScale = 1;
  private events = 0;
  private branch = -1;
  private component = 0;
  /** Limit that this path is a probe for, or -1. */
  private probe = -1;
  /** Factor for splitting and probing, left out of roulette and clamping. */
  private share = 1;
  private ox = 0;
  private oy = 0;
  private oz = 0;
  private dx = 0;
  private dy = 0;
  private dz = 0;
  /** Density of the last direction times the number (or chance) of its samples; 0 after a smooth lobe. */
  private density = 0;
  /** Samples for each light at the last vertex: a number, or a chance. */
  private lightScale = 0;

  private readonly point = new Float64Array(2);
  private readonly colour = new Float64Array(3);
  private readonly direction = new Float64Array(3);

  constructor(
    private readonly scene: CompiledScene,
    private readonly query: RayQuery,
    private readonly settings: RenderSettings,
  ) {
    this.reader = new HitReader(scene);
    this.first = new SurfacePoint(scene.surfaces, scene.textures);
    this.later = new SurfacePoint(scene.surfaces, scene.textures);
    this.record = new SampleRecord(settings.clamp);
    this.offsets = filterOffsets(settings.filter);
    this.splits = [settings.diffuseSamples, settings.specularSamples, settings.transmissionSamples];
    const { diffuse, specular, transmission } = settings.depth;
    this.limits = [diffuse, specular, transmission];
    this.analytic = scene.lights.length / LIGHT_STRIDE;
    this.emitterUnit = scene.emitters.sums.length > 0 ? this.analytic : -1;
    const emitters = this.emitterUnit >= 0 ? 1 : 0;
    this.units = this.analytic + emitters + (scene.environment ? 1 : 0);
  }

  /**
   * Adds samples sampleStart .. sampleStart + sampleCount - 1 of every pixel of the film's region.
   * @param clock milliseconds, for the time of each pixel
   */
  render(film: Film, sampleStart: number, sampleCount: number, clock: () => number): void {
    const { region, data } = film;
    for (let y = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++) {
        const at = (y * region.width + x) * FILM.stride;
        const started = clock();
        this.pixelKey = hashPair(hashPair(region.x + x, region.y + y), this.settings.seed);
        for (let s = sampleStart; s < sampleStart + sampleCount; s++) {
          this.traceSample(region.x + x, region.y + y, s, data, at);
          this.record.store(data, at, s);
        }
        data[at + FILM.time] += clock() - started;
      }
  }

  private traceSample(px: number, py: number, sample: number, data: Film['data'], at: number): void {
    this.record.clear();
    this.startAtCamera(px, py, sample);
    this.record.rays[0]++;
    const found = this.closest();
    this.meetLights(found ? this.hit.t : Infinity, EMISSION, true);
    if (!found) return this.meetSky(BACKGROUND);
    const { first } = this;
    this.reader.read(this.hit, this.dx, this.dy, this.dz, first);
    this.recordFirstHit(data, at);
    this.add(EMISSION, first.emission, 1);
    // a camera inside a closed glass is not looked for: the path starts in air
    this.cameraMedium.clear();
    this.startAtFirst();
    this.sampleLights(first, sample, true);
    for (let lobe = 0; lobe < LOBES; lobe++) if (first.chance[lobe] > 0) this.followSplits(lobe as Lobe, sample);
  }

  /** Follows one lobe of the first surface as often as the settings ask. */
  private followSplits(lobe: Lobe, sample: number): void {
    const { first, record } = this;
    const count = this.splits[lobe];
    let sum = 0;
    let squares = 0;
    for (let k = 0; k < count; k++) {
      const before = this.branchLuminance(lobe);
      this.followBranch(first, lobe, sample * count + k, count);
      const y = (this.branchLuminance(lobe) - before) * count;
      sum += y;
      squares += y * y;
    }
    if (count > 1) record.within[lobe] = Math.max(0, squares - (sum * sum) / count) / (count * (count - 1));
  }

  private branchLuminance(lobe: Lobe): number {
    const direct = this.record.luminanceOf(DIRECT[lobe]);
    return DIRECT[lobe] === INDIRECT[lobe] ? direct : direct + this.record.luminanceOf(INDIRECT[lobe]);
  }

  private followBranch(first: SurfacePoint, lobe: Lobe, index: number, splits: number): void {
    this.startAtFirst();
    this.share = 1 / splits;
    if (!this.passLimits(lobe, index)) return;
    this.branch = lobe;
    this.component = DIRECT[lobe];
    samplePoint(this.point, this.dimension(SLOT_DIRECTION), index);
    if (!first.sample(lobe, this.point[0], this.point[1])) return;
    for (let k = 0; k < 3; k++) this.throughput[k] = first.weight[k];
    this.density = first.density * splits;
    this.lightScale = this.settings.lightSamples;
    this.leave(first, lobe);
    while (this.advance(index));
    this.branch = -1;
  }

  /** One ray and what it meets. False where the path ends. */
  private advance(index: number): boolean {
    const { later, medium, throughput } = this;
    const found = this.closest();
    const reach = found ? this.hit.t : Infinity;
    if (found) medium.absorb(this.scene.surfaces.values, reach, throughput);
    this.meetLights(reach, this.component, false);
    if (!found) {
      this.meetSky(this.component);
      return false;
    }
    this.reader.read(this.hit, this.dx, this.dy, this.dz, later);
    this.meetEmitter();
    this.component = INDIRECT[this.branch];
    if (this.events >= PROBE_EVENTS && this.probe >= 0) return false;

    samplePoint(this.point, this.dimension(SLOT_LOBE), index);
    const choice = this.point[0];
    if (this.events >= ROULETTE_FROM) {
      const survival = Math.min(1, this.etaScale * Math.max(throughput[0], throughput[1], throughput[2]));
      if (this.point[1] >= survival) return false;
      for (let k = 0; k < 3; k++) throughput[k] /= survival;
    }
    this.sampleLights(later, index, false);
    const lobe = chooseLobe(later.chance, choice);
    if (lobe < 0 || !this.passLimits(lobe as Lobe, index)) return false;
    samplePoint(this.point, this.dimension(SLOT_DIRECTION), index);
    if (!later.sample(lobe as Lobe, this.point[0], this.point[1])) return false;
    const chance = later.chance[lobe];
    for (let k = 0; k < 3; k++) throughput[k] *= later.weight[k] / chance;
    if (throughput[0] === 0 && throughput[1] === 0 && throughput[2] === 0) return false;
    this.density = later.density * chance;
    this.lightScale = 1 / this.units;
    this.leave(later, lobe as Lobe);
    return true;
  }

  /** Counts the event and sets out from a point in its sampled direction. */
  private leave(point: SurfacePoint, lobe: Lobe): void {
    this.counts[lobe]++;
    this.events++;
    this.record.rays[1 + lobe]++;
    if (lobe === TRANSMISSION && this.scene.surfaces.values[point.surface * SURFACE_STRIDE + 20] === 0) {
      this.etaScale *= point.etaSquared;
      if (point.inside) this.medium.leave(point.surface);
      else this.medium.enter(point.surface);
    }
    this.setOrigin(point, lobe === TRANSMISSION ? -1 : 1);
    this.dx = point.wx;
    this.dy = point.wy;
    this.dz = point.wz;
  }

  private setOrigin(point: SurfacePoint, side: number): void {
    const size = Math.max(Math.abs(point.px), Math.abs(point.py), Math.abs(point.pz));
    const offset = side * (size * 1e-6 + this.scene.extent * 1e-9);
    this.ox = point.px + offset * point.gx;
    this.oy = point.py + offset * point.gy;
    this.oz = point.pz + offset * point.gz;
  }

  private startAtCamera(px: number, py: number, sample: number): void {
    const { camera } = this.scene;
    this.events = 0;
    this.etaScale = 1;
    this.counts.fill(0);
    this.probe = -1;
    this.share = 1;
    this.branch = -1;
    this.throughput.fill(1);
    samplePoint(this.point, this.dimension(SLOT_PIXEL), sample);
    const { width, height } = this.settings;
    const x = px + 0.5 + filterOffset(this.offsets, this.point[0]);
    const y = py + 0.5 + filterOffset(this.offsets, this.point[1]);
    const sx = ((2 * x) / width - 1) * camera[12];
    const sy = (1 - (2 * y) / height) * camera[13];
    const ax = sx * camera[3] + sy * camera[6];
    const ay = sx * camera[4] + sy * camera[7];
    const az = sx * camera[5] + sy * camera[8];
    const flat = camera[14] === 1;
    this.ox = camera[0] + (flat ? ax : 0);
    this.oy = camera[1] + (flat ? ay : 0);
    this.oz = camera[2] + (flat ? az : 0);
    const dx = camera[9] + (flat ? 0 : ax);
    const dy = camera[10] + (flat ? 0 : ay);
    const dz = camera[11] + (flat ? 0 : az);
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
    this.dx = dx / length;
    this.dy = dy / length;
    this.dz = dz / length;
  }

  private startAtFirst(): void {
    this.events = 0;
    this.etaScale = 1;
    this.counts.fill(0);
    this.probe = -1;
    this.share = 1;
    this.branch = -1;
    this.throughput.fill(1);
    this.medium.copyFrom(this.cameraMedium);
  }

  /** The limit that forbids an event of this lobe now, or -1. The total limit counts first: raising the other alone would not help. */
  private forbids(lobe: number): number {
    if (this.probe >= 0) return -1;
    if (this.events >= this.settings.depth.total) return TOTAL_LIMIT;
    return this.counts[lobe] >= this.limits[lobe] ? lobe : -1;
  }

  /** Whether the path may go on with this lobe; turns it into a probe for the limit that it met, or stops it. */
  private passLimits(lobe: Lobe, index: number): boolean {
    const limit = this.forbids(lobe);
    if (limit < 0) return true;
    if (!this.probing(index, this.events)) return false;
    this.probe = limit;
    this.share /= PROBE_SHARE;
    return true;
  }

  private probing(index: number, depth: number): boolean {
    return hashUnit(hashPair(this.pixelKey ^ index, (depth * 4 + this.branch + 1) * 4096 + SLOT_PROBE)) < PROBE_SHARE;
  }

  private dimension(slot: number): number {
    return hash32(this.pixelKey ^ Math.imul((this.events * 4 + this.branch + 1) * 4096 + slot + 1, 0x9e3779b1));
  }

  private closest(): boolean {
    this.countRay();
    return this.query.closestHit(this.ox, this.oy, this.oz, this.dx, this.dy, this.dz, 0, Infinity, this.hit);
  }

  /** Books a ray on the lobe that its path began with, and on the limit that it is a probe for. */
  private countRay(): void {
    if (this.branch >= 0) this.record.branchRays[this.branch]++;
    if (this.probe >= 0) this.record.probeRays[this.probe]++;
  }

  /** Light of the vertex by choosing points on lights: all of them at the first surface, one further on. */
  private sampleLights(point: SurfacePoint, index: number, all: boolean): void {
    if (this.units === 0 || !(point.isSpread(DIFFUSE) || point.isSpread(SPECULAR) || point.isSpread(TRANSMISSION)))
      return;
    const count = all ? this.settings.lightSamples : 1;
    if (all) {
      this.share /= count;
      for (let unit = 0; unit < this.units; unit++)
        for (let k = 0; k < count; k++) this.sampleUnit(point, unit, index * count + k, index, count);
      this.share *= count;
    } else {
      samplePoint(this.point, this.dimension(SLOT_LIGHT - 1), index);
      this.sampleUnit(
        point,
        Math.min(this.units - 1, Math.floor(this.point[0] * this.units)),
        index,
        index,
        1 / this.units,
      );
    }
  }

  /** @param scale number of samples that this unit gets here (or the chance of its one) */
  private sampleUnit(point: SurfacePoint, unit: number, index: number, probeIndex: number, scale: number): void {
    const { light } = this;
    samplePoint(this.point, this.dimension(SLOT_LIGHT + unit * 2), index);
    const u = this.point[0];
    const v = this.point[1];
    if (unit < this.analytic) {
      if (!sampleLight(this.scene.lights, unit, point.px, point.py, point.pz, u, v, light)) return;
    } else if (unit === this.emitterUnit) {
      samplePoint(this.point, this.dimension(SLOT_LIGHT + unit * 2 + 1), index);
      const { emitters, objects, surfaces } = this.scene;
      const triangle = sampleEmitter(emitters, point.px, point.py, point.pz, this.point[0], u, v, light);
      if (triangle < 0) return;
      const surface = objects[emitters.sources[triangle * 2] * 4 + 1];
      for (let k = 0; k < 3; k++) light.radiance[k] = surfaces.values[surface * SURFACE_STRIDE + 17 + k];
    } else {
      sampleEnvironment(this.scene.environment!, u, v, this.direction);
      light.dx = this.direction[0];
      light.dy = this.direction[1];
      light.dz = this.direction[2];
      light.distance = Infinity;
      light.density = environmentAt(this.scene.environment!, light.dx, light.dy, light.dz, light.radiance);
    }
    const towards = point.gx * light.dx + point.gy * light.dy + point.gz * light.dz;
    let visible = false;
    for (let lobe = 0; lobe < LOBES; lobe++) {
      if (towards > 0 === (lobe === TRANSMISSION) || !point.isSpread(lobe as Lobe)) continue;
      const limit = this.forbids(lobe);
      if (limit >= 0 && !this.probing(probeIndex, this.events)) continue;
      if (!point.evaluate(lobe as Lobe, light.dx, light.dy, light.dz)) continue;
      if (!visible) {
        if (this.isBlocked(point, towards > 0 ? 1 : -1)) return;
        visible = true;
      }
      const weight =
        light.density === 0 ? 1 : power(scale * light.density, this.lobeScale(point, lobe) * point.density);
      const value = (weight * Math.max(1, scale)) / (scale * (light.density || 1));
      for (let k = 0; k < 3; k++) this.colour[k] = point.weight[k] * light.radiance[k] * value;
      this.medium.absorb(this.scene.surfaces.values, light.distance, this.colour);
      const component = this.branch < 0 ? DIRECT[lobe] : this.component;
      this.addLimited(
        component,
        limit >= 0 ? limit : this.probe,
        this.colour,
        limit >= 0 ? 1 / PROBE_SHARE : 1,
        this.events + 1,
      );
    }
  }

  private lobeScale(point: SurfacePoint, lobe: number): number {
    return this.branch < 0 ? this.splits[lobe] : point.chance[lobe];
  }

  private isBlocked(point: SurfacePoint, side: number): boolean {
    const { light, scene } = this;
    const { ox, oy, oz } = this;
    this.setOrigin(point, side);
    this.record.rays[SHADOW_RAY]++;
    this.countRay();
    const reach = light.distance * (1 - 1e-6) - 2e-6 * scene.extent;
    const blocked = this.query.anyHit(this.ox, this.oy, this.oz, light.dx, light.dy, light.dz, 0, reach);
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    return blocked;
  }

  /** Lights with a shape of their own that the ray passes before `reach`. */
  private meetLights(reach: number, component: number, fromCamera: boolean): void {
    const { lights } = this.scene;
    for (let i = 0; i < this.analytic; i++) {
      const density = meetLight(lights, i, this.ox, this.oy, this.oz, this.dx, this.dy, this.dz, reach);
      if (density === 0) continue;
      for (let k = 0; k < 3; k++) this.colour[k] = lights[i * LIGHT_STRIDE + 4 + k];
      this.add(component, this.colour, fromCamera ? 1 : this.surfaceWeight(density));
    }
  }

  private meetSky(component: number): void {
    if (!this.scene.environment) return;
    const density = environmentAt(this.scene.environment, this.dx, this.dy, this.dz, this.colour);
    this.add(component, this.colour, this.events === 0 ? 1 : this.surfaceWeight(density));
  }

  private meetEmitter(): void {
    const { emission } = this.later;
    if (emission[0] === 0 && emission[1] === 0 && emission[2] === 0) return;
    const first = this.scene.objects[this.hit.instance * 4 + 2];
    const density =
      first < 0
        ? 0
        : emitterDensity(this.scene.emitters, first + this.hit.triangle, this.dx, this.dy, this.dz, this.hit.t);
    this.add(this.component, emission, density > 0 ? this.surfaceWeight(density) : 1);
  }

  /** Weight of a light found by surface sampling that light sampling could have found too. */
  private surfaceWeight(lightDensity: number): number {
    return this.density === 0 ? 1 : power(this.density, this.lightScale * lightDensity);
  }

  private add(component: number, radiance: Float64Array, weight: number): void {
    this.addLimited(component, this.probe, radiance, weight, this.events);
  }

  /** @param limit the limit that this light is a probe for, or -1 */
  private addLimited(component: number, limit: number, radiance: Float64Array, weight: number, events: number): void {
    const { throughput, share } = this;
    const r = throughput[0] * radiance[0] * weight;
    const g = throughput[1] * radiance[1] * weight;
    const b = throughput[2] * radiance[2] * weight;
    if (limit >= 0) this.record.addCut(limit, r * share, g * share, b * share);
    else this.record.addLight(component, r, g, b, share, events);
  }

  private recordFirstHit(data: Film['data'], at: number): void {
    const { first, hit } = this;
    data[at + FILM.surfaceSamples]++;
    data[at + FILM.depth] += hit.t;
    first.addAlbedo(data, at + FILM.albedo);
    data[at + FILM.normal] += first.nx;
    data[at + FILM.normal + 1] += first.ny;
    data[at + FILM.normal + 2] += first.nz;
    if (data[at + FILM.objectId] === 0) {
      data[at + FILM.objectId] = hit.instance + 1;
      data[at + FILM.surfaceId] = first.surface + 1;
    }
  }
}

function power(mine: number, other: number): number {
  return (mine * mine) / (mine * mine + other * other);
}

function chooseLobe(chance: Float64Array, u: number): number {
  if (chance[0] + chance[1] + chance[2] === 0) return -1;
  if (u < chance[DIFFUSE]) return DIFFUSE;
  if (u < chance[DIFFUSE] + chance[SPECULAR]) return SPECULAR;
  // rounding may leave the sum below u: the last lobe with a chance takes the rest
  return chance[TRANSMISSION] > 0 ? TRANSMISSION : chance[SPECULAR] > 0 ? SPECULAR : DIFFUSE;
}
