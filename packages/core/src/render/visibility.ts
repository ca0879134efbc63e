// Rays through surfaces that are not there for them: holes and shares of opacity, back faces of single-sided objects,
// and glass where its shadows are to let light through.
import { luminance } from '../color/index.ts';
import { SURFACE, type SurfacePoint } from '../shade/index.ts';
import { MediumStack } from './mediumStack.ts';
import {
  ALL_RAYS,
  copyPlace,
  emptyHit,
  MOST_HITS,
  openRayQuery,
  RAY_KINDS,
  type Hit,
  type RayQuery,
} from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { ASKS, OBJECT } from './compileGeometry.ts';
import { HitReader, type TracedRay } from './hitReader.ts';
import { SLOT, type Path } from './path.ts';

/** A ray is let through at most so many surfaces. */
const MOST_PASSED = 256;
/** Surfaces at distances that are the same to so much, relative, lie at one place. */
const SAME = 1e-12;

/** A ray that is not that of a path. */
export class SideRay implements TracedRay {
  ox = 0;
  oy = 0;
  oz = 0;
  dx = 0;
  dy = 0;
  dz = 1;
  time = 0;
  width = 0;
  /** How far to look. */
  reach = Infinity;
  /** What casts a shadow: what stands between these distances. */
  from = 0;
  to = Infinity;
  /** To the light of a shadow ray, or to what was found. */
  distance = Infinity;
  /** What was found, where its distance was asked for. */
  object = -1;
}

export class Visibility {
  readonly hit = emptyHit();
  readonly reader: HitReader;
  private readonly passed = emptyHit();
  /** What gather() found: the first `crowdCount`, nearest first. */
  readonly crowd: Hit[] = Array.from({ length: MOST_HITS }, emptyHit);
  crowdCount = 0;
  /** Objects that a ray has passed at the place where it is, and their number. */
  private readonly here = new Int32Array(MOST_HITS);
  private passedHere = 0;
  private readonly inside: MediumStack;
  private readonly query: RayQuery;

  /** Of the light that passed last, RGB. */
  readonly share = new Float64Array(3);
  private readonly light = new Float64Array(3);
  /** What the surface that is passed lets through, RGB. */
  private readonly tinted = new Float64Array(3);

  constructor(
    private readonly scene: CompiledScene,
    /** Filled with what a ray passes; its owner reads nothing from it afterwards. */
    private readonly scratch: SurfacePoint,
    thread: number,
  ) {
    this.query = openRayQuery(scene.rays, thread);
    this.reader = new HitReader(scene);
    this.inside = new MediumStack((object) => this.reader.surfaceOf(object), scene.surfaces.values);
  }

  /**
   * The first surface that stops the ray of a path, or boundary of a volume that is no surface, into `hit`. It is crowded
   * where more lies at the same place: a surface there is crossed together with such a boundary.
   */
  closest(path: Path, index: number): boolean {
    const found = this.closestSurface(path, index);
    if (!this.scene.bounds) return found;
    const { hit, passed } = this;
    const { crowding } = this.scene;
    const reach = found ? hit.t + crowding : path.tMax;
    if (!this.trace(path, path.tMin, reach, boundaryOf(path), passed)) return found;
    if (found && Math.abs(passed.t - hit.t) <= crowding) hit.crowded = passed.crowded = true;
    if (found && passed.t >= hit.t) return true;
    hit.crowded = passed.crowded;
    copyPlace(hit, passed);
    return true;
  }

  private closestSurface(path: Path, index: number): boolean {
    const { hit, scene } = this;
    for (let passed = 0; ; passed++) {
      const found = passed ? this.traceOn(path, path.tMax, path.kind, hit) : this.traceFirst(path, path.tMin, path.tMax, path.kind, hit); // prettier-ignore
      if (!found) return false;
      if ((scene.objects[hit.instance * OBJECT.stride + OBJECT.flags] & ASKS) === 0 || passed >= MOST_PASSED)
        return true;
      const opacity = this.reader.opacity(hit, path, this.scratch);
      if (opacity === 1 || path.chance(SLOT.opacity, index * 256 + passed) < opacity) return true;
    }
  }

  private traceFirst(ray: TracedRay, tMin: number, tMax: number, kinds: number, hit: Hit): boolean {
    this.passedHere = 0;
    return this.trace(ray, tMin, tMax, kinds, hit);
  }

