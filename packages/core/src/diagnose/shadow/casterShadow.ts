// Where the shadow of one object from one light lies on the picture, whether the light throws it there or not.
import type { Region } from '../../image/index.ts';
import { ShadowProbe, objectMiddle, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import { Blockers, type PassReason } from './blockers.ts';
import { reachesPlace, type LightAnswer } from './lightChain.ts';
import { pointsOf, towardLight } from './lightPoints.ts';
import { lookAtMiddle } from './middlePlace.ts';

/** Places of the frame that are asked, and of the region, which may be smaller than what lies between two of those. */
const LOOKS = 2500;
const LOOKS_HERE = 400;

/** Why a shadow is not there: by the object, the light, or what it would fall on. */
export type CasterReason = PassReason | 'lightWithout' | 'placeWithout';

export interface CasterShadow {
  /** Pixels between two looks, each way. */
  step: number;
  columns: number;
  /** How much of the light the object stands before at each look, 0..1, row by row; 0 where the light does not come or nothing is seen. */
  values: number[];
  /** Looks with a shadow of it. */
  looks: number;
  /** Of those, how many another object shades as well, 0..1, and the one that does so most often. */
  covered: number;
  coveredBy: number;
  /** Why it is not there; null where it is. */
  passes: CasterReason | null;
  /** Of the region, in the shadow. */
  inRegion: number;
  /** Look in the shadow that is nearest to the region, pixels; metres from what its middle shows, where that shows anything. */
  nearest: { x: number; y: number; apart: number; metres: number | null } | null;
  /** Metres from the middle of the object on to what its shadow meets, seen or not; Infinity where that is nothing. */
  landing: number;
}

/**
 * The shadow of an object on other objects: rays from what the pixels show to the light, asked for that object alone.
 * @param object number of the caster
 * @param pause is awaited after each row
 */
export async function casterShadow(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  region: Region,
  { light }: Pick<LightAnswer, 'light'>,
  object: number,
  pause: () => Promise<void> = async () => {},
): Promise<CasterShadow> {
  const probe = new ShadowProbe(scene, settings);
  const blockers = new Blockers(scene, document, settings, probe);
  const middle = lookAtMiddle(probe, region) ? positionOf(probe) : null;
  const points = pointsOf(light);
  const step = Math.ceil(Math.sqrt((settings.width * settings.height) / LOOKS));
  const found: CasterShadow = { step, columns: 0, values: [], looks: 0, covered: 0, coveredBy: -1, passes: null, inRegion: 0, nearest: null, landing: Infinity }; // prettier-ignore
  const reasons: Record<CasterReason, number> = { flag: 0, clear: 0, hole: 0, back: 0, range: 0, lightWithout: 0, placeWithout: 0 }; // prettier-ignore
  let rays = 0;
  const others = new Map<number, number>();

  /** Why the object does not stop the light on a ray that meets it. @param index of what the probe met */
  function reasonOf(index: number): CasterReason | null {
    const reason = blockers.passReason(light, index);
    if (reason || !light.castsShadows) return reason ?? 'lightWithout';
    return document.objects[scene.objectIds[probe.look.object]].receivesShadows ? null : 'placeWithout';
  }
  /** Share of the light that the object stands before at what a pixel shows; 0 where the light does not come, or nothing is seen. */
  function shareAt(x: number, y: number): number {
    if (!probe.at(x, y) || probe.look.object === object || !reachesPlace(light, scene, probe)) return 0;
    const from = positionOf(probe);
    let stands = 0;
    let isCovered = false;
    for (let k = 0; k < points; k++) {
      const { direction, distance } = towardLight(light, from, k);
      probe.toward(...direction, distance);
      let mine = -1;
      for (let i = 0; i < probe.count && mine < 0; i++) if (probe.object[i] === object) mine = i;
      if (mine < 0) continue;
      stands++;
      rays++;
      const reason = reasonOf(mine);
      if (reason) reasons[reason]++;
      const first = isCovered ? -1 : blockers.firstStop(light, object);
      if (first < 0) continue;
      isCovered = true;
      others.set(probe.object[first], (others.get(probe.object[first]) ?? 0) + 1);
    }
    if (isCovered) found.covered++;
    return stands / points;
  }
  for (let y = Math.floor(step / 2); y < settings.height; y += step) {
    for (let x = Math.floor(step / 2); x < settings.width; x += step) {
      const share = shareAt(x, y);
      found.values.push(share);
      if (share === 0) continue;
      found.looks++;
      const apart = Math.hypot(outside(x, region.x, region.width), outside(y, region.y, region.height));
      if (!found.nearest || apart < found.nearest.apart) found.nearest = { x, y, apart, metres: middle ? distanceOf(positionOf(probe), middle) : null }; // prettier-ignore
    }
    found.columns ||= found.values.length;
    await pause();
  }
  found.covered /= Math.max(1, found.looks);
  found.inRegion = shareIn(region, shareAt);
  found.coveredBy = [...others].sort((a, b) => b[1] - a[1])[0]?.[0] ?? -1;
  const [[most, times]] = Object.entries(reasons).sort((a, b) => b[1] - a[1]);
  found.passes = times > rays / 2 ? (most as CasterReason) : null;
  const from = objectMiddle(scene, object);
  found.landing = probe.landing(from, object, towardLight(light, from, 0).direction.map((c) => -c)); // prettier-ignore
  return found;
}

/** Of the looks at a region, the share with a shadow. */
function shareIn(region: Region, shareAt: (x: number, y: number) => number): number {
  const step = Math.ceil(Math.sqrt((region.width * region.height) / LOOKS_HERE));
  let [looks, shaded] = [0, 0];
  for (let y = Math.floor(step / 2); y < region.height; y += step)
    for (let x = Math.floor(step / 2); x < region.width; x += step, looks++)
      if (shareAt(region.x + x, region.y + y) > 0) shaded++;
  return shaded / Math.max(1, looks);
}

const positionOf = ({ look: { point } }: ShadowProbe) => [point.px, point.py, point.pz];
const distanceOf = (a: number[], b: number[]) => Math.hypot(...a.map((v, k) => v - b[k]));
/** How far a pixel lies outside of a span. */
const outside = (at: number, from: number, size: number) => Math.max(0, from - at, at - (from + size - 1));
