// Light of a vertex by choosing points on lights. Together with metLight.ts it makes multiple importance sampling (power
// heuristic, Veach 1997, 9.2.4).
import {
  DIFFUSE,
  copyLight,
  LIGHT,
  LightPick,
  LightSample,
  LOBES,
  phase,
  pickLight,
  sampleEmitter,
  readSampled,
  sampleEnvironment,
  sampleLight,
  SPECULAR,
  SURFACE,
  TRANSMISSION,
  VOLUME,
  type Lobe,
  type SurfacePoint,
} from '../shade/index.ts';
import { luminance } from '../color/index.ts';
import type { CompiledScene } from './compile.ts';
import type { Crossing } from './crossing.ts';
import { NO_SHADOWS_ON_IT, OBJECT } from './compileGeometry.ts';
import { RAY_TYPES, SPLIT_KINDS } from './film.ts';
import { SKY, TREE, type LightUnits } from './lightUnits.ts';
import { MediumStack } from './mediumStack.ts';
import { DIRECT, SKY_SOURCE, SLOT, SURFACE_SOURCE, type Path } from './path.ts';
import { PROBE_SHARE } from './probes.ts';
import { SplitLevels } from './splitLevels.ts';
import { SideRay, type Visibility } from './visibility.ts';

const LIGHT_SPLITS = SPLIT_KINDS.indexOf('light');
/** Samples of each light of which one gets a shadow ray: with 1 a whole sky would count as much at the horizon as above. */
const CANDIDATES = 8;
const SHADOW_RAY = RAY_TYPES.indexOf('shadow');

export class DirectLight {
  private readonly light = new LightSample();
  private readonly pick = new LightPick();
  private readonly point2 = new Float64Array(2);
  private readonly colour = new Float64Array(3);
  private readonly shadowRay = new SideRay();
  /** Number (or chance) of samples of the light just chosen, and of its unit. */
  private scale = 1;
  private count = 1;
  /** The light just chosen (a number, SKY or TREE) and its group. */
  private item = SKY;
  private group = 0;
  private readonly kept = new LightSample();
  /** What of it arrives, and the part of that which the ray of a path could bring too: they share that part alone. */
  private readonly left = new Float64Array(3);
  private readonly open = new Float64Array(3);
  private readonly levels = new SplitLevels();
  /** What a shadow ray sets out in. */
  private readonly medium: MediumStack;
  /** The place of the surface that asks. */
  private crossing!: Crossing;

  constructor(
    private readonly scene: CompiledScene,
    private readonly units: LightUnits,
    private readonly visibility: Visibility,
  ) {
    this.medium = new MediumStack((object) => visibility.reader.surfaceOf(object), scene.surfaces.values);
  }

  /** Stands at the first surface, from where every branch sets out. */
  standAtFirst(path: Path, point: SurfacePoint): void {
    this.stand(path, point);
    this.units.askAll();
  }

  private stand(path: Path, point: SurfacePoint): void {
    const { vertex } = path;
    path.object = point.object;
    vertex[0] = point.px;
    vertex[1] = point.py;
    vertex[2] = point.pz;
    vertex[3] = point.nx;
    vertex[4] = point.ny;
    vertex[5] = point.nz;
  }

  /** Asks the lights for a vertex: all of them at the first surface, one further on. */
  ask(path: Path, point: SurfacePoint, crossing: Crossing, index: number, all: boolean): void {
    this.crossing = crossing;
    if (all) this.standAtFirst(path, point);
    else this.stand(path, point);
    if (this.units.items.length === 0) return;
    if (!(point.isSpread(DIFFUSE) || point.isSpread(SPECULAR) || point.isSpread(TRANSMISSION))) return;
    const { asked, items } = this.units;
    if (!all) {
      this.askOne(path, point, index);
      return;
    }
    const { levels } = this;
    const { record, settings } = path;
    const { lightSamples } = settings;
    const counts = lightSamples > 1;
    if (counts) levels.begin();
    for (let split = 0; split < lightSamples; split++) {
      const before = counts ? this.directLuminance(path) : 0;
      let now = split === 0 ? record.now() : 0;
      for (let unit = 0; unit < items.length; unit++) {
        const each = asked[unit];
        const count = each * lightSamples;
        path.share /= count;
        for (let k = split * each; k < (split + 1) * each; k++)
          this.askUnit(path, point, unit, index * count + k, index);
        path.share *= count;
        if (split > 0) continue;
        const after = record.now();
        // the others take as long
        record.addLightTime(this.units.groups[unit], (after - now) * lightSamples);
        now = after;
      }
      if (counts) levels.add((this.directLuminance(path) - before) * lightSamples);
    }
    if (counts) record.addSplits(LIGHT_SPLITS, levels);
  }

