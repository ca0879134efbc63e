// What the other set of settings would show in this region, and which of the settings it comes from.
//
// Both sets are rendered over the region with the same random numbers and the same samples, so that what is apart is light and
// no noise. Settings work together: with a total depth of 8 a greater transmission depth changes nothing by itself, and with all
// else taken over it changes much. So each is tried twice, alone and after all others, and its share goes by the mean of both
// (the value of a player among all orders of joining, Shapley 1953, from its first and last order alone: all orders of eight
// settings would take 256 renders).
import { InputError } from '../../formats/index.ts';
import { cropPlane, intersectRegions, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import { drift, parameterAt, valueWords, type DriftLine, type Patch, type SettingsUse } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext } from '../contract.ts';
import { number, text, type MapEvidence, type TableEvidence } from '../evidence.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import { apartAt } from '../rehearsal/apartAt.ts';
import { AS_IT_IS, rehearsedPictures } from '../rehearsal/rehearsalEvidence.ts';
import { rehearsalEffects, secondsOf } from '../rehearsal/rehearsalEffects.ts';
import { differenceOf, rehearse, rehearsing, TILE, type Rehearsal } from '../rehearsal/rehearse.ts';
import { smallFrame } from '../rehearsal/smallFrame.ts';
import type { Remedy } from '../remedy.ts';
import { tileMap } from '../tileMap.ts';
import { words } from './words.ts';

/** L* by which a setting must change the region to count as a cause. Common practice, no source. */
const VISIBLE = 0.3;
/** Settings that are tried by themselves. */
const MOST = 8;

interface Tried {
  line: DriftLine;
  patch: Patch;
  alone: Rehearsal;
  /** L* by which it changes the region alone, and after all others. */
  first: number;
  last: number;
  share: number;
}

