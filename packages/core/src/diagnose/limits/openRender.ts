import type { Region } from '../../image/index.ts';
import { SPLIT_KINDS } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import { CLAMP_KINDS } from './clampLimits.ts';
import { DEPTH_KINDS } from './depthLimits.ts';
import { setTo } from './setTo.ts';
import { words } from './words.ts';

export const OPEN_RENDER = {
  /** Paths are followed so far. */
  depth: 64,
  /** Camera samples over the region, and for a pixel. */
  samples: 60_000,
  most: 64,
};

const OPEN_LAYERS = /^(beauty|rays|cut\..*)$/;

/** The region once more with open limits and without clamps. @param more laid over it: another size of the frame */
export async function renderOpen(
  { settings, use }: DiagnosisContext,
  scene: SceneAccess,
  region: Region,
  more: Patch = [],
) {
  const { depth, most, samples } = OPEN_RENDER;
  // splits stay as they are: time goes with the rays of all of them
  const splits = Math.max(...SPLIT_KINDS.map((kind) => settings[`${kind}Samples`]));
  const wanted = Math.ceil(samples / (region.width * region.height * splits));
  const pixelSamples = Math.max(4, Math.min(most, wanted));
  const patch: Patch = [
    ...more,
    ...DEPTH_KINDS.map((kind) => setTo(use, `depth/${kind}`, depth)),
    ...CLAMP_KINDS.map((kind) => setTo(use, `clamp/${kind}`, 0)),
    setTo(use, 'pixelSamples', pixelSamples),
    setTo(use, 'adaptive/limit', 0),
  ];
  return scene.render({ title: words.openTitle, region, patch, extras: ['paths'], layers: OPEN_LAYERS });
}
