// What a ray meets at one place: mostly one surface, but where closed objects touch, the faces of both.
//
// Faces that lie closer together than the offset of a ray's origin cannot be met one after the other: the origin that
// leaves the first is beyond the second, which is then never crossed, and the media of the path are wrong from there on
// (two boxes of glass with a common face returned 2.02 times the light of the wall behind them). So they are crossed as
// a set: the interface lies between the media before all of them and the media beyond all of them, whatever their order.
// An object that is entered and left within the set is not crossed at all.
import { SURFACE, type Ray, type SurfacePoint } from '../shade/index.ts';
import { copyPlace } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { MediumStack } from './mediumStack.ts';
import type { Path } from './path.ts';
import type { Visibility } from './visibility.ts';

export class Crossing {
  /** Media beyond the place, for what goes through. */
  readonly beyond: MediumStack;
  /** Distance along the ray from the shaded surface to the last of the set. */
  last = 0;
  private first = 0;
  private many = false;
  /** Largest offset that skips nothing outside of the set. */
  private lift = Infinity;
  /** Distance that the ray came. */
  private came = Infinity;
  private dx = 0;
  private dy = 0;
  private dz = 0;

  constructor(
    private readonly scene: CompiledScene,
    private readonly visibility: Visibility,
    makeStack: () => MediumStack,
  ) {
    this.beyond = makeStack();
  }

  /**
   * Reads the place of visibility.hit, which becomes the surface that is to be shaded.
   * @returns whether light passes it unchanged: a boundary inside of a medium that counts more, or one that is no surface
   */
  read(path: Path): boolean {
    const { beyond, visibility } = this;
    const { hit, reader } = visibility;
    this.dx = path.dx;
    this.dy = path.dy;
    this.dz = path.dz;
    this.first = this.last = 0;
    this.lift = Infinity;
    this.came = hit.t - path.from;
    this.many = hit.crowded && visibility.gather(path, hit, visibility.kindsOf(path)) > 1;
    if (this.many) return this.readMany(path);
    beyond.copyFrom(path.medium);
    if (!reader.bounds(hit.instance)) return false;
    const leaving = reader.isBack(hit);
    if (leaving) beyond.leave(hit.instance);
    else beyond.enter(hit.instance);
    const { values } = this.scene.surfaces;
    const unseen = values[reader.surfaceOf(hit.instance) * SURFACE.stride + SURFACE.unseen] > 0;
    return unseen || path.medium.hides(hit.instance, leaving);
  }

  private readMany(path: Path): boolean {
    const { beyond, visibility } = this;
    const { crowd, crowdCount, hit, reader } = visibility;
    const start = hit.t;
    beyond.copyFrom(path.medium);
    for (let i = 0; i < crowdCount; i++)
      if (reader.bounds(crowd[i].instance) && visibility.isCrossed(i)) {
        if (reader.isBack(crowd[i])) beyond.leave(crowd[i].instance);
        else beyond.enter(crowd[i].instance);
      }
    const shaded = this.chooseShaded(path);
    const end = crowd[crowdCount - 1].t;
    if (shaded < 0) {
      this.last = end - start;
      return true;
    }
    this.lift = this.scene.objectOffsets[crowd[0].instance];
    this.first = start - crowd[shaded].t;
    this.last = end - crowd[shaded].t;
    copyPlace(hit, crowd[shaded]);
    return false;
  }

  /**
   * Which of the set is shaded, or -1: the first that is no boundary of a medium; otherwise a boundary of one of the two
   * media, of greater priority and then of lower number, so that it is the same from both sides.
   */
  private chooseShaded(path: Path): number {
    const { beyond, scene, visibility } = this;
    const { crowd, crowdCount, reader } = visibility;
    for (let i = 0; i < crowdCount; i++) if (!reader.bounds(crowd[i].instance)) return i;
    const before = path.medium.objectThatCounts();
    const after = beyond.objectThatCounts();
    if (before === after) return -1;
    const { values } = scene.surfaces;
    let best = -1;
    let bestPriority = -1;
    for (let i = 0; i < crowdCount; i++) {
      const { instance } = crowd[i];
      if (instance !== before && instance !== after) continue;
      const priority = values[reader.surfaceOf(instance) * SURFACE.stride + SURFACE.priority];
      if (priority > bestPriority || (priority === bestPriority && instance < crowd[best].instance)) {
        best = i;
        bestPriority = priority;
      }
    }
    if (best < 0) return -1;
    const plain = values[reader.surfaceOf(crowd[best].instance) * SURFACE.stride + SURFACE.plain] > 0;
    return plain && path.medium.sameIndex(beyond) ? -1 : best;
  }

  /** Index of refraction beyond over that before, for a boundary. @param channel 0..2: red, green, blue */
  relativeIor(path: Path, object: number, leaving: boolean, channel: number): number {
    if (this.many) return this.mediaIor(path, channel);
    return path.medium.relativeIor(object, leaving, channel);
  }

  private mediaIor(path: Path, channel: number): number {
    return this.beyond.ior(channel) / path.medium.ior(channel);
  }

  /**
   * Factor of the light that goes through what is shaded and is no boundary of a medium: where it lies on one, as a sheet on a block
   * of glass, nothing is bent, but radiance over the square of the index is kept all the same (Veach 1997, 5.2).
   */
  throughSheet(path: Path): number {
    return this.many ? 1 / this.mediaIor(path, path.channel < 0 ? 1 : path.channel) ** 2 : 1;
  }

  /**
   * Sets the origin of a ray that leaves the place.
   * @param side 1: back to where the arriving ray came from, -1: beyond
   */
  setOut(point: SurfacePoint, side: number, ray: Ray): void {
    const along = side < 0 ? this.last : this.first;
    let offset = Math.min(point.offset, this.lift);
    // what the arriving ray has crossed before stays behind
    if (side > 0) {
      const across = Math.abs(point.gx * this.dx + point.gy * this.dy + point.gz * this.dz) * this.came;
      if (across < 2 * offset) offset = across / 2;
    }
    ray.ox = point.px + along * this.dx + side * offset * point.gx;
    ray.oy = point.py + along * this.dy + side * offset * point.gy;
    ray.oz = point.pz + along * this.dz + side * offset * point.gz;
  }
}
