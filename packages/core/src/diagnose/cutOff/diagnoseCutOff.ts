// What is cut off here: the light that depth limits and clamps keep out of a region, the limits that would keep it, and what
// they cost.
//
// The proof knows from its probes how much each limit cuts off, but not how much further a limit has to be raised, and which
// of two limits that are met together would have to follow. So the region is rendered once with open limits, and keeps
// account of its paths by their events: any combination of limits is then a sum over that account (depthLimits.ts).
import { InputError } from '../../formats/index.ts';
import { intersectRegions } from '../../image/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import type { Cause, Diagnosis, DiagnosisContext } from '../contract.ts';
import type { Evidence } from '../evidence.ts';
import { regionCuts } from '../limits/regionCuts.ts';
import type { Remedy } from '../remedy.ts';
import { ratioOf } from '../groupRatio.ts';
import { CUT_OFF_DEFAULTS } from './cutOffDefaults.ts';
import { checksOf, clampCurvesOf, curvesOf, mapOf, picturesOf, pixelsOf, tableOf } from './cutOffEvidence.ts';
import { deeper } from '../limits/deeperRemedy.ts';
import { OPEN_RENDER, renderOpen } from '../limits/openRender.ts';
import { clampRemedies } from './cutOffRemedies.ts';
import { pathOf } from './cutPath.ts';
import { DEPTH_KINDS, limitsThatKeep, OPEN, within, type Depths } from '../limits/depthLimits.ts';
import { allShare, referencesOf, sharesOf, type LimitShare } from '../limits/limitShares.ts';
import { limitWithValue, words as limitWords } from '../limits/words.ts';
import { words } from './words.ts';

const { keep, visible } = CUT_OFF_DEFAULTS;
/** A limit whose raising leaves so much of what is lost is held back by another. */
const HELD = 0.98;

/** @throws InputError where the picture does not say what its limits cut off */
export async function diagnoseCutOff(context: DiagnosisContext): Promise<Diagnosis> {
  const { picture, scene, settings } = context;
  const region = intersectRegions(context.region, picture.dataWindow);
  if (!region) throw new InputError('the region lies outside the picture');
  const cuts = regionCuts(picture, region);
  if (!cuts) throw new InputError(words.noLayers);
  const shares = sharesOf(cuts);
  const leading = shares[0];
  const cutOff = allShare(cuts);
  const opened = scene && (await renderOpen(context, scene, region));
  const evidence: Evidence[] = [mapOf(picture, region)];
  const remedies: Remedy[] = [];
  const sentences = [cutOff < visible ? words.nothing(cutOff) : words.cut(cutOff, limitWithValue(leading.limit, settings), leading.share)]; // prettier-ignore
  const measured: Record<string, number> = { cutOff, meanLuminance: cuts.meanLuminance };
  for (const { limit, cut } of shares) measured[`cutOff.${limit}`] = cut;
  if (opened) {
    const rows = opened.statistics.paths!.depths;
    const depth = settings.depth;
    const all = within(rows, OPEN).light;
    const lost = (limits: Depths) =>
      ratioOf(
        all.map((v, g) => v - within(rows, limits).light[g]),
        all,
      );
    measured.lost = lost(depth).value;
    evidence.unshift(curvesOf(opened, settings));
    const clampCurves = clampCurvesOf(opened, settings);
    if (clampCurves) evidence.push(clampCurves);
    for (const share of keep.filter((share) => measured.lost > 1 - share)) {
      const to = limitsThatKeep(rows, depth, share);
      const kinds = DEPTH_KINDS.filter((kind) => to[kind] !== depth[kind]);
      if (kinds.length === 0) continue;
      remedies.push(deeper(context, opened, cuts, region, to, kinds, share));
      if (share !== keep.at(-1)) continue;
      // raising one that the total depth is blamed for does nothing by itself
      const held = kinds.filter((kind) => kind !== 'total' && kinds.includes('total') && lost({ ...depth, [kind]: to[kind] }).value > HELD * measured.lost); // prettier-ignore
      if (held.length > 0) sentences.push(limitWords.held(held, depth));
    }
    const beyond = allShare(regionCuts(opened.picture, region)!);
    if (beyond > visible) sentences.push(words.beyond(beyond, OPEN_RENDER.depth));
    remedies.push(...clampRemedies(context, opened, cuts));
    evidence.unshift(picturesOf(picture, opened, region));
  } else sentences.push(words.noScene);
  evidence.push(tableOf(shares, settings, opened), pixelsOf(picture, region));
  if (scene && cutOff >= visible) evidence.push(await pathOf(scene, picture, region, settings));
  evidence.push(checksOf(shares, settings));
  return {
    kind: 'other',
    region,
    summary: sentences.join(' '),
    causes: shares.filter(({ cut }) => cut >= visible / 10).map((of) => causeOf(of, settings, evidence)),
    evidence,
    remedies,
    measured,
  };
}

function causeOf({ limit, share }: LimitShare, settings: RenderSettings, evidence: Evidence[]): Cause {
  const rests = ['map', 'limits', limit === 'clamp' ? 'clamps' : 'depths'];
  return {
    id: limit,
    title: words.cause(limit, settings),
    share,
    about: referencesOf(limit, settings),
    evidence: rests.filter((id) => evidence.some((e) => e.id === id)),
  };
}
