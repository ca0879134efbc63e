// Straight on through clear surfaces to what is seen behind them, as an occlusion layer needs it that is to go with a picture
// of glass: unrefracted, since what is looked for is the place that the picture shows there, not the way of its light. Thick
// glass shows that place shifted by what refraction shifts it.
import { luminance } from '../color/index.ts';
import { SURFACE, SurfacePoint } from '../shade/index.ts';
import type { CompiledScene } from './compile.ts';
import { OBJECT } from './compileGeometry.ts';
import { Crossing } from './crossing.ts';
import type { MediumStack } from './mediumStack.ts';
import type { Path } from './path.ts';
import type { Visibility } from './visibility.ts';

/** Surfaces that a look passes at most. */
const MOST_PASSED = 64;

export class BehindClear {
  /** What was found, and the media before it. */
  readonly point: SurfacePoint;
  readonly crossing: Crossing;
  readonly medium: MediumStack;
  /** Its object, or -1: nothing is behind. */
  object = -1;
  /** Share of the light from there that comes through, luminance, 0..1. */
  share = 0;
  private readonly light = new Float64Array(3);
  private readonly tinted = new Float64Array(3);
  private readonly kept: MediumStack;

  constructor(
    private readonly scene: CompiledScene,
    private readonly visibility: Visibility,
    makeStack: () => MediumStack,
  ) {
    this.point = new SurfacePoint(scene.surfaces, scene.textures);
    this.crossing = new Crossing(scene, visibility, makeStack);
    this.medium = makeStack();
    this.kept = makeStack();
  }

  /**
   * Goes on from the surface that the camera's ray of a path has met at path.to; the path is as before afterwards, but for
   * where its ray was looked at. `visibility.hit` is another one.
   * @param first what was met @param at its place @param index of the sample
   */
  look(path: Path, first: SurfacePoint, at: Crossing, index: number): void {
    const { crossing, kept, light, medium, point, scene, visibility } = this;
    kept.copyFrom(path.medium);
    this.object = -1;
    light.fill(1);
    this.pass(first);
    path.medium.copyFrom(at.beyond);
    path.from = path.tMin = path.to + at.last;
    for (let passed = 0; passed < MOST_PASSED && light[0] + light[1] + light[2] > 0; passed++) {
      if (!visibility.closest(path, -1 - index)) break;
      path.to = visibility.hit.t;
      visibility.absorbInGlass(path.medium, path.to - path.from, light);
      if (!crossing.read(path)) {
        const { instance } = visibility.hit;
        const met = scene.objects[instance * OBJECT.stride + OBJECT.surface];
        visibility.reader.place(visibility.hit, path, point, false);
        if (scene.surfaces.values[met * SURFACE.stride + SURFACE.transmission] === 0) {
          point.prepare(met, path);
          medium.copyFrom(path.medium);
          this.object = instance;
          break;
        }
        point.surface = met;
        this.pass(point);
      }
      path.medium.copyFrom(crossing.beyond);
      path.from = path.tMin = path.to + crossing.last;
    }
    this.share = luminance(light[0], light[1], light[2]);
    path.medium.copyFrom(kept);
  }

  private pass({ surface, values }: SurfacePoint): void {
    const { light, tinted } = this;
    values.readThrough(surface, tinted);
    for (let k = 0; k < 3; k++) light[k] *= tinted[k];
  }
}