  /** The next surface of a ray that passes `hit`: another one at the same place, which a query beyond it would skip, or the next beyond. */
  private traceOn(ray: TracedRay, tMax: number, kinds: number, hit: Hit): boolean {
    if (!hit.crowded) return this.traceFirst(ray, hit.t, tMax, kinds, hit);
    const { crowd, here } = this;
    const beyond = hit.t * (1 + SAME);
    here[this.passedHere++] = hit.instance;
    const found = this.passedHere < MOST_HITS ? this.query.allHits(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, hit.t * (1 - SAME), beyond, kinds, ray.time, crowd) : 0; // prettier-ignore
    let next = -1;
    for (let i = 0; i < found; i++) {
      let isPassed = false;
      for (let k = 0; k < this.passedHere; k++) isPassed ||= here[k] === crowd[i].instance;
      if (!isPassed && (next < 0 || crowd[i].instance < crowd[next].instance)) next = i;
    }
    if (next < 0) return this.traceFirst(ray, beyond, tMax, kinds, hit);
    copyPlace(hit, crowd[next]);
    return true;
  }

  private trace(ray: TracedRay, tMin: number, tMax: number, kind: number, hit: Hit): boolean {
    return this.query.closestHit(
      ray.ox,
      ray.oy,
      ray.oz,
      ray.dx,
      ray.dy,
      ray.dz,
      tMin,
      tMax,
      kind,
      ray.time,
      this.scene.crowding,
      hit,
    );
  }

  /** The kinds of surfaces and boundaries that the ray of a path meets. */
  kindsOf(path: Path): number {
    return path.kind | boundaryOf(path);
  }

  /**
   * Everything that lies at the place of a hit and is there for a ray, nearest first, into `crowd`: what follows each other
   * closer than the offsets of rays from the first.
   * @param holes whether objects count whose surface may be a hole; otherwise they do as a whole or not at all
   * @returns the number of them
   */
  gather(ray: TracedRay, hit: Hit, kinds: number, holes = false): number {
    const { crowd, reader, scene } = this;
    const { t, instance } = hit;
    const found = this.query.allHits(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, t * (1 - SAME), Math.max(t + scene.crowding, t * (1 + SAME)), kinds, ray.time, crowd); // prettier-ignore
    let count = 0;
    for (let i = 0; i < found; i++) {
      const other = crowd[i];
      const asks = (scene.objects[other.instance * OBJECT.stride + OBJECT.flags] & ASKS) !== 0;
      const unseen = scene.surfaces.values[reader.surfaceOf(other.instance) * SURFACE.stride + SURFACE.unseen] > 0;
      if (!holes && asks && !unseen && other.instance !== instance && (!reader.bounds(other.instance) || reader.opacity(other, ray, this.scratch) < 0.5)) continue; // prettier-ignore
      // sorted by distance, then by object
      let at = count++;
      crowd[i] = crowd[at];
      for (; at > 0 && isBefore(other, crowd[at - 1]); at--) crowd[at] = crowd[at - 1];
      crowd[at] = other;
    }
    if (count > 1) {
      reader.place(crowd[0], ray, this.scratch, false);
      const { gx, gy, gz } = this.scratch;
      const cosine = Math.abs(gx * ray.dx + gy * ray.dy + gz * ray.dz);
      const near = Math.min(scene.crowding, (4 * scene.objectOffsets[crowd[0].instance]) / Math.max(cosine, 1e-6));
      const apart = Math.max(near, 2 * SAME * t);
      let same = 1;
      while (same < count && crowd[same].t - crowd[same - 1].t <= apart) same++;
      count = same;
    }
    return (this.crowdCount = count);
  }

  /** Whether one of `crowd` is the first of its object, and no body that is entered and left there alike: the two sides of a leaf are one. */
  isCrossed(index: number): boolean {
    const { crowd, crowdCount } = this;
    const { instance, front } = crowd[index];
    for (let i = 0; i < crowdCount; i++)
      if (crowd[i].instance === instance && (i < index || (crowd[i].front !== front && this.reader.bounds(instance)))) return false; // prettier-ignore
    return true;
  }