/** @throws InputError without a scene, or where the region lies outside the picture */
export async function diagnoseDrift(context: DiagnosisContext): Promise<Diagnosis> {
  const { noise, picture, report, scene, settings, use } = context;
  if (!scene) throw new InputError(words.noScene);
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError('the region lies outside the picture');
  const { document } = scene;
  const other: SettingsUse = use === 'final' ? 'preview' : 'final';
  const lines = drift({ ...document, [use]: settings });
  const ofLight = lines.filter(({ effect }) => effect === 'light');
  const done = (sentences: string[], rest: Partial<Diagnosis>): Diagnosis => ({ kind: 'drift', region, summary: sentences.join('\n'), causes: [], evidence: [], remedies: [], measured: { settings: ofLight.length }, ...rest }); // prettier-ignore
  const titleOf = ({ path }: DriftLine) => parameterAt([use, ...path.split('/')])?.title ?? path;
  const wordsOf = (line: DriftLine, of: SettingsUse) => valueWords([of, ...line.path.split('/')], line[of], document);
  const evidence = lines.length > ofLight.length ? [restTable()] : [];
  if (lines.length === 0) return done([words.same], {});
  if (ofLight.length === 0) return done([words.noLight(lines.length)], { evidence });

  const small = smallFrame(region, settings, use);
  const takenOver = (of: DriftLine[]): Patch => of.map((line) => ({ op: 'replace', path: `/${use}/${line.path}`, value: line[other] })); // prettier-ignore
  const single = ofLight.slice(0, MOST);
  const renders = 2 + single.length * (ofLight.length > 1 ? 2 : 1);
  let finished = 0;
  const tryOut = (title: string, of: DriftLine[]) => {
    report(finished++ / renders, rehearsing(title));
    return rehearse(context, scene, small, { title, patch: takenOver(of) });
  };
  const before = await tryOut(AS_IT_IS, []);
  const all = await tryOut(words.withOther(other), ofLight);
  const apart = differenceOf(before, all, noise.stops);
  const tried: Tried[] = [];
  for (const line of single) {
    const title = `${titleOf(line)} ${wordsOf(line, other)}`;
    const alone = ofLight.length > 1 ? await tryOut(title, [line]) : { ...all, title };
    const but = ofLight.length > 1 ? await tryOut(title, ofLight.filter((l) => l !== line)) : before; // prettier-ignore
    const [first, last] = [differenceOf(before, alone, noise.stops).mean, differenceOf(but, all, noise.stops).mean];
    tried.push({ line, patch: takenOver([line]), alone, first, last, share: 0 });
  }
  const weight = ({ first, last }: Tried) => (first + last) / 2;
  const sum = tried.reduce((total, one) => total + weight(one), 0);
  for (const one of tried) one.share = sum > 0 ? weight(one) / sum : 0;
  tried.sort((a, b) => b.share - a.share);
  const found = tried.filter((one) => Math.max(one.first, one.last) >= VISIBLE);

  const sentences = [words.differs(other, apart.mean, apart.changed, noise.limit)];
  const [leading] = found;
  if (leading) sentences.push(words.leads(leading.share, titleOf(leading.line), wordsOf(leading.line, use), wordsOf(leading.line, other), other)); // prettier-ignore
  if (ofLight.length > MOST) sentences.push(words.more(ofLight.length - MOST));
  const measured: Record<string, number> = { settings: ofLight.length, moved: apart.mean, changed: apart.changed };
  for (const { alone, first, line, share } of tried) {
    measured[`share.${line.path}`] = share;
    measured[`alone.${line.path}`] = first;
    if (before.rays > 0) measured[`rays.${line.path}`] = alone.rays / before.rays;
  }
  return done(sentences, {
    causes: found.map(causeOf),
    evidence: [
      mapOf(region, before, all, noise.stops),
      rehearsedPictures('pictures', words.pictures(use, other), [
        before,
        all,
        ...(ofLight.length > 1 ? found.map(({ alone }) => alone) : []),
      ]),
      effectTable(),
      ...evidence,
    ],
    remedies: remedies(),
    measured,
  });

  function causeOf({ line, share }: Tried): Cause {
    return {
      id: line.path,
      title: words.cause(titleOf(line), wordsOf(line, use), wordsOf(line, other), other),
      share,
      about: [{ type: 'setting', path: line.path.replace('/', '.') }],
      evidence: ['effects', 'pictures'],
    };
  }

  function remedies(): Remedy[] {
    const [seconds, cuts] = [secondsOf(context, region!), regionCuts(picture, region!)];
    const effects = (after: Rehearsal) => rehearsalEffects(before, after, seconds, cuts);
    const each = found.map(({ alone, first, line, patch }): Remedy => {
      const left = differenceOf(alone, all, noise.stops).mean;
      return {
        id: line.path,
        title: words.one(titleOf(line), wordsOf(line, other), other),
        patch,
        effects: effects(alone),
        sideEffect: first < VISIBLE ? words.held : words.oneAside(left, other),
      };
    });
    if (found.length === 0 || ofLight.length === 1) return each;
    const whole = { id: 'all', title: words.all(other), patch: takenOver(ofLight), effects: effects(all), sideEffect: words.allAside }; // prettier-ignore
    return [whole, ...each];
  }

  function effectTable(): TableEvidence {
    return {
      type: 'table',
      id: 'effects',
      title: words.table,
      source: words.tableSource,
      columns: words.columns(use, other),
      rows: tried.map(({ alone, first, last, line, share }) => [
        text(titleOf(line)),
        text(wordsOf(line, use)),
        text(wordsOf(line, other)),
        number(first, 'L*'),
        number(last, 'L*'),
        number(share, 'share'),
        number(before.rays > 0 ? alone.rays / before.rays : 1),
      ]),
    };
  }

  function restTable(): TableEvidence {
    return {
      type: 'table',
      id: 'rest',
      title: words.rest,
      source: words.restSource,
      columns: words.restColumns(use, other),
      rows: lines.filter(({ effect }) => effect !== 'light').map((line) => [text(titleOf(line)), text(wordsOf(line, use)), text(wordsOf(line, other)), text(words.effects[line.effect])]), // prettier-ignore
    };
  }
}

/** L* between two rehearsals, by tile of the region. */
function mapOf(region: Region, one: Rehearsal, two: Rehearsal, stops: number): MapEvidence {
  const { height, width } = one.region;
  const planes = [one, two].map((of) => cropPlane(of.picture, layerLuminance(of.picture, 'beauty')!, of.region));
  const step = region.width / width;
  const place = (i: number) => Math.min(height - 1, Math.floor(((Math.floor(i / region.width) + 0.5) * height) / region.height)) * width + Math.min(width - 1, Math.floor((((i % region.width) + 0.5) * width) / region.width)); // prettier-ignore
  const shown = { id: 'map', title: words.map, source: words.mapSource, unit: 'L*' as const };
  const means = (pixels: number[]) => planes.map((plane) => pixels.reduce((sum, i) => sum + plane[place(i)], 0) / pixels.length); // prettier-ignore
  const valueOf = (pixels: number[]) => {
    const [a, b] = means(pixels);
    return { value: apartAt(stops, a, b), leading: -1 };
  };
  return tileMap(region, shown, valueOf, Math.max(TILE, Math.round(TILE * step)));
}
