// Which component carries the visible noise of a region, and what it takes to bring it below the limit.
import { findChannel, noiseInterval, type Picture } from '../../image/index.ts';
import { COMPONENTS, SPLIT_KINDS, type Component, type SplitKind } from '../../render/index.ts';
import type { Diagnosis, DiagnosisContext } from '../contract.ts';
import { number, text, type BarsEvidence, type Cell, type TableEvidence } from '../evidence.ts';
import { effectOf, meetsTarget, type Effect, type Remedy } from '../remedy.ts';
import { cleanAt } from './cleanAt.ts';
import { noiseByLight, noiseByMatte, type NoiseShare } from './noiseBy.ts';
import { lensBlur } from './lensBlur.ts';
import { noiseMap, tileHistogram } from './noiseMap.ts';
import { predictNoise, predictSeconds, readNoiseData, regionNoise, total, weightedSum, type CountChange, type NoiseData } from '../../predict/index.ts'; // prettier-ignore
import { proofRecord } from './proofRecord.ts';
import { COMPONENT_NAMES, words } from './words.ts';

/** Splits that can have a part in the noise of a component. */
const KINDS_OF: Partial<Record<Component, SplitKind[]>> = {
  directDiffuse: ['light', 'diffuse'],
  indirectDiffuse: ['diffuse'],
  directSpecular: ['light', 'specular'],
  indirectSpecular: ['specular'],
  transmission: ['transmission', 'light'],
  volume: ['volume'],
};
/** So far from the root of the samples a law is worth a sentence. */
const UNLIKE_ROOT = 0.03;
const MOST_PIXEL_SAMPLES = 65536;
const MOST_SPLITS = 1024;

/** What of the context is read: the scene is not. */
export type NoiseInput = Omit<
  DiagnosisContext,
  'expected' | 'keep' | 'neighbours' | 'pause' | 'report' | 'scene' | 'signal'
>;

