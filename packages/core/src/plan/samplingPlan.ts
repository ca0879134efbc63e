// The settings that reach a noise limit in the least time, and what else could be had, from a pilot.
import { type Estimate } from '../diagnose/index.ts';
import { eyeWeight, weightedSum } from '../predict/index.ts';
import { VISIBLE_NOISE_DEFAULTS, type Region } from '../image/index.ts';
import type { SplitKind } from '../render/index.ts';
import type { Patch, RenderSettings, SettingsUse } from '../scene/index.ts';
import { adaptiveCounts } from './adaptiveCounts.ts';
import { bestCounts, BOUNDS_DEFAULTS, type CountBounds, type Goal } from './bestCounts.ts';
import { asMeasured, costOf, tailOf, uncertainNoise, type Rendered, type Timed } from './foretell.ts';
import { planWords } from './planWords.ts';
import { countOf, countsOf, type Counts } from './counts.ts';
import { atPace, noiseAt, samplingModel, variancesAt, withFrame, type SamplingModel } from './samplingModel.ts';
import { usualNotes } from './usualValues.ts';
import { costShares, lightCosts, type LightCost } from './costShares.ts';
import { timesAt } from './unitTimes.ts';
import { depthWaste, sampleWaste, textureWaste, type WasteItem } from './waste.ts';

export interface PlanInput {
  pilot: Rendered;
  /** A proof of the same picture with other counts, where there is one: what is told is held against it. */
  measured: Rendered | null;
  /** What renders of the same picture and size took, that one with them. */
  timed: Timed[];
  present: RenderSettings;
  use: SettingsUse;
  region: Region;
  limit: number;
  stops: number;
  bounds?: CountBounds;
  /** Share of the tiles that are to hold the limit. */
  share?: number;
  /** Names of the light groups, in the order of the film. */
  groups?: string[];
  /** Something in the shot moves. */
  moves?: boolean;
}
export type PlanChoice = 'present' | 'plan' | 'adaptive' | 'sameTime' | 'sameNoise' | 'halfTime';
export interface PlanOption {
  id: PlanChoice;
  title: string;
  counts: Counts;
  adaptive: RenderSettings['adaptive'];
  /** L* over the region, as it would be measured. */
  noise: Estimate;
  /** Of the frame that the pilot shows. */
  seconds: Estimate;
  meetsLimit: boolean;
  patch: Patch;
}
export interface SamplingPlan {
  summary: string;
  limit: number;
  options: PlanOption[];
  /** The least noise for a time, from a quarter of the plan's time to four times. */
  curve: { noise: number; seconds: number }[];
  /** Shares of the visible variance as it is set now: what more of its own samples could take away, for each kind. */
  within: { kind: SplitKind; share: number }[];
  /** And what only pixel samples take away. */
  between: number;
  /** What the time of now goes to. */
  costs: ReturnType<typeof costShares>;
  /** Of each light group, as it was rendered last. */
  lights: LightCost[];
  waste: WasteItem[];
  notes: string[];
  /** Camera samples of each pixel of the pilot, whether a proof was there to hold it against, and how many told the time. */
  rests: { samples: number; checked: boolean; timed: number };
}

const NEARLY = 1.005;
/** The plan aims so far below the limit: what is told is off by a few percent, and a plan that just misses is no help. */
const AIM = 0.94;
const EVER = 2 ** 20;

