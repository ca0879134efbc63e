// Where the shadow of an expected caster falls instead: the middle of each object, followed on from a light.
import type { Region } from '../../image/index.ts';
import { objectMiddle, pixelOf, ShadowProbe, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import type { LightAnswer } from './lightChain.ts';
import { towardLight } from './lightPoints.ts';

/** Objects that are followed at most. */
const MOST_FOLLOWED = 2000;

export interface ShadowFall {
  /** Number of the object. */
  object: number;
  /** Of the frame, from its top left corner. */
  x: number;
  y: number;
  /** From the middle of the region, pixels. */
  apart: number;
  /** From the middle of the object, metres. */
  length: number;
}

/** Shadows of one light that fall into the frame, those nearest to a region first. Whether something hides the place is not asked. */
export function shadowFalls(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  region: Region,
  { light }: LightAnswer,
): ShadowFall[] {
  const { camera, objectIds } = scene;
  const probe = new ShadowProbe(scene, settings);
  const at = { x: region.x + region.width / 2, y: region.y + region.height / 2 };
  const falls: ShadowFall[] = [];
  for (const [object, id] of objectIds.slice(0, MOST_FOLLOWED).entries()) {
    if (!document.objects[id].castsShadows) continue;
    const middle = objectMiddle(scene, object);
    const away = towardLight(light, middle, 0).direction.map((c) => -c);
    const length = probe.landing(middle, object, away);
    if (length === Infinity) continue;
    const pixel = pixelOf(camera, settings, middle.map((m, k) => m + length * away[k])); // prettier-ignore
    if (!pixel || pixel.x < 0 || pixel.y < 0 || pixel.x >= settings.width || pixel.y >= settings.height) continue;
    const [x, y] = [Math.floor(pixel.x), Math.floor(pixel.y)];
    falls.push({ object, x, y, apart: Math.hypot(pixel.x - at.x, pixel.y - at.y), length });
  }
  return falls.sort((a, b) => a.apart - b.apart);
}