  /** Nearest surface of any kind beyond tMin, without questions, into `hit`. */
  plainHit(ray: TracedRay, tMin: number): boolean {
    return this.trace(ray, tMin, Infinity, ALL_RAYS, this.hit);
  }

  /**
   * Multiplies `light` by what arrives over a shadow ray, and sets `share` to what of that the ray of a path would have
   * brought as well; false where nothing arrives.
   * @param medium what the ray sets out in
   */
  passes(ray: SideRay, medium: MediumStack, light: Float64Array): boolean {
    this.share[0] = this.share[1] = this.share[2] = 1;
    if (!this.passesShadows(ray, medium, light)) return false;
    // the ray of a path is stopped at any distance
    if (ray.from > 0 || ray.to < ray.reach) this.share.fill(this.openness(ray));
    else if (this.scene.shadowless) {
      const open = this.opennessFor(ray, RAY_KINDS.shadowless);
      for (let k = 0; k < 3; k++) this.share[k] *= open;
    }
    return true;
  }

  /** What of the light arrives over a ray, whatever shadows are asked for: 0..1. */
  openness(ray: SideRay): number {
    if (this.query.anyHit(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, ray.reach, RAY_KINDS.shadow, ray.time))
      return 0;
    const { asks, shadowless } = this.scene;
    if (!asks && !shadowless) return 1;
    return this.opennessFor(ray, RAY_KINDS.shadowless | RAY_KINDS.clearShadow);
  }

  private opennessFor(ray: SideRay, kinds: number): number {
    const { passed, reader, scene } = this;
    let open = 1;
    for (let count = 0; count < MOST_PASSED && open > 0; count++) {
      const found = count ? this.traceOn(ray, ray.reach, kinds, passed) : this.traceFirst(ray, 0, ray.reach, kinds, passed); // prettier-ignore
      if (!found) return open;
      const unseen = scene.surfaces.values[reader.surfaceOf(passed.instance) * SURFACE.stride + SURFACE.unseen] > 0;
      if (!unseen) open *= 1 - reader.opacity(passed, ray, this.scratch);
    }
    return 0;
  }

  private passesShadows(ray: SideRay, medium: MediumStack, light: Float64Array): boolean {
    const { reach } = ray;
    const to = Math.min(reach, ray.to);
    if (this.query.anyHit(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, ray.from, to, RAY_KINDS.shadow, ray.time))
      return false;
    if (!this.scene.asks) {
      medium.absorb(ray.distance, light);
      return true;
    }
    const { inside, passed } = this;
    inside.copyFrom(medium);
    let tMin = 0;
    for (let count = 0; count < MOST_PASSED; count++) {
      if (!this.trace(ray, tMin, reach, RAY_KINDS.clearShadow, passed)) {
        inside.absorb(ray.distance - tMin, light);
        return true;
      }
      inside.absorb(passed.t - tMin, light);
      tMin = passed.t;
      if (!passed.crowded || this.gather(ray, passed, RAY_KINDS.clearShadow, true) < 2) {
        if (!this.passesOne(ray, passed, light, this.scene.clearShadows)) return false;
        continue;
      }
      for (let i = 0; i < this.crowdCount; i++) {
        tMin = this.crowd[i].t;
        if (this.isCrossed(i) && !this.passesOne(ray, this.crowd[i], light, this.scene.clearShadows)) return false;
      }
    }
    return false;
  }

  /** Takes from `light` what a surface on the way of a shadow ray stops, and goes on beyond it; false where nothing is left. */
  private passesOne(ray: SideRay, hit: Hit, light: Float64Array, glass: CompiledScene['clearShadows']): boolean {
    const { inside, reader, scene } = this;
    const { instance } = hit;
    const { values } = scene.surfaces;
    const at = reader.surfaceOf(instance) * SURFACE.stride;
    const unseen = values[at + SURFACE.unseen] > 0;
    if (!unseen && hit.t >= ray.from && hit.t <= ray.to) {
      const opacity = reader.opacity(hit, ray, this.scratch);
      if (opacity === 0) return true;
      const clear = glass === 'off' ? 0 : values[at + SURFACE.transmission];
      if (clear > 0 && glass === 'tinted') this.scratch.values.readThrough(reader.surfaceOf(instance), this.tinted);
      else this.tinted.fill(clear);
      let left = 0;
      for (let k = 0; k < 3; k++) {
        const through = 1 - opacity * (1 - this.tinted[k]);
        light[k] *= through;
        // the ray of a path that goes through glass brings no light where shadow rays do
        if (clear > 0 && through > 0) this.share[k] *= (1 - opacity) / through;
        left = Math.max(left, light[k]);
      }
      if (left === 0) return false;
    }
    if (!reader.bounds(instance)) return true;
    if (reader.isBack(hit)) {
      if (inside.has(instance)) inside.leave(instance);
      // glass that is to be plain takes nothing
    } else if (unseen || glass === 'tinted') inside.enter(instance);
    return true;
  }

