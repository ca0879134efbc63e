import { hashPair } from '../math/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { SurfacePoint } from '../shade/index.ts';
import { RAY_KINDS } from '../trace/index.ts';
import { aimAtPixel, CAMERA } from './camera.ts';
import { cameraMedia } from './cameraMedia.ts';
import type { CompiledScene } from './compile.ts';
import { Crossing } from './crossing.ts';
import { MediumStack } from './mediumStack.ts';
import { Path } from './path.ts';
import { SampleRecord } from './sampleRecord.ts';
import { STRATEGIES } from './strategies.ts';
import { Visibility } from './visibility.ts';

/** A ray through the middle of a pixel and of the lens, and what it needs to meet surfaces as the rays of paths do. */
export class PixelLook {
  readonly visibility: Visibility;
  /** What was met last, and how the surface lies there. */
  readonly point: SurfacePoint;
  readonly path: Path;
  readonly crossing: Crossing;
  readonly makeStack: () => MediumStack;
  protected readonly camera: Float64Array;
  private readonly cameraMedium: MediumStack;
  private readonly placed = new Float64Array(3);
  private readonly lens = new Float64Array(2);

  /** @param thread number of the calling thread among those that use this scene, 0..63 */
  constructor(
    readonly scene: CompiledScene,
    protected readonly settings: RenderSettings,
    thread: number,
    PathKind: typeof Path = Path,
  ) {
    this.visibility = new Visibility(scene, new SurfacePoint(scene.surfaces, scene.textures), thread);
    this.point = new SurfacePoint(scene.surfaces, scene.textures);
    const surfaceOf = (object: number) => this.visibility.reader.surfaceOf(object);
    const { values } = scene.surfaces;
    this.path = new PathKind(settings, new SampleRecord(settings), STRATEGIES, surfaceOf, values);
    this.makeStack = () => new MediumStack(surfaceOf, values);
    this.crossing = new Crossing(scene, this.visibility, this.makeStack);
    this.cameraMedium = this.makeStack();
    for (const object of cameraMedia(scene, this.visibility)) this.cameraMedium.enter(object);
    // looks are sharp
    this.camera = scene.camera.slice();
    this.camera[CAMERA.aperture] = 0;
  }

  /** Stands at the camera, and aims at a pixel. */
  protected aim(px: number, py: number): void {
    const { path, placed, scene, settings } = this;
    path.begin();
    path.pixelKey = hashPair(hashPair(px, py), settings.seed);
    path.medium.copyFrom(this.cameraMedium);
    path.kind = RAY_KINDS.camera;
    path.time = scene.moves ? 0.5 : 0;
    placed[0] = px + 0.5;
    placed[1] = py + 0.5;
    aimAtPixel(path, this.camera, placed, settings.width, settings.height, this.lens);
  }
}
