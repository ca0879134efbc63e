// Follows one path at a time from the camera. Light sampling (directLight.ts) and surface sampling are combined for
// each lobe by itself, so that every component is estimated alone and all of them add up to the beauty picture. At the
// first surface each lobe is followed `...Samples` times; further on one lobe is chosen. Every random number is a
// function of (pixel, sample, dimension, seed).
//
// A path that meets a depth limit stops, but one in eight goes on as a probe: what it would have brought, times
// eight, is kept as the light cut off by that limit and never enters the picture. Adding up the throughput lost at
// the limit would cost nothing, but it cannot tell a path that would have found the window from one that would have
// died in the dark.
import { hashPair } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { DIFFUSE, LOBES, phase, samplePhase, SPECULAR, SURFACE, SurfacePoint, TRANSMISSION, VOLUME, type Lobe } from '../shade/index.ts'; // prettier-ignore
import { RAY_KINDS } from '../trace/index.ts';
import { OcclusionLayer } from './ambientOcclusion.ts';
import type { CompiledScene } from './compile.ts';
import { Crossing } from './crossing.ts';
import { OBJECT } from './compileGeometry.ts';
import { DirectLight } from './directLight.ts';
import { COMPONENTS, FILM, filmStride, hitsSlot, type Film } from './film.ts';
import { hitSteps, type FilmExtra } from './filmExtras.ts';
import { recordFirstHit } from './firstHit.ts';
import { clipRay } from './camera.ts';
import { CameraSamples } from './cameraSamples.ts';
import { HitSketch } from './hitSketch.ts';
import { LightUnits } from './lightUnits.ts';
import { MediumStack } from './mediumStack.ts';
import { MetLight } from './metLight.ts';
import { DIRECT, INDIRECT, Path, SLOT, SURFACE_SOURCE } from './path.ts';
import { emptyPathTallies, TALLY_GROUPS, type PathTallies } from './pathTallies.ts';
import type { PathVertex } from './replay.ts';
import { ReplayRecorder } from './replayRecorder.ts';
import { survivalChance } from './roulette.ts';
import { SampleRecord, TIMED_EVERY } from './sampleRecord.ts';
import { ShadowCatcher } from './shadowCatcher.ts';
import { SplitLevels } from './splitLevels.ts';
import { STRATEGIES, type Strategies } from './strategies.ts';
import { toSurface } from './surfaceLook.ts';
import { MET, NOTHING, SCATTERED, Traveller } from './traveller.ts';
import { Visibility } from './visibility.ts';

const EMISSION = COMPONENTS.indexOf('emission');
const BACKGROUND = COMPONENTS.indexOf('background');
const PROBE_EVENTS = 128;
/** Growth of a ray's cone after a diffuse event, for the width of texture look-ups (no source; 0.25 shows no moiré). */
const DIFFUSE_GROWTH = 0.25;
const KINDS = [RAY_KINDS.diffuse, RAY_KINDS.specular, RAY_KINDS.transmission];

export class PathTracer {
  private readonly first: SurfacePoint;
  private readonly later: SurfacePoint;
  private readonly visibility: Visibility;
  private readonly lights: DirectLight;
  private readonly met: MetLight;
  private readonly record: SampleRecord;
  private readonly path: Path;
  private readonly cameraSamples: CameraSamples;
  /** Where the camera's ray ended, and in what it came there. */
  private readonly atFirst: Crossing;
  private readonly atLater: Crossing;
  private readonly firstMedium: MediumStack;
  private readonly occlusion: OcclusionLayer;
  private readonly clayLight = new Float64Array(3);
  private readonly splits: number[];
  private readonly floor: number;
  private readonly reach: number;
  private readonly point = new Float64Array(2);
  /** Colour chosen for the first surface of this sample, or -1. */
  private firstChannel = -1;
  private readonly firstTint = new Float64Array(3);
  private firstWidth = 0;
  private firstGrowth = 0;
  private readonly levels = new SplitLevels();
  private readonly traveller: Traveller;
  private readonly turned = new Float64Array(3);
  private replaying: ReplayRecorder | null = null;

