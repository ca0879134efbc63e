// One chain of tests for each light, in order, at each place of a region: does the light reach it, does anything stand between,
// and does that cast a shadow here? The first that answers ends it.
import type { Region } from '../../image/index.ts';
import { ShadowProbe, type CompiledScene } from '../../render/index.ts';
import type { Light, RenderSettings, ShotDocument } from '../../scene/index.ts';
import { arrival } from './arrival.ts';
import { Blockers, REASONS, type PassReason } from './blockers.ts';
import { pointsOf, shineCosine, towardLight, type Toward } from './lightPoints.ts';
import { rightedLight } from './rightedLight.ts';

/** Places of a region that are asked at most, and places times lights. */
const LOOKS = 900;
const QUESTIONS = 20_000;
const LEAST_LOOKS = 100;
/** Cosine between a flat face and the light from which on its smooth normals have no business to turn away. No source. */
const LOOKS_AT_IT = 0.6;

/** How the chain ends at a place, in the order of its tests. */
export const ENDS = ['off', 'notLinked', 'beyondReach', 'outsideCone', 'normalAway', 'facesAway', 'flatFaceAway', 'open', 'lightWithout', 'placeWithout', 'passed', 'tinted', 'shadow'] as const; // prettier-ignore
export type ChainEnd = (typeof ENDS)[number];

export interface LightAnswer {
  id: string;
  light: Light;
  /** Places that end with each answer. */
  ends: Record<ChainEnd, number>;
  /** How it ends at each look, row by row, as a place in ENDS; -1 where no surface is seen. */
  map: number[];
  /** What it would bring with nothing in between, summed over the places: luminance, W/m2. */
  arrives: number;
  /** The same with what stands in between. */
  brings: number;
  /** Of the places in shadow, how much of the light is stopped there on average: 1 is a core shadow. */
  depth: number;
  /** What stands between, by number of the object: rays that it stops, and that pass it by each reason. */
  between: Map<number, { stops: number; passes: Record<PassReason, number> }>;
  /** Means over the rays that are stopped, metres: from the place to what stops them, and on to the light. */
  toBlocker: number;
  toLight: number;
  /** Objects of the places that the light is not linked to, or that receive no shadows. */
  unlinked: Set<number>;
  without: Set<number>;
  /** Objects whose flat faces turn away from the light where their smooth normals face it. */
  coarse: Set<number>;
  /** Objects whose smooth normals turn away from the light where their flat faces look at it. */
  bent: Set<number>;
  /** Of what stands outside of the range of the light's shadows: the nearest to the place, and the farthest, metres. */
  rangeFrom: number;
  rangeTo: number;
  /** The farthest place beyond the light's reach, metres. */
  farthest: number;
  /** Of the places that the light leaves out (not linked, or beyond reach), those that something would shade. */
  wouldShade: number;
  /** The light as it would shine if its transform did not mirror it; null where it does not. */
  righted: Light | null;
  /** Places that it would shine on then, and does not. */
  turnedAway: number;
}
export interface LightChain {
  region: Region;
  places: number;
  answers: LightAnswer[];
  /** Pixels between two looks, each way. */
  step: number;
}

/**
 * @param pause is awaited after each row
 * @param report share of the work that is done, 0..1
 */
export async function lightChain(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  region: Region,
  pause: () => Promise<void> = async () => {},
  report: (share: number) => void = () => {},
): Promise<LightChain> {
  const looks = Math.min(LOOKS, Math.max(LEAST_LOOKS, QUESTIONS / Math.max(1, Object.keys(document.lights).length)));
  const step = Math.ceil(Math.sqrt((region.width * region.height) / looks));
  const probe = new ShadowProbe(scene, settings);
  const reader = new ChainReader(scene, document, settings, probe);
  const answers = Object.entries(document.lights).map(([id, light]) => emptyAnswer(id, light));
  let places = 0;
  for (let y = Math.floor(step / 2); y < region.height; y += step) {
    for (let x = Math.floor(step / 2); x < region.width; x += step) {
      for (const answer of answers) answer.map.push(-1);
      if (!probe.at(region.x + x, region.y + y)) continue;
      places++;
      for (const answer of answers) reader.ask(answer);
    }
    report(Math.min(1, (y + step) / region.height));
    await pause();
  }
  for (const answer of answers) finish(answer);
  return { region, places, answers, step };
}

class ChainReader {
  private readonly ids: string[];
  private readonly blockers: Blockers;
  constructor(
    scene: CompiledScene,
    private readonly document: ShotDocument,
    settings: RenderSettings,
    private readonly probe: ShadowProbe,
  ) {
    this.ids = scene.objectIds;
    this.blockers = new Blockers(scene, document, settings, probe);
  }

