// Follows the ray through the middle of a pixel through glass: refracted at each interface, reflected only where total reflection
// leaves no other way, without depth limits and without chance. It tells which depth the view through the glass needs, and
// how much light the glass absorbs and reflects on the way.
//
// Rough glass is followed as if it were smooth. Every interface that the path tracer would shade counts as one event; boundaries
// inside a medium of higher priority count as none, as in the path tracer.
import { fresnelDielectric, paneReflectance, SURFACE } from '../shade/index.ts';
import { RAY_KINDS } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { OBJECT } from './compileGeometry.ts';
import { Path } from './path.ts';
import { PixelLook } from './pixelLook.ts';
import type { RenderSettings } from '../scene/index.ts';

/** A walk ends after so many interfaces. */
export const MOST_INTERFACES = 64;
/** Boundaries inside of other media that one walk passes at most. */
const MOST_STEPS = 4 * MOST_INTERFACES;

/** What happened at a step: refracted through, reflected totally, or passed a boundary that another medium hides. */
export const STEP = { through: 0, reflected: 1, hidden: 2 } as const;
/** Which way a step crossed its surface: both faces of a thin pane at once count as one. */
export const WAY = { in: 0, out: 1, pane: 2 } as const;
/** How a walk ended: in the open, at a surface that is not glass, at one that glows, or beyond MOST_INTERFACES. */
export const WALK_END = { open: 0, surface: 1, emitter: 2, beyond: 3 } as const;

/** Treats a surface as present wherever its opacity is above LEAST_OPACITY, so that walks do not depend on chance. */
class WalkPath extends Path {
  override chance(): number {
    return LEAST_OPACITY;
  }
}
const LEAST_OPACITY = 0.02;

export class GlassWalk extends PixelLook {
  // the steps: the first `count` of each
  count = 0;
  readonly object = new Int32Array(MOST_STEPS);
  readonly kind = new Uint8Array(MOST_STEPS);
  readonly way = new Uint8Array(MOST_STEPS);
  /** Cosine of the angle of incidence. */
  readonly cosine = new Float64Array(MOST_STEPS);
  /** Object whose medium the ray came through, or -1 for air; and how far, metres. */
  readonly medium = new Int32Array(MOST_STEPS);
  readonly distance = new Float64Array(MOST_STEPS);
  /** Where it happened, world, metres: 3 numbers a step. */
  readonly place = new Float64Array(3 * MOST_STEPS);
  /** Share of the light that the interface lets through, before its colour. */
  readonly passed = new Float64Array(MOST_STEPS);

  /** Interfaces refracted through, and total reflections. */
  passes = 0;
  reflections = 0;
  end: number = WALK_END.open;
  /** Object where the walk ended, or -1. */
  endObject = -1;
  /** Object in the way of its end that the camera would see, and that rays through glass pass as if it were not there; or -1. */
  missed = -1;
  /** What the surfaces leave of the light by their tint and transmission weight, and absorption inside, RGB. */
  readonly tint = new Float64Array(3);
  readonly absorbed = new Float64Array(3);
  /** What is left after the reflections of all interfaces. */
  fresnel = 1;

  /** @param thread number of the calling thread among those that use this scene, 0..63 */
  constructor(scene: CompiledScene, settings: RenderSettings, thread = 0) {
    super(scene, settings, thread, WalkPath);
  }

  /** Walks through the middle of a pixel. @returns whether its first surface is glass */
  walk(px: number, py: number): boolean {
    this.aim(px, py);
    const isGlass = this.follow();
    this.missed = isGlass && this.scene.hides ? this.lookForMissed() : -1;
    return isGlass;
  }