  private tallies: PathTallies | null;
  private readonly hits: HitSketch | null;
  /** Numbers of a pixel in its films. */
  readonly stride: number;

  /**
   * @param thread number of the calling thread among those that use this scene, 0..63
   * @param extras kept beside the film
   */
  constructor(
    private readonly scene: CompiledScene,
    readonly settings: RenderSettings,
    thread = 0,
    private readonly strategies: Strategies = STRATEGIES,
    extras: readonly FilmExtra[] = [],
  ) {
    this.stride = filmStride(settings, extras);
    this.tallies = extras.includes('light') || extras.includes('paths') ? emptyPathTallies() : null;
    this.first = new SurfacePoint(scene.surfaces, scene.textures);
    this.later = new SurfacePoint(scene.surfaces, scene.textures);
    this.visibility = new Visibility(scene, new SurfacePoint(scene.surfaces, scene.textures), thread);
    this.record = new SampleRecord(settings);
    this.splits = [
      settings.diffuseSamples,
      settings.specularSamples,
      settings.transmissionSamples,
      settings.volumeSamples,
    ];
    const units = new LightUnits(scene);
    this.lights = new DirectLight(scene, units, this.visibility);
    this.met = new MetLight(scene, units);
    const surfaceOf = (object: number) => this.visibility.reader.surfaceOf(object);
    this.path = new Path(settings, this.record, strategies, surfaceOf, scene.surfaces.values);
    this.path.talliesRays = extras.includes('paths');
    const makeStack = () => new MediumStack(surfaceOf, scene.surfaces.values);
    this.cameraSamples = new CameraSamples(scene, settings, this.visibility, makeStack);
    this.firstMedium = makeStack();
    this.atFirst = new Crossing(scene, this.visibility, makeStack);
    this.atLater = new Crossing(scene, this.visibility, makeStack);
    const steps = hitSteps(extras);
    this.hits = steps ? new HitSketch(steps, hitsSlot(settings)) : null;
    this.occlusion = new OcclusionLayer(scene, settings.occlusion, this.visibility, makeStack, this.hits);
    const catcher = new ShadowCatcher(scene, this.visibility, this.lights, this.later);
    this.traveller = new Traveller(scene, this.visibility, this.met, catcher, makeStack);
    this.floor = settings.roughnessFloor;
    this.reach = settings.rayDistance || Infinity;
  }

  /**
   * Adds samples start .. start + count - 1 of one pixel to its sums.
   * @param at first slot of the pixel in `data`
   * @param clock milliseconds
   * @param set of points: 0 is that of the picture, others are independent of it
   */
  renderPixel(
    px: number,
    py: number,
    start: number,
    count: number,
    data: Film['data'],
    at: number,
    clock: () => number,
    set = 0,
  ): void {
    const started = clock();
    this.record.clock = clock;
    this.startPixel(px, py, set);
    if (this.path.tallies) this.path.tallies.samples[this.path.tallyGroup] += count;
    for (let s = start; s < start + count; s++) {
      this.traceSample(px, py, s, data, at);
      this.record.store(s);
    }
    data[at + FILM.time] += clock() - started;
  }

  /** What was tallied since the last call; undefined where nothing is. */
  takeTallies(): PathTallies | undefined {
    if (!this.tallies) return undefined;
    const taken = this.tallies;
    this.tallies = emptyPathTallies();
    return taken;
  }

  /** The vertices of one sample of one pixel, as render() has followed or would follow it. */
  replay(px: number, py: number, sample: number): PathVertex[] {
    const recorder = new ReplayRecorder(this.scene, this.path);
    this.replaying = recorder;
    this.startPixel(px, py, 0);
    this.traceSample(px, py, sample, new Float64Array(this.stride), 0);
    // what was booked must not stand in the record of the next sample
    this.record.store(sample);
    this.replaying = null;
    this.path.onLight = null;
    return recorder.vertices;
  }