/** @throws InputError where a picture carries no statistics, or the region lies outside */
export function samplingPlan(input: PlanInput): SamplingPlan {
  const { pilot, present, limit, stops, region, bounds = BOUNDS_DEFAULTS } = input;
  const share = input.share ?? VISIBLE_NOISE_DEFAULTS.quantile;
  const shown = input.measured ?? pilot;
  const now = countsOf(present);
  const told = withFrame(samplingModel(pilot.picture, pilot.settings, region, { stops, share }), shown, now);
  const cost = costOf(told, input.timed.length > 0 ? input.timed : [ofFrame(pilot)]);
  const model = atPace(asMeasured(told, shown), cost);
  const off = { ...present.adaptive, limit: 0 };
  const noiseOf = (counts: Counts) => noiseAt(model, counts);
  const takes = (counts: Counts) => cost.seconds(timesAt(model.times, counts));
  const best = (goal: Goal) => bestCounts(model, goal, bounds);
  const tail = tailOf(pilot, model);
  const { counted } = shown;
  const known = countsOf(shown.settings);
  const option = (
    id: PlanChoice,
    counts: Counts,
    adaptive = off,
    noise = noiseOf(counts),
    seconds = takes(counts),
  ): PlanOption => ({
    id,
    title: planWords.titles[id],
    counts,
    adaptive,
    noise: uncertainNoise(model, counts, noise, tail, known),
    seconds,
    meetsLimit: noise <= limit * NEARLY,
    patch: patchOf(input, counts, adaptive),
  });
  /** The limit by adaptive sampling, where that is quicker. */
  const adaptiveOption = () => {
    const found = adaptiveCounts(model, AIM * limit, bounds);
    const { value, low, high } = takes(found.counts);
    const of = found.timeShare;
    const seconds = { value: value * of, low: low * of, high: high * of };
    const adapted = option('adaptive', found.counts, found.adaptive, found.noise, seconds);
    return adapted.meetsLimit && adapted.seconds.value < planned.seconds.value ? adapted : null;
  };
  const held = option('present', now, present.adaptive.limit > 0 ? present.adaptive : off);
  const planned = option('plan', best({ noise: AIM * limit }));
  const adapted = adaptiveOption();
  // what the bounds keep from its word is no choice
  const others = [
    option('sameTime', best({ seconds: held.seconds.value })),
    option('sameNoise', best({ noise: held.noise.value })),
    option('halfTime', best({ seconds: held.seconds.value / 2 })),
  ].filter(({ id, seconds }) => seconds.value <= NEARLY * held.seconds.value * (id === 'halfTime' ? 0.5 : 1));
  const options = [held, planned, ...(adapted ? [adapted] : []), ...others];
  const curve = [0.25, 0.35, 0.5, 0.7, 1, 1.4, 2, 2.8, 4].map((factor) => {
    const counts = best({ seconds: planned.seconds.value * factor });
    return { noise: noiseOf(counts), seconds: takes(counts).value };
  });
  const beyond = model.kinds.filter((kind) => countOf(planned.counts, kind) > countOf(model.pilot, kind));
  return {
    summary: summaryOf(held, planned, model.kinds, limit),
    limit,
    options,
    curve,
    ...levelsOf(model, now),
    costs: costShares(model, now),
    lights: counted ? lightCosts(shown.picture, region, stops, counted.statistics, input.groups ?? []) : [],
    waste: [
      ...sampleWaste(model, present, input.use, held.seconds.value),
      ...(counted ? depthWaste(counted.statistics, present, input.use, held.seconds.value) : []),
      ...textureWaste(counted?.textures ?? []),
    ],
    notes: [
      ...usualNotes(planned.counts, model.kinds, present, input.moves ?? false),
      ...beyond.map((kind) => planWords.beyond(kind, countOf(model.pilot, kind))),
      ...(present.adaptive.limit > 0 ? [planWords.presentAdaptive] : []),
      ...(adapted ? [] : [planWords.notAdaptive]),
      ...(tail < 2 ? [planWords.tail(tail)] : []),
    ],
    rests: { samples: pilot.settings.pixelSamples, checked: input.measured !== null, timed: input.timed.length },
  };
}

/** A pilot of a region, with the seconds that the frame would take at its pace. */
function ofFrame(pilot: Rendered): Rendered {
  const { displayWindow, height, width } = pilot.picture;
  return { ...pilot, seconds: (pilot.seconds * displayWindow.width * displayWindow.height) / (width * height) };
}

function levelsOf(model: SamplingModel, now: Counts): Pick<SamplingPlan, 'within' | 'between'> {
  const weight = eyeWeight(model.data.luminance, variancesAt(model, now), model.stops);
  // parts of one whole: that of the pilot, from which they were estimated
  const plain = { ...model, held: { variance: 1, splits: model.pilot } };
  const visible = (counts: Counts) => weightedSum(variancesAt(plain, counts), weight);
  const whole = visible(now);
  const within = model.kinds.map((kind) => ({
    kind,
    share: whole > 0 ? Math.max(0, 1 - visible({ ...now, [`${kind}Samples`]: EVER }) / whole) : 0,
  }));
  return { within, between: Math.max(0, 1 - within.reduce((sum, { share }) => sum + share, 0)) };
}

function patchOf({ present, use }: PlanInput, counts: Counts, adaptive: RenderSettings['adaptive']): Patch {
  const changes = Object.entries(counts).filter(([key, value]) => present[key as keyof Counts] !== value);
  const patch: Patch = changes.map(([key, value]) => ({ op: 'replace', path: `/${use}/${key}`, value }));
  if (adaptive.limit !== present.adaptive.limit)
    patch.push({ op: 'replace', path: `/${use}/adaptive/limit`, value: adaptive.limit });
  if (adaptive.limit > 0 && adaptive.least !== present.adaptive.least)
    patch.push({ op: 'replace', path: `/${use}/adaptive/least`, value: adaptive.least });
  return patch;
}

function summaryOf(held: PlanOption, planned: PlanOption, kinds: SplitKind[], limit: number): string {
  const counts = planWords.counts(planned.counts, kinds);
  const told = [planWords.now(held.noise.value, held.seconds.value)];
  if (held.meetsLimit) told.push(planWords.within(limit));
  told.push(
    planned.meetsLimit
      ? planWords.meets(limit, counts, planned.seconds.value)
      : planWords.misses(limit, counts, planned.noise.value),
  );
  return told.join(' ');
}
