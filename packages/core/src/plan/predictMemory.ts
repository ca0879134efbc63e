import type { SceneMemory } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';

type Size = Pick<RenderSettings, 'width' | 'height'>;

/**
 * Bytes that the frame will hold in memory after a change of settings: what was counted, with a film of the new size. The
 * scene is the same.
 * @param region of which the memory was counted
 */
export function predictMemory(counted: SceneMemory, region: Size, after: Size): number {
  const { film, ...scene } = counted;
  const area = (after.width * after.height) / (region.width * region.height);
  return Object.values(scene).reduce((sum, bytes) => sum + bytes, film * area);
}
