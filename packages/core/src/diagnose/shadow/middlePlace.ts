import type { Region } from '../../image/index.ts';
import { ShadowProbe, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';

/** Places of a region that are tried each way. */
const TRIES = 8;

/** Lets the probe look at the surface that is seen nearest to the middle of a region. @returns whether any is seen */
export function lookAtMiddle(probe: ShadowProbe, region: Region): boolean {
  const offsets = Array.from({ length: TRIES * TRIES }, (_, i) => [(i % TRIES) + 0.5, Math.floor(i / TRIES) + 0.5].map((k) => k / TRIES - 0.5)); // prettier-ignore
  return [[0, 0], ...offsets.sort((a, b) => Math.hypot(...a) - Math.hypot(...b))].some(([u, v]) =>
    probe.at(Math.floor(region.x + (0.5 + u) * region.width), Math.floor(region.y + (0.5 + v) * region.height)),
  );
}

/** The place that a region shows in its middle: world space, with the normal of its flat face on the side that is seen. */
export interface MiddlePlace {
  probe: ShadowProbe;
  object: number;
  at: number[];
  normal: number[];
  /** Of rays that set out there, metres. */
  offset: number;
}

export function middlePlace(scene: CompiledScene, settings: RenderSettings, region: Region): MiddlePlace | null {
  const probe = new ShadowProbe(scene, settings);
  if (!lookAtMiddle(probe, region)) return null;
  const { object, point } = probe.look;
  return { probe, object, at: [point.px, point.py, point.pz], normal: [point.gx, point.gy, point.gz], offset: point.offset }; // prettier-ignore
}