  private directLuminance({ record }: Path): number {
    return (
      record.luminanceOf(DIRECT[DIFFUSE]) +
      record.luminanceOf(DIRECT[SPECULAR]) +
      record.luminanceOf(DIRECT[TRANSMISSION])
    );
  }

  /** Asks the lights, one of them, for a place in a volume. */
  askVolume(path: Path, x: number, y: number, z: number, index: number): void {
    const { vertex } = path;
    path.object = -1;
    vertex[0] = x;
    vertex[1] = y;
    vertex[2] = z;
    vertex[3] = vertex[4] = vertex[5] = 0;
    if (this.units.items.length > 0) this.askOne(path, null, index);
  }

  private askOne(path: Path, point: SurfacePoint | null, index: number): void {
    const { asked, items } = this.units;
    this.units.weigh(path.vertex);
    path.sample(SLOT.unit, index, this.point2);
    let u = this.point2[0];
    let unit = 0;
    while (unit < items.length - 1 && u >= asked[unit]) u -= asked[unit++];
    if (asked[unit] > 0) this.askUnit(path, point, unit, index, index);
  }

  private askUnit(path: Path, point: SurfacePoint | null, unit: number, index: number, probeIndex: number): void {
    if (!this.choose(path, unit, index)) return;
    this.count = this.units.asked[unit];
    if (point) this.addSample(path, point, this.item, this.group, probeIndex);
    else this.addScattered(path, this.item, this.group, probeIndex);
  }

  /** Chooses a point of a unit for `path.vertex` into light, item, group and scale. False where it gives nothing there. */
  private choose(path: Path, unit: number, index: number): boolean {
    const { light, scene, point2 } = this;
    const at = path.vertex;
    path.sample(SLOT.light + unit * 2, index, point2);
    light.u = point2[0];
    light.v = point2[1];
    const { asked, items } = this.units;
    this.scale = asked[unit];
    let item = items[unit];
    let group = scene.environmentGroup;
    if (item === TREE) {
      path.sample(SLOT.light + unit * 2 + 1, index, point2);
      this.pick.u = point2[0];
      if (!pickLight(scene.lightTree!, at, this.pick)) return false;
      this.scale *= this.pick.chance;
      const emitters = scene.emitters.densities.length;
      if (this.pick.item < emitters) {
        if (!sampleEmitter(scene.emitters, this.pick.item, at, light)) return false;
        const surface = scene.objects[scene.emitters.sources[this.pick.item * 2] * OBJECT.stride + OBJECT.surface];
        const { values } = scene.surfaces;
        const s = surface * SURFACE.stride;
        if (light.distance > values[s + SURFACE.emissionReach] || path.events > values[s + SURFACE.emissionBounces]) return false; // prettier-ignore
        for (let k = 0; k < 3; k++) light.radiance[k] = values[s + SURFACE.emission + k];
        group = scene.emitterGroup;
        path.source = SURFACE_SOURCE;
        path.emitter = scene.emitters.sources[this.pick.item * 2];
      } else item = scene.treeLights[this.pick.item - emitters];
    } else if (item === SKY) {
      sampleEnvironment(scene.environment!, light);
      light.distance = Infinity;
      path.source = SKY_SOURCE;
    }
    if (item >= 0) {
      if (!this.units.isMeant(item, path.object, path.events)) return false;
      if (!sampleLight(scene.lights.values, item, at, light)) return false;
      path.source = item;
      group = scene.lights.values[item * LIGHT.stride + LIGHT.group];
    }
    this.item = item;
    this.group = group;
    return true;
  }

