// What would help against fireflies, tried on parts of the region, and what each cure costs there.
import { canDenoise, SPLIT_KINDS } from '../../render/index.ts';
import { findChannel, type Region } from '../../image/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import type { Evidence } from '../evidence.ts';
import { setClamps } from '../limits/clampLimits.ts';
import { setTo } from '../limits/setTo.ts';
import { effectOf, type Remedy } from '../remedy.ts';
import { boilOf } from './boil.ts';
import { clampPictures, clampTable, mostTaken, takenByClamps } from './clampTakes.ts';
import type { Explained } from './clusters.ts';
import { cureTable } from './cureTable.ts';
import { cureWishes } from './cureWishes.ts';
import { findFireflies, type Firefly } from './findFireflies.ts';
import { DIAGNOSED_LAYERS } from './fireflyDefaults.ts';
import { clampCurves } from './fireflyEvidence.ts';
import { clampRemedy, depthRemedy, moreSamplesRemedy, targetOf } from './fireflyRemedies.ts';
import { meanOf } from './regionMean.ts';
import { busiestTwice, effectsOf, rehearse, stageOf, type Rehearsed } from './rehearse.ts';
import { words } from './words.ts';

/** Camera samples of a render of the whole region. */
const OPENED = 120_000;

export interface Cures {
  sentences: string[];
  evidence: Evidence[];
  /** What takes the cause away comes before what hides it. */
  remedies: Remedy[];
}

/** @param candidates what a trial would count: it does not look again at each of them */
export async function curesOf(
  context: DiagnosisContext,
  region: Region,
  candidates: Firefly[],
  explained: Explained[],
): Promise<Cures> {
  const { scene } = context;
  const now = candidates.length;
  const tried: Cures =
    scene && explained.length > 0
      ? await triedCures(context, scene, region, candidates, explained)
      : { sentences: scene ? [words.foreign] : [], evidence: [], remedies: [] };
  const all = [...tried.remedies, moreSamplesRemedy(context, candidates, now)];
  const remedies = all.filter((remedy) => effectOf(remedy, 'fireflies')!.value < now);
  if (all.length > 1 && remedies.length === 0) tried.sentences.push(words.noCure);
  return { ...tried, remedies };
}

async function triedCures(
  context: DiagnosisContext,
  scene: SceneAccess,
  region: Region,
  candidates: Firefly[],
  explained: Explained[],
): Promise<Cures> {
  const { picture, report, seconds, settings } = context;
  const now = candidates.length;
  report(0.3, words.accountTitle);
  const account = await renderAccount(context, scene, region);
  const evidence: Evidence[] = [clampCurves(explained, account, settings.clamp)];
  const clamps = clampRemedy(context, account, explained, now, meanOf(picture, region).value);
  const wishes = await cureWishes(context, scene, await scene.compiled(), explained);
  const stage = stageOf(context, candidates);
  const rehearsed: Rehearsed[] = [];
  const depths = depthRemedy(context, account, explained, now, meanOf(picture, region).value);
  const computed = [...depths, ...clamps];
  for (const wish of [...wishes, ...computed]) {
    report(0.4 + (0.4 * rehearsed.length) / (wishes.length + computed.length), words.rehearse(wish.title));
    rehearsed.push(await rehearse(context, scene, stage, wish));
  }
  if (stage.before.noise > 0 && stage.before.rays > 0) evidence.push(cureTable(stage, rehearsed, settings, seconds));
  report(0.8, words.clampTakes);
  const taken = await whatClampsTake(context, scene, region, clamps, candidates);
  report(0.9, words.rehearse(words.otherSeed));
  const boil = await whereItBoils(context, scene, candidates);
  return {
    sentences: [...taken.sentences, ...boil.sentences],
    evidence: [...evidence, ...taken.evidence, ...boil.evidence],
    remedies: [...wishes.map((wish, i) => ({ ...wish, effects: effectsOf(context, stage, rehearsed[i].after, targetOf(now)) })), ...computed], // prettier-ignore
  };
}

/** Of the clamps that are set, and of those that are offered. */
async function whatClampsTake(
  context: DiagnosisContext,
  scene: SceneAccess,
  region: Region,
  offered: Remedy[],
  candidates: Firefly[],
): Promise<Omit<Cures, 'remedies'>> {
  const { picture, settings } = context;
  const isClamped = setClamps(settings.clamp).length > 0;
  if ((!isClamped && offered.length === 0) || !findChannel(picture, 'cut.clamp', 'R')) return { sentences: [], evidence: [] }; // prettier-ignore
  const { document } = scene;
  const { objectIds } = await scene.compiled();
  const now = takenByClamps(picture, region, candidates);
  const clamped = [];
  for (const { patch, title } of offered) {
    const render = { title: words.rehearse(title), region, patch: [...patch, ...fewSamples(context, region)], extras: [], layers: DIAGNOSED_LAYERS }; // prettier-ignore
    const { picture: then } = await scene.render(render);
    clamped.push({ title, picture: then, taken: takenByClamps(then, region, findFireflies(then, region)) });
  }
  const shown = [...(isClamped ? [{ title: words.takenNow, picture }] : []), ...clamped.map((one) => ({ title: words.takenBy(one.title), picture: one.picture }))]; // prettier-ignore
  const [already, then] = [now, clamped[0]?.taken].map((of) => of && mostTaken(of, objectIds, document));
  const sentences = [
    ...(isClamped && already ? [words.clampEats(already.name, already.share)] : []),
    ...(then ? [words.clampWouldEat(clamped[0].title, then.name, then.share)] : []),
  ];
  return {
    sentences,
    evidence: [clampTable(now, clamped, objectIds, document), clampPictures(picture, region, shown)],
  };
}

/** The part once more with other points. */
async function whereItBoils(
  context: DiagnosisContext,
  scene: SceneAccess,
  fireflies: Firefly[],
): Promise<Omit<Cures, 'remedies'>> {
  const { noise, picture } = context;
  if (!canDenoise(picture.channels.map(({ name }) => name))) return { sentences: [], evidence: [] };
  const { other, part } = await busiestTwice(context, scene, fireflies);
  const { map, share } = boilOf(picture, other, part, noise);
  return { sentences: [words.boils(share, noise.limit)], evidence: [map] };
}

/** The region with an account of its light: by brightness before it is clamped, by the events of its paths once it is. */
function renderAccount(context: DiagnosisContext, scene: SceneAccess, region: Region) {
  return scene.render({ title: words.accountTitle, region, patch: fewSamples(context, region), extras: ['light'], layers: /^beauty$/ }); // prettier-ignore
}

/** Few samples over the whole region, the same for every pixel. */
function fewSamples({ settings, use }: DiagnosisContext, region: Region): Patch {
  const splits = Math.max(...SPLIT_KINDS.map((kind) => settings[`${kind}Samples`]));
  const pixelSamples = Math.max(2, Math.min(settings.pixelSamples, Math.ceil(OPENED / (region.width * region.height * splits)))); // prettier-ignore
  return [setTo(use, 'pixelSamples', pixelSamples), setTo(use, 'adaptive/limit', 0)];
}
