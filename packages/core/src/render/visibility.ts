// Rays through surfaces that are not there for them: holes and shares of opacity, back faces of single-sided objects,
// and glass where its shadows are to let light through.
import { SURFACE, type SurfacePoint } from '../shade/index.ts';
import { MediumStack } from './mediumStack.ts';
import { ALL_RAYS, emptyHit, openRayQuery, RAY_KINDS, type Hit, type RayQuery } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { ASKS, OBJECT } from './compileGeometry.ts';
import { HitReader, type TracedRay } from './hitReader.ts';
import { SLOT, type Path } from './path.ts';

/** A ray is let through at most so many surfaces. */
const MOST_PASSED = 256;

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
  /** To the light of a shadow ray, or to what was found. */
  distance = Infinity;
}

export class Visibility {
  readonly hit = emptyHit();
  readonly reader: HitReader;
  private readonly passed = emptyHit();
  private readonly inside: MediumStack;
  private readonly query: RayQuery;

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
   * The first surface that stops the ray of a path, or boundary of a volume that is no surface, into `hit`. A surface that
   * lies in such a boundary comes first: fog that stands on a floor must not hide it.
   */
  closest(path: Path, index: number): boolean {
    const found = this.closestSurface(path, index);
    if (!this.scene.bounds) return found;
    const { hit, passed } = this;
    const reach = found ? hit.t * (1 - 1e-6) : path.tMax;
    const kind = path.kind === RAY_KINDS.camera ? RAY_KINDS.cameraBoundary : RAY_KINDS.boundary;
    if (!this.trace(path, path.tMin, reach, kind, passed)) return found;
    hit.t = passed.t;
    hit.u = passed.u;
    hit.v = passed.v;
    hit.instance = passed.instance;
    hit.triangle = passed.triangle;
    return true;
  }

  private closestSurface(path: Path, index: number): boolean {
    const { hit, scene } = this;
    let tMin = path.tMin;
    for (let passed = 0; ; passed++) {
      if (!this.trace(path, tMin, path.tMax, path.kind, hit)) return false;
      if ((scene.objects[hit.instance * OBJECT.stride + OBJECT.flags] & ASKS) === 0 || passed >= MOST_PASSED)
        return true;
      const opacity = this.reader.opacity(hit, path, this.scratch);
      if (opacity === 1 || path.chance(SLOT.opacity, index * 256 + passed) < opacity) return true;
      tMin = hit.t;
    }
  }

  private trace(ray: TracedRay, tMin: number, tMax: number, kind: number, hit: Hit): boolean {
    return this.query.closestHit(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, tMin, tMax, kind, ray.time, hit);
  }

  /** Nearest surface of any kind beyond tMin, without questions, into `hit`. */
  plainHit(ray: TracedRay, tMin: number): boolean {
    return this.trace(ray, tMin, Infinity, ALL_RAYS, this.hit);
  }

  /**
   * Multiplies `light` by what arrives over a shadow ray; false where that is nothing.
   * @param medium what the ray sets out in
   */
  passes(ray: SideRay, medium: MediumStack, light: Float64Array): boolean {
    const { reach } = ray;
    if (this.query.anyHit(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, reach, RAY_KINDS.shadow, ray.time))
      return false;
    if (!this.scene.asks) {
      medium.absorb(ray.distance, light);
      return true;
    }
    const { inside, passed, reader, scene } = this;
    const { values } = scene.surfaces;
    inside.copyFrom(medium);
    let tMin = 0;
    let from = 0;
    for (let count = 0; count < MOST_PASSED; count++) {
      if (!this.trace(ray, tMin, reach, RAY_KINDS.clearShadow, passed)) {
        inside.absorb(ray.distance - from, light);
        return true;
      }
      tMin = passed.t;
      const { instance } = passed;
      const at = reader.surfaceOf(instance) * SURFACE.stride;
      const unseen = values[at + SURFACE.unseen] > 0;
      const opacity = unseen ? 0 : reader.opacity(passed, ray, this.scratch);
      const clear = scene.clearShadows === 'off' ? 0 : values[at + SURFACE.transmission];
      if (opacity > 0) {
        let left = 0;
        for (let k = 0; k < 3; k++) {
          const tint = scene.clearShadows === 'tinted' ? values[at + SURFACE.tint + k] : 1;
          light[k] *= 1 - opacity * (1 - clear * tint);
          left = Math.max(left, light[k]);
        }
        if (left === 0) return false;
      } else if (!unseen) continue;
      if (!reader.bounds(instance)) continue;
      // from one medium into another; glass that is to be plain takes nothing
      inside.absorb(passed.t - from, light);
      from = passed.t;
      if (reader.isBack(passed, ray)) {
        if (inside.has(instance)) inside.leave(instance);
      } else if (unseen || scene.clearShadows === 'tinted') inside.enter(instance);
    }
    return false;
  }

  /** Distance of the nearest surface within the reach of a ray, of any or of those that are not clear; or Infinity. */
  findObstacle(ray: SideRay, all: boolean): void {
    const { passed, reader, scene } = this;
    const { values } = scene.surfaces;
    ray.distance = Infinity;
    let tMin = 0;
    for (let count = 0; count < MOST_PASSED; count++) {
      if (!this.trace(ray, tMin, ray.reach, RAY_KINDS.shadow | RAY_KINDS.clearShadow, passed)) return;
      const surface = reader.surfaceOf(passed.instance) * SURFACE.stride;
      const counts = all ? values[surface + SURFACE.unseen] === 0 : values[surface + SURFACE.transmission] === 0;
      if (counts && reader.opacity(passed, ray, this.scratch) >= 0.5) {
        ray.distance = passed.t;
        return;
      }
      tMin = passed.t;
    }
  }
}
