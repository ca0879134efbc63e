import { hashPair } from '../math/index.ts';
import type { SurfacePoint } from '../shade/index.ts';
import type { CompiledScene } from './compile.ts';
import { OBJECT, ONLY_SHADOWS } from './compileGeometry.ts';
import type { Crossing } from './crossing.ts';
import type { DirectLight } from './directLight.ts';
import type { Path } from './path.ts';
import type { Visibility } from './visibility.ts';

/** Its random numbers are others than those of the surface behind it: the light of both is multiplied. */
const CAUGHT = 0x2545f491;

/** Objects that only catch shadows: a camera ray goes on through them, darkened by the shadows at the place. */
export class ShadowCatcher {
  private readonly share = new Float64Array(3);

  /** @param point that nobody needs at the same time */
  constructor(
    private readonly scene: CompiledScene,
    private readonly visibility: Visibility,
    private readonly lights: DirectLight,
    private readonly point: SurfacePoint,
  ) {}

  catches(object: number): boolean {
    return (this.scene.objects[object * OBJECT.stride + OBJECT.flags] & ONLY_SHADOWS) !== 0;
  }

  /** @param crossing the place that was met */
  darken(path: Path, crossing: Crossing, index: number): void {
    const { lights, point, share } = this;
    const { hit, reader } = this.visibility;
    const { pixelKey } = path;
    path.pixelKey = hashPair(pixelKey, CAUGHT);
    reader.place(hit, path, point, false);
    point.relativeIor = point.roughnessFloor = 0;
    point.prepare(reader.surfaceOf(hit.instance), path);
    lights.arriving(path, point, crossing, index, share);
    path.pixelKey = pixelKey;
    for (let k = 0; k < 3; k++) path.throughput[k] *= share[k];
  }
}