  private follow(): boolean {
    const { absorbed, crossing, path, point, tint, visibility } = this;
    this.count = this.passes = this.reflections = 0;
    this.end = WALK_END.open;
    this.endObject = -1;
    this.fresnel = 1;
    tint.fill(1);
    absorbed.fill(1);
    path.tMin = path.from = 0;
    path.tMax = Infinity;
    while (this.count < MOST_STEPS) {
      if (!visibility.closest(path, this.count)) return this.count > 0;
      path.to = visibility.hit.t;
      const before = path.medium.objectThatCounts();
      const hidden = crossing.read(path);
      path.medium.absorb(path.to - path.from, absorbed);
      const { hit, reader } = visibility;
      reader.place(hit, path, point, false);
      const leaving = point.gx * path.dx + point.gy * path.dy + point.gz * path.dz > 0;
      const step = this.note(hit.instance, before, hit.t - path.from);
      if (hidden) {
        this.kind[step] = STEP.hidden;
        this.way[step] = leaving ? WAY.out : WAY.in;
        path.medium.copyFrom(crossing.beyond);
        path.from = path.tMin = path.to + crossing.last;
        continue;
      }
      const bounds = reader.bounds(hit.instance);
      point.relativeIor = bounds ? crossing.relativeIor(path, hit.instance, leaving, 1) : 0;
      point.roughnessFloor = 0;
      point.prepare(this.scene.objects[hit.instance * OBJECT.stride + OBJECT.surface], path);
      const { values } = point;
      const clear = (1 - values.metalness) * values.transmission;
      if (clear === 0) {
        this.count = step;
        this.endObject = hit.instance;
        this.end = values.emission.some((e) => e > 0) ? WALK_END.emitter : WALK_END.surface;
        return step > 0;
      }
      if (this.passes + this.reflections >= MOST_INTERFACES) break;
      this.way[step] = values.thin ? WAY.pane : leaving ? WAY.out : WAY.in;
      this.cross(step, clear);
    }
    this.end = WALK_END.beyond;
    return true;
  }

  private lookForMissed(): number {
    const { path, visibility } = this;
    if (this.end === WALK_END.beyond) return -1;
    const end = this.end === WALK_END.open ? Infinity : path.to;
    path.kind = RAY_KINDS.camera;
    return visibility.closest(path, this.count) && visibility.hit.t < end ? visibility.hit.instance : -1;
  }

  private note(object: number, medium: number, distance: number): number {
    const { path } = this;
    const step = this.count++;
    this.object[step] = object;
    this.medium[step] = medium;
    this.distance[step] = distance;
    this.cosine[step] = 0;
    this.passed[step] = 1;
    this.place[3 * step] = path.ox + path.to * path.dx;
    this.place[3 * step + 1] = path.oy + path.to * path.dy;
    this.place[3 * step + 2] = path.oz + path.to * path.dz;
    return step;
  }

  /** Sets the ray out on the other side of an interface, or back into the glass. @param clear share that can pass at all */
  private cross(step: number, clear: number): void {
    const { crossing, path, point, tint } = this;
    const { values } = point;
    let { nx, ny, nz } = point;
    let cosine = -(path.dx * nx + path.dy * ny + path.dz * nz);
    if (!(cosine > 1e-6)) {
      nx = point.gx;
      ny = point.gy;
      nz = point.gz;
      cosine = Math.max(1e-6, -(path.dx * nx + path.dy * ny + path.dz * nz));
    }
    const eta = values.thin ? this.scene.surfaces.values[point.surface * SURFACE.stride + SURFACE.ior + 1] : point.relativeIor; // prettier-ignore
    const face = fresnelDielectric(cosine, eta);
    this.cosine[step] = cosine;
    const isTotal = face === 1;
    this.kind[step] = isTotal ? STEP.reflected : STEP.through;
    if (isTotal) {
      this.reflections++;
      path.dx += 2 * cosine * nx;
      path.dy += 2 * cosine * ny;
      path.dz += 2 * cosine * nz;
      path.kind = RAY_KINDS.specular;
    } else {
      this.passes++;
      const reflected = values.specularWeight * (values.thin ? paneReflectance(face) : face);
      this.passed[step] = clear * (1 - reflected);
      this.fresnel *= 1 - reflected;
      for (let k = 0; k < 3; k++) tint[k] *= clear * values.tint[k];
      if (!values.thin) {
        const bend = cosine / eta - Math.sqrt(1 - (1 - cosine * cosine) / (eta * eta));
        path.dx = path.dx / eta + bend * nx;
        path.dy = path.dy / eta + bend * ny;
        path.dz = path.dz / eta + bend * nz;
        path.medium.copyFrom(crossing.beyond);
      }
      path.kind = RAY_KINDS.transmission;
    }
    const length = Math.hypot(path.dx, path.dy, path.dz);
    path.dx /= length;
    path.dy /= length;
    path.dz /= length;
    crossing.setOut(point, isTotal ? 1 : -1, path);
    path.tMin = path.from = 0;
  }
}