  private startPixel(px: number, py: number, set: number): void {
    const key = hashPair(hashPair(px, py), this.settings.seed);
    this.path.pixelKey = set === 0 ? key : hashPair(key, set);
    // the second set of points is no part of the picture
    this.path.tallies = set === 0 ? this.tallies : null;
    this.path.tallyGroup = (key >>> 0) % TALLY_GROUPS;
  }

  private traceSample(px: number, py: number, sample: number, data: Film['data'], at: number): void {
    const { path, record } = this;
    record.begin(data, at, sample, (px + 2 * py + sample) % TIMED_EVERY === 0);
    record.weight = this.cameraSamples.begin(path, px, py, sample);
    record.countRay(0);
    if (this.settings.clay) {
      if (toSurface(path, this.scene.camera, this.visibility, this.atFirst, sample)) this.shadeFirst(sample, data, at);
      return;
    }
    const { stretches } = this.traveller;
    stretches.clear();
    clipRay(path, this.scene.camera);
    const ended = this.traveller.travel(path, this.atFirst, sample, EMISSION);
    if (ended === NOTHING) this.met.meetSky(path, BACKGROUND);
    else if (ended === MET) this.shadeFirst(sample, data, at);
    if (stretches.count > 0) this.followSplits(VOLUME, sample);
  }

  /** Light of the first surface, and of the branches that leave it. */
  private shadeFirst(sample: number, data: Film['data'], at: number): void {
    const { first, lights, path } = this;
    this.readHit(first, this.atFirst, sample);
    this.firstMedium.copyFrom(path.medium);
    this.firstChannel = path.channel;
    this.firstWidth = path.width;
    this.firstGrowth = path.growth;
    for (let k = 0; k < 3; k++) this.firstTint[k] = path.throughput[k];
    recordFirstHit(data, at, this.first, this.visibility.hit.instance, this.visibility.hit.t);
    const { clay, occlusion } = this.settings;
    let open = 1;
    if (clay || occlusion.samples > 0) {
      this.hits?.begin(data, at);
      open = this.occlusion.openness(path, first, this.atFirst, sample);
      this.record.addOcclusion(open);
      first.occlude(open);
    }
    path.source = SURFACE_SOURCE;
    path.emitter = first.object;
    path.weight = 1;
    // a clay look has the layer for its only light, in no color
    if (clay) path.throughput.fill(1);
    path.add(EMISSION, this.scene.emitterGroup, -1, clay ? this.clayLight.fill(open) : first.emission, -1);
    if (clay) return;
    lights.ask(path, first, this.atFirst, sample, true);
    for (let lobe = 0; lobe < LOBES; lobe++) if (first.chance[lobe] > 0) this.followSplits(lobe, sample);
  }

  /** Follows one lobe of the first surface, or the volumes before it, as often as the settings ask. */
  private followSplits(lobe: number, sample: number): void {
    const { first, levels, path, record } = this;
    const count = this.splits[lobe];
    const started = record.now();
    const counts = count > 1;
    if (counts) levels.begin();
    for (let k = 0; k < count; k++) {
      const before = counts ? this.branchLuminance(lobe) : 0;
      path.split = k;
      if (lobe === VOLUME) this.followVolume(sample * count + k, count);
      else this.followBranch(first, lobe as Lobe, sample * count + k, count);
      if (counts) levels.add((this.branchLuminance(lobe) - before) * count);
    }
    if (counts) record.addSplits(lobe, levels);
    record.addKindTime(lobe, started);
  }

  private branchLuminance(lobe: number): number {
    const direct = this.record.luminanceOf(DIRECT[lobe]);
    return DIRECT[lobe] === INDIRECT[lobe] ? direct : direct + this.record.luminanceOf(INDIRECT[lobe]);
  }