/** @throws InputError where the picture carries no statistics, or the region lies outside it */
export function diagnoseNoise(input: NoiseInput): Diagnosis {
  const { picture, settings } = input;
  const { limit: noiseLimit, stops } = input.noise;
  const data = readNoiseData(picture, input.region, stops);
  if (mostSamples(picture) < 2) return { kind: 'noise', region: data.region, summary: words.oneSample, evidence: [], causes: [], remedies: [], measured: { noiseLimit, seconds: input.seconds } }; // prettier-ignore
  const noise = regionNoise(data, data.beauty, stops);
  const { low, high } = noiseInterval(
    data.luminance,
    data.beauty,
    data.doubt,
    data.region,
    stops,
    proofRecord(picture).noiseCheck?.doubt ?? 0,
  );
  const visible = COMPONENTS.map((_, c) => weightedSum(data.components[c], data.weight));
  const whole = weightedSum(data.beauty, data.weight);
  const total = visible.reduce((sum, v) => sum + v, 0);
  const covariance = whole > 0 ? (whole - total) / whole : 0;
  const shares = visible.map((v) => (total > 0 ? v / total : 0));
  const ranked = COMPONENTS.map((component, c) => ({ component, share: shares[c] }))
    .filter(({ share }) => share > 0.0005)
    .sort((a, b) => b.share - a.share);
  const bars: BarsEvidence = {
    type: 'bars',
    id: 'shares',
    title: words.sharesTitle,
    unit: 'share',
    source: words.sharesSource + words.shared(covariance),
    bars: ranked.map(({ component, share }) => ({
      label: COMPONENT_NAMES[component],
      value: share,
      colour: component,
    })),
  };
  const parts = COMPONENTS.map((component, c) => ({ component, variance: data.components[c] }));
  const map = noiseMap(data.region, data.beauty, data.weight, parts, words.mapSource);
  const remedies = noise > noiseLimit && ranked.length > 0 ? findRemedies(input, data, noise, ranked[0].component) : [];
  const [best] = remedies;
  const lifts = cleanAt(data, noiseLimit);
  const byLight = noiseByLight(picture, data);
  const bySurface = noiseByMatte(picture, data, 'surfaces');
  const sentences: string[] = [];
  if (ranked.length === 0) sentences.push(words.none);
  else if (noise <= noiseLimit) sentences.push(words.clean({ value: noise, low, high }, noiseLimit));
  else {
    sentences.push(words.finding(ranked[0].share, ranked[0].component, { value: noise, low, high }, noiseLimit) + words.lies(named(bySurface), named(byLight))); // prettier-ignore
  }
  sentences.push(words.lifts(lifts));
  const blur = lensBlur(picture, data.region);
  if (blur > 1 && ranked.length > 0) sentences.push(words.outOfFocus(blur));
  const law = noise > 0 ? Math.log(noise / predictNoise(data, { pixels: 4, splits: {} }, stops, settings).value) / Math.log(4) : 0.5; // prettier-ignore
  if (best && Math.abs(law - 0.5) > UNLIKE_ROOT) sentences.push(words.law(law));
  if (best) {
    const [then, time] = [effectOf(best, 'noise')!, effectOf(best, 'time')!];
    sentences.push(words.remedy(best.title, then.value, meetsTarget(then), time.value - input.seconds));
  }
  return {
    kind: 'noise',
    region: data.region,
    summary: sentences.join(' '),
    evidence: [
      bars,
      map,
      tileHistogram(map, noise, noiseLimit),
      levelsTable(data, settings),
      {
        type: 'table',
        id: 'lifts',
        title: words.liftsTitle,
        source: words.measuredHere,
        columns: words.liftsColumns,
        rows: lifts.map((l) => [number(l.stops, 'EV'), number(l.noise, 'L*'), text(l.clean ? 'within' : 'above')]),
      },
      ...sharesTables([
        ['light', byLight, words.byLight],
        ['surfaces', bySurface, words.bySeen],
        ['objects', noiseByMatte(picture, data, 'objects'), words.bySeen],
      ]),
    ],
    causes: ranked.map(({ component, share }) => ({
      id: component,
      title: words.cause(component),
      share,
      about: [],
      evidence: ['shares', 'map', 'levels'],
    })),
    remedies,
    measured: {
      noise,
      noiseLow: low,
      noiseHigh: high,
      noiseLimit,
      // noise falls as the pixel samples to this power
      law,
      seconds: input.seconds,
      lensBlur: blur,
      // what the components share: 0 where their samples are independent
      covariance,
      ...Object.fromEntries(COMPONENTS.map((c, i) => [`share.${c}`, shares[i]])),
    },
  };
}

/** Camera samples of the pixel that has most of them. */
function mostSamples(picture: Picture): number {
  return findChannel(picture, 'samples', 'N')?.data.reduce((most, n) => Math.max(most, n), 0) ?? Infinity;
}

/** Worth a word where it carries more than half. */
const named = ([first]: NoiseShare[]) => (first?.share > 0.5 ? first.name : null);

const MOST_ROWS = 12;
const sharesTables = (all: [by: keyof typeof words.byTitle, shares: NoiseShare[], source: string][]): TableEvidence[] =>
  all
    .filter(([, shares]) => shares.length > 0)
    .map(([by, shares, source]) => ({
      type: 'table',
      id: `by-${by}`,
      title: words.byTitle[by],
      source,
      columns: words.byColumns,
      rows: shares.slice(0, MOST_ROWS).map(({ name, share }) => [text(name), number(share, 'share')]),
    }));

