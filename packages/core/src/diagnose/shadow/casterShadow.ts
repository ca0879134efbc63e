// Where the shadow of one object from one light lies on the picture, whether the light throws it there or not.
import type { Region } from '../../image/index.ts';
import { ShadowProbe, objectMiddle, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import { Blockers, REASONS, type PassReason } from './blockers.ts';
import { reachesPlace, type LightAnswer } from './lightChain.ts';
import { pointsOf, towardLight } from './lightPoints.ts';
import { lookAtMiddle } from './middlePlace.ts';

/** Places of the frame that are asked. */
const LOOKS = 2500;

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
  /** Why the object does not stop the light there; null where it does. */
  passes: PassReason | null;
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
  const reasons = { flag: 0, clear: 0, hole: 0, back: 0, range: 0 };
  const others = new Map<number, number>();
  let asked = 0;

  /** Share of the light that the object stands before at the place of the probe. */
  function shareAt(): number {
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
      const reason = blockers.passReason(light, mine);
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
      const isIn = x >= region.x && y >= region.y && x < region.x + region.width && y < region.y + region.height;
      if (isIn) asked++;
      const isLit = probe.at(x, y) && probe.look.object !== object && reachesPlace(light, scene, probe);
      const share = isLit ? shareAt() : 0;
      found.values.push(share);
      if (share === 0) continue;
      found.looks++;
      if (isIn) found.inRegion++;
      const apart = Math.hypot(outside(x, region.x, region.width), outside(y, region.y, region.height));
      if (!found.nearest || apart < found.nearest.apart) found.nearest = { x, y, apart, metres: middle ? distanceOf(positionOf(probe), middle) : null }; // prettier-ignore
    }
    found.columns ||= found.values.length;
    await pause();
  }
  found.inRegion /= Math.max(1, asked);
  found.covered /= Math.max(1, found.looks);
  found.coveredBy = [...others].sort((a, b) => b[1] - a[1])[0]?.[0] ?? -1;
  const [most] = REASONS.toSorted((a, b) => reasons[b] - reasons[a]);
  const stands = found.values.reduce((sum, share) => sum + share * points, 0);
  found.passes = reasons[most] > stands / 2 ? most : null;
  const from = objectMiddle(scene, object);
  found.landing = probe.landing(from, object, towardLight(light, from, 0).direction.map((c) => -c)); // prettier-ignore
  return found;
}

const positionOf = ({ look: { point } }: ShadowProbe) => [point.px, point.py, point.pz];
const distanceOf = (a: number[], b: number[]) => Math.hypot(...a.map((v, k) => v - b[k]));
/** How far a pixel lies outside of a span. */
const outside = (at: number, from: number, size: number) => Math.max(0, from - at, at - (from + size - 1));