  private followBranch(first: SurfacePoint, lobe: Lobe, index: number, splits: number): void {
    const { path } = this;
    path.begin();
    path.medium.copyFrom(this.firstMedium);
    path.channel = this.firstChannel;
    path.width = this.firstWidth;
    path.growth = this.firstGrowth;
    this.lights.standAtFirst(path, first);
    path.share = 1 / splits;
    if (!path.passLimits(lobe, index)) return;
    path.branch = lobe;
    path.component = DIRECT[lobe];
    path.sample(SLOT.direction, index, this.point);
    if (!first.sample(lobe, this.point)) return;
    for (let k = 0; k < 3; k++) path.throughput[k] = this.firstTint[k] * first.weight[k];
    path.density = first.density;
    this.leave(first, this.atFirst, lobe);
    while (this.advance(index));
    path.branch = -1;
  }

  /** Light that the volumes before the first surface scatter: one point of them, and the path from there. */
  private followVolume(index: number, splits: number): void {
    const { path } = this;
    const { stretches } = this.traveller;
    path.begin();
    path.share = 1 / splits;
    path.sample(SLOT.flight, index, this.point);
    if (!stretches.choose(this.point[0], this.point[1])) return;
    path.medium.copyFrom(stretches.mediumOf(stretches.place));
    path.branch = VOLUME;
    path.component = DIRECT[VOLUME];
    path.throughput.set(stretches.weight);
    this.cameraSamples.turnBack(path);
    if (this.scatter(stretches.distance, index)) while (this.advance(index));
    path.branch = -1;
  }

  /** One ray and what it meets. False where the path ends. */
  private advance(index: number): boolean {
    const { later, path, visibility } = this;
    const { throughput } = path;
    path.tMin = 0;
    path.tMax = this.reach;
    const ended = this.traveller.travel(path, this.atLater, index, path.component);
    if (ended === NOTHING) {
      this.met.meetSky(path, path.component);
      return false;
    }
    if (ended === MET) {
      this.readHit(later, this.atLater, index);
      this.met.meetEmitter(path, later, visibility.hit.triangle, path.component);
    }
    path.component = INDIRECT[path.branch];
    if (path.events >= PROBE_EVENTS && path.probe >= 0) return false;

    path.sample(SLOT.lobe, index, this.point);
    const choice = this.point[0];
    if (this.strategies.roulette) {
      const survival = survivalChance(throughput, path.etaScale, path.events);
      if (this.point[1] >= survival) return false;
      for (let k = 0; k < 3; k++) throughput[k] /= survival;
    }
    if (ended === SCATTERED) return this.scatter(path.to, index);
    this.lights.ask(path, later, this.atLater, index, false);
    const lobe = chooseLobe(later.chance, choice);
    if (lobe < 0 || !path.passLimits(lobe as Lobe, index)) return false;
    path.sample(SLOT.direction, index, this.point);
    if (!later.sample(lobe as Lobe, this.point)) return false;
    const chance = later.chance[lobe];
    for (let k = 0; k < 3; k++) throughput[k] *= later.weight[k] / chance;
    if (throughput[0] === 0 && throughput[1] === 0 && throughput[2] === 0) return false;
    path.density = later.density * chance;
    this.leave(later, this.atLater, lobe as Lobe);
    return true;
  }

