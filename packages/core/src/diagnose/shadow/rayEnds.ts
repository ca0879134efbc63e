// A ray distance that ends paths before what is around a place: they find the sky there instead, so that rooms leak light.
import type { Region } from '../../image/index.ts';
import { quantile } from '../../math/index.ts';
import { OcclusionProbe, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { looksOver } from './looksOver.ts';
import { NOTABLE, roundUp, type ShadowCause } from './shadowCauses.ts';
import { words } from './words.ts';

/** Rays of each place. */
const RAYS = 16;
/** All but so many of what is met lies within the distance that is recommended. */
const REACHED = 0.999;

/** @returns no cause where rays go on, or few of them end before something */
export function rayEnds(scene: CompiledScene, settings: RenderSettings, region: Region, use: string): ShadowCause[] {
  const { rayDistance } = settings;
  if (rayDistance === 0) return [];
  const probe = new OcclusionProbe(scene, settings, RAYS);
  const met: number[] = [];
  let rays = 0;
  looksOver(region, (x, y) => {
    if (!probe.at(x, y)) return;
    rays += RAYS;
    for (const distance of probe.any) if (distance < Infinity) met.push(distance);
  });
  const share = met.filter((distance) => distance > rayDistance).length / Math.max(1, rays);
  if (share < NOTABLE) return [];
  const reach = quantile(met, REACHED);
  const to = roundUp(reach * 1.1);
  return [
    {
      id: 'rayEnds',
      fault: 'rayEnds',
      title: words.cause.rayEnds,
      text: words.rayEnds(rayDistance, share, reach),
      about: [{ type: 'setting', path: 'rayDistance' }],
      cure: { title: words.remedy.rayDistance(rayDistance, to), patch: [{ op: 'replace', path: `/${use}/rayDistance`, value: to }], sideEffect: words.side.rays }, // prettier-ignore
    },
  ];
}