/** More splits for the leading component, and more pixel samples: the fewest that reach the limit, quickest first. */
function findRemedies(input: NoiseInput, data: NoiseData, now: number, leading: Component): Remedy[] {
  const { picture, settings, use } = input;
  const { limit: noiseLimit, stops } = input.noise;
  const frame = readNoiseData(picture, picture.dataWindow, stops);
  const regionSeconds = (input.seconds * total(data.seconds)) / (total(frame.seconds) || 1);
  const remedies: Remedy[] = [];
  const offer = (
    id: string,
    path: string,
    from: number,
    most: number,
    change: (factor: number) => CountChange,
    // splits are only doubled: a power of two of them is spread evenly. A count in between gave 21 % more noise than
    // predicted on the frosted panel of the tests
    exact: boolean,
    texts: { title: (from: number, to: number) => string; side: string },
  ) => {
    const at = (to: number) => predictNoise(data, change(to / from), stops, settings);
    let to = from;
    while (to < most && at(to).value > noiseLimit) to = Math.min(most, to * 2);
    if (at(to).value > noiseLimit) {
      // more splits stop helping where the noise between camera samples is all that is left
      const floor = at(most).value;
      to = from;
      while (to < most && at(to).value > floor * 1.1) to = Math.min(most, to * 2);
    } else if (exact) {
      let low = Math.ceil(to / 2);
      while (low < to) {
        const middle = (low + to) >> 1;
        if (at(middle).value <= noiseLimit) to = middle;
        else low = middle + 1;
      }
    }
    if (to <= from) return;
    remedies.push({
      id,
      title: texts.title(from, to),
      patch: [{ op: 'replace', path: `/${use}/${path}`, value: to }],
      effects: [
        { measure: 'noise', now, target: noiseLimit, ...at(to) },
        { measure: 'time', now: input.seconds, target: null, ...predictSeconds(frame, input.seconds, change(to / from)) }, // prettier-ignore
        { measure: 'regionTime', now: regionSeconds, target: null, ...predictSeconds(data, regionSeconds, change(to / from)) }, // prettier-ignore
      ],
      sideEffect: texts.side,
    });
  };
  for (const kind of tracedKinds(data).filter((kind) => KINDS_OF[leading]?.includes(kind))) {
    const key = `${kind}Samples` as const;
    offer(key, key, settings[key], MOST_SPLITS, (factor) => ({ pixels: 1, splits: { [kind]: factor } }), false, {
      title: (from, to) => words.splits(kind, from, to),
      side: words.splitSide,
    });
  }
  offer(
    'pixelSamples',
    'pixelSamples',
    settings.pixelSamples,
    MOST_PIXEL_SAMPLES,
    (factor) => ({ pixels: factor, splits: {} }),
    true,
    { title: words.pixels, side: words.pixelSide },
  );
  const noiseOf = (remedy: Remedy): Effect => effectOf(remedy, 'noise')!;
  const timeOf = (remedy: Remedy) => effectOf(remedy, 'time')!.value;
  return remedies.sort((a, b) => Number(meetsTarget(noiseOf(b))) - Number(meetsTarget(noiseOf(a))) || timeOf(a) - timeOf(b)); // prettier-ignore
}

const tracedKinds = (data: NoiseData) => SPLIT_KINDS.filter((_, k) => total(data.kindRays[k]) > 0);

/** What more splits of each kind could take away of the visible variance, and what only pixel samples can. */
function levelsTable(data: NoiseData, settings: NoiseInput['settings']): TableEvidence {
  const whole = weightedSum(data.beauty, data.weight);
  let left = 1;
  const rows = tracedKinds(data).map((kind): Cell[] => {
    const count = settings[`${kind}Samples`];
    if (count < 2) return [text(kind), number(1, 'count'), text(words.notMeasured)];
    const share = weightedSum(data.parts[SPLIT_KINDS.indexOf(kind)], data.weight) / whole;
    left -= share;
    return [text(kind), number(count, 'count'), number(share, 'share')];
  });
  rows.push([text('pixel'), number(settings.pixelSamples, 'count'), number(Math.max(0, left), 'share')]);
  return {
    type: 'table',
    id: 'levels',
    title: words.levelsTitle,
    source: words.levelsSource,
    columns: words.levelsColumns,
    rows,
  };
}