  /** Scatters a path in the volume that it is in, at a distance along its ray. False where a limit ends it. */
  private scatter(distance: number, index: number): boolean {
    const { path, scene, turned } = this;
    const x = path.ox + distance * path.dx;
    const y = path.oy + distance * path.dy;
    const z = path.oz + distance * path.dz;
    const at = path.medium.surfaceThatCounts();
    this.replaying?.scatter([x, y, z], path.medium.objectThatCounts(), at / SURFACE.stride, distance);
    this.lights.askVolume(path, x, y, z, index);
    if (!path.passLimits(VOLUME, index)) return false;
    path.sample(SLOT.direction, index, this.point);
    const g = scene.surfaces.values[at + SURFACE.phase];
    const cosine = samplePhase(path.dx, path.dy, path.dz, g, this.point[0], this.point[1], turned);
    path.density = phase(cosine, g);
    this.replaying?.leave(VOLUME, path.density);
    path.passClear(false, true);
    path.spreadFrom(x, y, z);
    path.happen(VOLUME);
    path.kind = RAY_KINDS.diffuse;
    this.record.countRay(1 + VOLUME);
    path.growth = Math.max(path.growth, DIFFUSE_GROWTH);
    path.ox = x;
    path.oy = y;
    path.oz = z;
    path.dx = turned[0];
    path.dy = turned[1];
    path.dz = turned[2];
    return true;
  }

  /** Reads the surface at the hit. Where it disperses, the path goes on in one colour, chosen in turn by the samples. */
  private readHit(point: SurfacePoint, crossing: Crossing, index: number): void {
    const { path, visibility, scene } = this;
    const { hit, reader } = visibility;
    path.width += path.growth * hit.t;
    // the film keeps the UVs of the first surface
    reader.place(hit, path, point, point === this.first);
    const surface = scene.objects[hit.instance * OBJECT.stride + OBJECT.surface];
    point.relativeIor = 0;
    if (reader.bounds(hit.instance)) {
      const { values } = scene.surfaces;
      const at = surface * SURFACE.stride + SURFACE.ior;
      if (path.channel < 0 && values[at] !== values[at + 2]) {
        path.channel = (index + Math.floor(3 * path.chance(SLOT.channel, Math.floor(index / 3)))) % 3;
        for (let k = 0; k < 3; k++) path.throughput[k] *= k === path.channel ? 3 : 0;
      }
      const leaving = point.gx * path.dx + point.gy * path.dy + point.gz * path.dz > 0;
      point.relativeIor = crossing.relativeIor(path, hit.instance, leaving, path.channel < 0 ? 1 : path.channel);
    }
    point.roughnessFloor = path.spread ? this.floor : 0;
    point.prepare(surface, path);
    this.replaying?.meet(point, hit.t);
  }

  /** Counts the event and sets out from a point in its sampled direction. */
  private leave(point: SurfacePoint, crossing: Crossing, lobe: Lobe): void {
    const { path } = this;
    this.replaying?.leave(lobe, point.density);
    const spread = path.density > 0;
    if (this.scene.clearShadows !== 'off') path.passClear(lobe === TRANSMISSION, spread);
    if (spread) path.spreadFrom(point.px, point.py, point.pz);
    path.happen(lobe);
    path.kind = KINDS[lobe];
    this.record.countRay(1 + lobe);
    if (lobe === TRANSMISSION) {
      if (point.bounds) path.etaScale *= point.etaSquared;
      else path.rescale(crossing.throughSheet(path));
      path.medium.copyFrom(crossing.beyond);
    }
    const growth =
      lobe === DIFFUSE ? DIFFUSE_GROWTH : spread ? point.values.roughness * point.values.roughness * 0.5 : 0;
    path.growth = Math.max(path.growth, growth);
    crossing.setOut(point, lobe === TRANSMISSION ? -1 : 1, path);
    path.dx = point.wx;
    path.dy = point.wy;
    path.dz = point.wz;
  }
}

function chooseLobe(chance: Float64Array, u: number): number {
  if (chance[0] + chance[1] + chance[2] === 0) return -1;
  if (u < chance[DIFFUSE]) return DIFFUSE;
  if (u < chance[DIFFUSE] + chance[SPECULAR]) return SPECULAR;
  // rounding may leave the sum below u: the last lobe with a chance takes the rest
  return chance[TRANSMISSION] > 0 ? TRANSMISSION : chance[SPECULAR] > 0 ? SPECULAR : DIFFUSE;
}