  /**
   * The nearest surface within the reach of a ray, whether light passes it or not: its distance, or Infinity.
   * @param near whether the nearest is wanted; otherwise the distance of any will do
   */
  findObstacle(ray: SideRay, near: boolean): void {
    const { passed, reader, scene } = this;
    const { values } = scene.surfaces;
    ray.distance = Infinity;
    let kinds = RAY_KINDS.shadow | RAY_KINDS.clearShadow;
    // what blocks a shadow ray whole counts whatever else lies on the way
    if (!near) {
      if (this.query.anyHit(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, ray.reach, RAY_KINDS.shadow, ray.time)) {
        ray.distance = 0;
        return;
      }
      if (!scene.asks) return;
      kinds = RAY_KINDS.clearShadow;
    }
    for (let count = 0; count < MOST_PASSED; count++) {
      const found = count ? this.traceOn(ray, ray.reach, kinds, passed) : this.traceFirst(ray, 0, ray.reach, kinds, passed); // prettier-ignore
      if (!found) return;
      const unseen = values[reader.surfaceOf(passed.instance) * SURFACE.stride + SURFACE.unseen] > 0;
      const asks = (scene.objects[passed.instance * OBJECT.stride + OBJECT.flags] & ASKS) !== 0;
      if (!unseen && (!asks || reader.opacity(passed, ray, this.scratch) >= 0.5)) {
        ray.distance = passed.t;
        ray.object = passed.instance;
        return;
      }
    }
  }

  /**
   * What stops a ray that passes clear surfaces. Each takes of its light what tint, absorption and opacity take, and the ray
   * ends where of its luminance no more than a given share is left: of rays with even shares, as many pass as light does.
   * Refraction and reflection are left out, and so is haze.
   * @param medium what the ray sets out in @param least 0..1
   */
  findSolid(ray: SideRay, medium: MediumStack, least: number): void {
    const { inside, light, passed } = this;
    ray.distance = Infinity;
    light.fill(1);
    inside.copyFrom(medium);
    let tMin = 0;
    for (let count = 0; count < MOST_PASSED; count++) {
      if (!this.trace(ray, tMin, ray.reach, RAY_KINDS.shadow | RAY_KINDS.clearShadow, passed)) return;
      this.absorbInGlass(inside, passed.t - tMin, light);
      tMin = passed.t;
      ray.distance = tMin;
      ray.object = passed.instance;
      const one = !passed.crowded || this.gather(ray, passed, RAY_KINDS.shadow | RAY_KINDS.clearShadow, true) < 2;
      if (one) {
        if (!this.passesOne(ray, passed, light, 'tinted')) return;
      } else
        for (let i = 0; i < this.crowdCount; i++) {
          tMin = this.crowd[i].t;
          if (this.isCrossed(i) && !this.passesOne(ray, this.crowd[i], light, 'tinted')) return;
        }
      if (luminance(light[0], light[1], light[2]) <= least) return;
      ray.distance = Infinity;
    }
  }

  /** As a medium absorbs, but for volumes that are no glass. */
  absorbInGlass(medium: MediumStack, distance: number, light: Float64Array): void {
    const at = medium.surfaceThatCounts();
    if (at >= 0 && this.scene.surfaces.values[at + SURFACE.unseen] === 0) medium.absorb(distance, light);
  }
}

/** Boundaries that are no surfaces, and that the ray of a path meets. */
function boundaryOf(path: Path): number {
  return path.kind === RAY_KINDS.camera ? RAY_KINDS.cameraBoundary : RAY_KINDS.boundary;
}

function isBefore(a: Hit, b: Hit): boolean {
  return a.t < b.t || (a.t === b.t && a.instance < b.instance);
}
