import { ALL_RAYS } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { SideRay, type Visibility } from './visibility.ts';

const MOST_HITS = 512;

/**
 * The closed transmitting objects that the camera stands in: those whose surface a straight line from it leaves more
 * often than it enters. The line is oblique, so that it seldom runs along a face.
 */
export function cameraMedia(scene: CompiledScene, visibility: Visibility): number[] {
  const { camera } = scene;
  const balance = new Map<number, number>();
  const ray = Object.assign(new SideRay(), { ox: camera[0], oy: camera[1], oz: camera[2], dx: 0.3713, dy: 0.8517, dz: 0.3698 }); // prettier-ignore
  let tMin = 0;
  for (let i = 0; i < MOST_HITS; i++) {
    if (!visibility.plainHit(ray, tMin)) break;
    const { crowd, hit, reader } = visibility;
    tMin = hit.t;
    const count = visibility.gather(ray, hit, ALL_RAYS);
    for (let k = 0; k < count; k++) {
      const { instance, t } = crowd[k];
      tMin = t;
      if (reader.bounds(instance) && visibility.isCrossed(k))
        balance.set(instance, (balance.get(instance) ?? 0) + (reader.isBack(crowd[k]) ? 1 : -1));
    }
  }
  return [...balance].filter(([, left]) => left > 0).map(([object]) => object);
}