  /**
   * Share of the light at a place that shadows leave it, RGB: of some samples of each unit, the one that the shadow ray goes to is
   * chosen by what it would bring to a matt surface (resampling: Talbot, Cline & Egbert 2005). Where nothing comes, all is left.
   */
  arriving(path: Path, point: SurfacePoint, crossing: Crossing, index: number, out: Float64Array): void {
    const { kept, left, light, point2, scene, units } = this;
    out.fill(1);
    this.crossing = crossing;
    this.standAtFirst(path, point);
    path.sample(SLOT.held, index, point2);
    let [u] = point2;
    let all = 0;
    let item = SKY;
    for (let unit = 0; unit < units.items.length; unit++) {
      const count = units.asked[unit] * CANDIDATES;
      for (let k = 0; k < count; k++) {
        if (!this.choose(path, unit, index * count + k)) continue;
        const cosine = point.nx * light.dx + point.ny * light.dy + point.nz * light.dz;
        if (cosine <= 0 || point.gx * light.dx + point.gy * light.dy + point.gz * light.dz <= 0) continue;
        if (this.item === SKY) readSampled(scene.environment!, light);
        const { density, radiance } = light;
        const brings = (cosine * luminance(radiance[0], radiance[1], radiance[2])) / (this.scale * (density || 1));
        if (!(brings > 0)) continue;
        all += brings;
        const chance = brings / all;
        // the number is stretched to be used again
        if (u < chance) {
          u /= chance;
          item = this.item;
          copyLight(kept, light);
        } else u = (u - chance) / (1 - chance);
      }
    }
    if (all === 0) return;
    copyLight(light, kept);
    this.lookFrom(path, point, item, DIFFUSE, 1);
    out.set(left);
  }

  /**
   * Weighs the light just chosen for each lobe of the vertex: by the chances of one sample of each kind, however often each
   * is split. Weighed by how many there are (Veach 1997, 9.2), other splits would make another sum of it, and what they
   * bring could not be predicted from what is there: on a frosted pane before a lamp 4 transmission samples were predicted to
   * halve the noise and raised it, since they took the weight from light samples that were even. Seven scenes, the same
   * counts: 0.34 to 1.10 of the variance in the median pixel, twice as much in the noisier ones of the pane alone.
   */
  private addSample(path: Path, point: SurfacePoint, item: number, group: number, probeIndex: number): void {
    const { light, colour, count, left, open, scale } = this;
    point.wx = light.dx;
    point.wy = light.dy;
    point.wz = light.dz;
    const towards = point.gx * light.dx + point.gy * light.dy + point.gz * light.dz;
    let seen = false;
    // what lies behind frosted glass was asked for where the light was spread before, through the glass
    if (towards <= 0 && path.spread && path.straight && this.scene.clearShadows !== 'off') return;
    for (let lobe = 0; lobe < LOBES; lobe++) {
      if (towards > 0 === (lobe === TRANSMISSION) || !point.isSpread(lobe as Lobe)) continue;
      const limit = path.forbids(lobe);
      if (limit >= 0 && !path.isProbe(probeIndex)) continue;
      if (!point.evaluate(lobe as Lobe)) continue;
      if (!seen) {
        if (item === SKY) readSampled(this.scene.environment!, light);
        this.lookFrom(path, point, item, lobe as Lobe, towards > 0 ? 1 : -1);
        seen = true;
      }
      const own = path.branch < 0 ? 1 : point.chance[lobe];
      path.asked = light.density === 0 ? Infinity : scale * light.density;
      path.met = own * point.density;
      path.weighAsked();
      const other = 1 - path.weight;
      // the samples of a unit are averaged by the share of the path; its chance further on divides here
      const through = lobe === TRANSMISSION && !point.bounds ? this.crossing.throughSheet(path) : 1;
      const value = (through * Math.max(1, count)) / (scale * (light.density || 1));
      for (let k = 0; k < 3; k++) colour[k] = point.weight[k] * light.radiance[k] * value;
      if (path.events === 0) this.recordShadow(path, colour);
      for (let k = 0; k < 3; k++) colour[k] *= left[k] - open[k] * other;
      if (colour[0] === 0 && colour[1] === 0 && colour[2] === 0) continue;
      const component = path.branch < 0 ? DIRECT[lobe] : path.component;
      path.weight = limit >= 0 ? 1 / PROBE_SHARE : 1;
      path.add(component, group, limit >= 0 ? limit : path.probe, colour, lobe);
    }
  }