  /** Adds the answer of one light at the place that the probe looks at. */
  ask(answer: LightAnswer): void {
    const { light } = answer;
    const { object, point } = this.probe.look;
    const from = [point.px, point.py, point.pz];
    const middle = towardLight(light, from, 0);
    const count = (end: ChainEnd) => {
      answer.ends[end]++;
      answer.map[answer.map.length - 1] = ENDS.indexOf(end);
    };
    if (light.strength === 0) return count('off');
    const isLinked = isLinkedTo(light, this.ids[object]);
    const isBeyond = isBeyondReach(light, middle);
    if (!isLinked || isBeyond) {
      if (!isLinked) answer.unlinked.add(object);
      else answer.farthest = Math.max(answer.farthest, middle.distance);
      if (this.stopped(answer, from, false) > 0) answer.wouldShade++;
      return count(isLinked ? 'beyondReach' : 'notLinked');
    }
    const away = this.awayFrom(light, middle);
    if (away) {
      if (away === 'normalAway') answer.bent.add(object);
      if (answer.righted && shinesOn(answer.righted, this.probe)) answer.turnedAway++;
      return count(away);
    }
    if (this.probe.flatFacing(...middle.direction) <= 0) {
      answer.coarse.add(object);
      return count('flatFaceAway');
    }
    const sent = arrival(light, middle, this.probe.facing(...middle.direction));
    answer.arrives += sent;
    answer.brings += sent;
    const before = passesOf(answer);
    const stopped = this.stopped(answer, from, true);
    if (stopped === 0) return count(passesOf(answer) > before ? 'passed' : 'open');
    if (!light.castsShadows) return count('lightWithout');
    if (!this.document.objects[this.ids[object]].receivesShadows) {
      answer.without.add(object);
      return count('placeWithout');
    }
    count(light.shadowColor.some((c) => c > 0) ? 'tinted' : 'shadow');
    answer.depth += stopped;
    answer.brings -= stopped * sent;
  }

  private awayFrom(light: Light, middle: Toward): ChainEnd | null {
    if (isOutsideCone(light, middle)) return 'outsideCone';
    if (this.probe.facing(...middle.direction) > 0) return null;
    return this.probe.flatFacing(...middle.direction) > LOOKS_AT_IT ? 'normalAway' : 'facesAway';
  }

  /** Share of the light that is stopped on its way to a place, 0..1. @param note whether what stands between is noted */
  private stopped(answer: LightAnswer, from: number[], note: boolean): number {
    const { light } = answer;
    const { probe } = this;
    const points = pointsOf(light);
    let stopped = 0;
    for (let k = 0; k < points; k++) {
      const { direction, distance } = towardLight(light, from, k);
      probe.toward(...direction, distance);
      if (this.readBetween(light, note ? answer : null, distance)) stopped++;
    }
    return stopped / points;
  }

  /** @returns whether what the probe met stops the light */
  private readBetween(light: Light, answer: LightAnswer | null, distance: number): boolean {
    const { blockers, probe } = this;
    for (let i = 0; i < probe.count; i++) {
      if (blockers.isOwn(i)) continue;
      const reason = blockers.passReason(light, i);
      const between = answer && entryOf(answer, probe.object[i]);
      if (reason) {
        if (between) between.passes[reason]++;
        if (answer && reason === 'range') {
          answer.rangeFrom = Math.min(answer.rangeFrom, probe.distance[i]);
          answer.rangeTo = Math.max(answer.rangeTo, probe.distance[i]);
        }
        continue;
      }
      if (between) {
        between.stops++;
        answer.toBlocker += probe.distance[i];
        answer.toLight += distance - probe.distance[i];
      }
      return true;
    }
    return false;
  }
}

const isLinkedTo = ({ linked }: Light, id: string) => !linked || linked.includes(id);
const isBeyondReach = ({ reach }: Light, { distance }: Toward) => reach > 0 && distance > reach;
function isOutsideCone(light: Light, middle: Toward): boolean {
  const least = light.kind === 'spot' ? Math.cos(((light.outerCone ?? 45) * Math.PI) / 180) : 0;
  return shineCosine(light, middle) <= least;
}

/** Whether a light would come to the place that a probe looks at if nothing stood between. */
export function reachesPlace(light: Light, { objectIds }: CompiledScene, probe: ShadowProbe): boolean {
  const { object, point } = probe.look;
  const middle = towardLight(light, [point.px, point.py, point.pz], 0);
  return light.strength > 0 && isLinkedTo(light, objectIds[object]) && !isBeyondReach(light, middle) && shinesOn(light, probe); // prettier-ignore
}

/** Whether a light is turned towards the place that a probe looks at, and the place towards the light. */
function shinesOn(light: Light, probe: ShadowProbe): boolean {
  const { point } = probe.look;
  const middle = towardLight(light, [point.px, point.py, point.pz], 0);
  return !isOutsideCone(light, middle) && probe.facing(...middle.direction) > 0;
}

const passesOf = ({ between }: LightAnswer) => [...between.values()].reduce((sum, { passes }) => sum + REASONS.reduce((all, r) => all + passes[r], 0), 0); // prettier-ignore

function entryOf({ between }: LightAnswer, object: number) {
  let entry = between.get(object);
  if (!entry) between.set(object, (entry = { stops: 0, passes: { flag: 0, clear: 0, hole: 0, back: 0, range: 0 } }));
  return entry;
}

function emptyAnswer(id: string, light: Light): LightAnswer {
  const ends = Object.fromEntries(ENDS.map((end) => [end, 0])) as Record<ChainEnd, number>;
  return { id, light, ends, map: [], arrives: 0, brings: 0, depth: 0, between: new Map(), toBlocker: 0, toLight: 0, unlinked: new Set(), without: new Set(), coarse: new Set(), bent: new Set(), rangeFrom: Infinity, rangeTo: 0, farthest: 0, wouldShade: 0, righted: rightedLight(light), turnedAway: 0 }; // prettier-ignore
}

function finish(answer: LightAnswer): void {
  const shaded = answer.ends.shadow + answer.ends.tinted;
  const stops = [...answer.between.values()].reduce((sum, entry) => sum + entry.stops, 0);
  answer.depth = shaded > 0 ? answer.depth / shaded : 0;
  answer.toBlocker = stops > 0 ? answer.toBlocker / stops : 0;
  answer.toLight = stops > 0 ? answer.toLight / stops : 0;
}
