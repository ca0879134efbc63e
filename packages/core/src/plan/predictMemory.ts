import { FIREFLY_LAYERS } from '../diagnose/index.ts';
import { frameOf, proofMemory, type FilmNames, type SceneMemory } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';

/** Bytes that the frame will hold in memory after a change of settings: the scene as it was counted, and its proof. */
export function predictMemory({ film: _film, ...scene }: SceneMemory, after: RenderSettings, names: FilmNames): number {
  return Object.values(scene).reduce(
    (sum, bytes) => sum + bytes,
    proofMemory(frameOf(after), after, names, FIREFLY_LAYERS),
  );
}