  /** The light just chosen, scattered towards the path. */
  private addScattered(path: Path, item: number, group: number, probeIndex: number): void {
    const { light, colour, left, open, scale, scene, shadowRay } = this;
    const limit = path.forbids(VOLUME);
    if (limit >= 0 && !path.isProbe(probeIndex)) return;
    if (item === SKY) readSampled(scene.environment!, light);
    const g = scene.surfaces.values[path.medium.surfaceThatCounts() + SURFACE.phase];
    const density = phase(path.dx * light.dx + path.dy * light.dy + path.dz * light.dz, g);
    this.medium.copyFrom(path.medium);
    shadowRay.ox = path.vertex[0];
    shadowRay.oy = path.vertex[1];
    shadowRay.oz = path.vertex[2];
    this.look(path, item, VOLUME, 0);
    path.asked = light.density === 0 ? Infinity : scale * light.density;
    path.met = density;
    path.weighAsked();
    const other = 1 - path.weight;
    const value = density / (scale * (light.density || 1));
    for (let k = 0; k < 3; k++) colour[k] = light.radiance[k] * value * (left[k] - open[k] * other);
    if (colour[0] === 0 && colour[1] === 0 && colour[2] === 0) return;
    path.weight = limit >= 0 ? 1 / PROBE_SHARE : 1;
    path.add(path.component, group, limit >= 0 ? limit : path.probe, colour, VOLUME);
  }

  private recordShadow(path: Path, colour: Float64Array): void {
    const { record } = path;
    for (let k = 0; k < 3; k++) record.light[k] = colour[k] * (1 - this.left[k]);
    record.share = path.share;
    record.addShadow();
  }

  /** What of the light arrives at a surface, on the one side or the other of it, into `left`. */
  private lookFrom(path: Path, point: SurfacePoint, item: number, lobe: Lobe, side: number): void {
    const { crossing, medium, scene } = this;
    medium.copyFrom(side < 0 ? crossing.beyond : path.medium);
    const shadows = (scene.objects[point.object * OBJECT.stride + OBJECT.flags] & NO_SHADOWS_ON_IT) === 0;
    crossing.setOut(point, side, this.shadowRay);
    this.look(path, item, lobe, 2 * point.offset, shadows);
  }

  /** All of the light arrives. Where it has a shape, the ray of a path meets it too unless something is in the way. */
  private passUnshadowed(path: Path, lobe: number): void {
    const { light, left, medium, open, shadowRay } = this;
    medium.absorb(light.distance, left);
    let share = 1;
    if (light.density > 0) {
      path.record.countRay(SHADOW_RAY);
      path.countRay(lobe);
      share = this.visibility.openness(shadowRay);
    }
    for (let k = 0; k < 3; k++) open[k] = share * left[k];
  }

  /**
   * What of the light arrives over the shadow ray, which sets out in `medium`, into `left`.
   * @param short how far before the light it ends, metres: its origin is off by as much
   * @param shadows whether the place receives any
   */
  private look(path: Path, item: number, lobe: number, short: number, shadows = true): void {
    const { light, medium, left, open, scene, shadowRay } = this;
    left[0] = left[1] = left[2] = 1;
    const at = item * LIGHT.stride;
    const table = scene.lights.values;
    shadowRay.dx = light.dx;
    shadowRay.dy = light.dy;
    shadowRay.dz = light.dz;
    shadowRay.time = path.time;
    shadowRay.distance = light.distance;
    shadowRay.reach = light.distance * (1 - 2e-6) - short;
    shadowRay.from = item >= 0 ? table[at + LIGHT.shadowFrom] : 0;
    shadowRay.to = item >= 0 ? table[at + LIGHT.shadowTo] : Infinity;
    if (!shadows || (item >= 0 && table[at + LIGHT.castsShadows] === 0)) {
      this.passUnshadowed(path, lobe);
      return;
    }
    path.record.countRay(SHADOW_RAY);
    path.countRay(lobe);
    if (!this.visibility.passes(shadowRay, medium, left)) left[0] = left[1] = left[2] = 0;
    for (let k = 0; k < 3; k++) open[k] = left[k] * this.visibility.share[k];
    if (item >= 0) for (let k = 0; k < 3; k++) left[k] += (1 - left[k]) * table[at + LIGHT.shadowColor + k];
  }
}
