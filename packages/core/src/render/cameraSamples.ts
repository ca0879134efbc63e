// Where the samples of a pixel set out: in the picture, on the lens, in time, and in the media that the camera stands in.
import type { RenderSettings } from '../scene/index.ts';
import { RAY_KINDS } from '../trace/index.ts';
import { aimAtPixel, CAMERA } from './camera.ts';
import { cameraMedia } from './cameraMedia.ts';
import type { CompiledScene } from './compile.ts';
import type { MediumStack } from './mediumStack.ts';
import { SLOT, type Path } from './path.ts';
import { makePixelFilter, placeSample, type PixelFilter } from './pixelFilter.ts';
import type { Visibility } from './visibility.ts';

export class CameraSamples {
  private readonly medium: MediumStack;
  private readonly filter: PixelFilter;
  private readonly point = new Float64Array(2);
  /** Place of the sample in the picture, and its weight. */
  private readonly placed = new Float64Array(3);
  /** The ray of the last sample: origin, direction. */
  private readonly ray = new Float64Array(6);

  constructor(
    private readonly scene: CompiledScene,
    private readonly settings: RenderSettings,
    visibility: Visibility,
    makeStack: () => MediumStack,
  ) {
    this.filter = makePixelFilter(settings.filter);
    this.medium = makeStack();
    for (const object of cameraMedia(scene, visibility)) this.medium.enter(object);
  }

  /** Begins a path with the camera's ray. @returns what the pixel filter weighs the sample with */
  begin(path: Path, px: number, py: number, sample: number): number {
    const { placed, point, ray } = this;
    const { camera, moves } = this.scene;
    path.begin();
    path.medium.copyFrom(this.medium);
    path.kind = RAY_KINDS.camera;
    if (moves) {
      path.sample(SLOT.time, sample, point);
      path.time = point[0];
    }
    path.sample(SLOT.pixel, sample, point);
    placeSample(this.filter, point, placed);
    placed[0] += px + 0.5;
    placed[1] += py + 0.5;
    if (camera[CAMERA.aperture] > 0) path.sample(SLOT.lens, sample, point);
    aimAtPixel(path, camera, placed, this.settings.width, this.settings.height, point);
    ray[0] = path.ox;
    ray[1] = path.oy;
    ray[2] = path.oz;
    ray[3] = path.dx;
    ray[4] = path.dy;
    ray[5] = path.dz;
    return placed[2];
  }

  /** Turns a path back to the camera's ray of the last sample. */
  turnBack(path: Path): void {
    const { ray } = this;
    path.ox = ray[0];
    path.oy = ray[1];
    path.oz = ray[2];
    path.dx = ray[3];
    path.dy = ray[4];
    path.dz = ray[5];
  }
}
