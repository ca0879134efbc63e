// What stands between a place and a light: whether it stops the light there, and why it does not.
import { isClear, objectSize, type CompiledScene, type ShadowProbe } from '../../render/index.ts';
import type { Light, RenderSettings, ShotDocument } from '../../scene/index.ts';

/** What a blocker's own surface is, closer than this share of its size, is not counted as standing between. */
const OWN_SURFACE = 1e-4;

/** Why something between a place and a light stops nothing. */
export const REASONS = ['flag', 'clear', 'hole', 'back', 'range'] as const;
export type PassReason = (typeof REASONS)[number];

/** Reads what a probe met on its way to a light. */
export class Blockers {
  private readonly sizes: number[];
  constructor(
    private readonly scene: CompiledScene,
    private readonly document: ShotDocument,
    private readonly settings: RenderSettings,
    private readonly probe: ShadowProbe,
  ) {
    this.sizes = scene.objectIds.map((_, object) => objectSize(scene, object));
  }

  /** Whether what the probe met is the place's own surface. @param index of what the probe met */
  isOwn(index: number): boolean {
    const object = this.probe.object[index];
    return object === this.probe.look.object && this.probe.distance[index] < OWN_SURFACE * this.sizes[object];
  }

  /** Null where it stops the light. @param index of what the probe met */
  passReason({ shadowFrom, shadowTo }: Light, index: number): PassReason | null {
    const object = this.probe.object[index];
    const opacity = this.probe.opacity[index];
    const distance = this.probe.distance[index];
    const { castsShadows, doubleSided, surface } = this.document.objects[this.scene.objectIds[object]];
    if (!castsShadows) return 'flag';
    if (opacity === 0 && !doubleSided && this.document.surfaces[surface].geometry_opacity > 0) return 'back';
    if (opacity < 0.5) return 'hole';
    if (this.settings.clearShadows !== 'off' && isClear(this.scene, object)) return 'clear';
    return distance < shadowFrom || (shadowTo > 0 && distance > shadowTo) ? 'range' : null;
  }

  /** The first that stops the light, as a place in what the probe met; -1 where nothing does. @param but object that does not count */
  firstStop(light: Light, but = -1): number {
    const { count, object } = this.probe;
    for (let i = 0; i < count; i++) if (object[i] !== but && !this.isOwn(i) && !this.passReason(light, i)) return i;
    return -1;
  }
}
