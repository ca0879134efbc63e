// What asking the lights of each group takes, beside what they bring: those that cost most for least come first.
import { findChannel, planeSum } from '../../image/index.ts';
import { luminance } from '../../color/index.ts';
import { channelSafe, filmNames } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import { number, text, type TableEvidence } from '../evidence.ts';
import type { Rehearsal } from '../rehearsal/rehearse.ts';
import { words } from './words.ts';

export interface LightCost {
  group: string;
  /** Of what asking all lights at the first surfaces took, and of the light that all groups bring, 0..1. */
  time: number;
  brings: number;
}

/** Empty where the lights of the shot are one group, or nothing was measured. */
export function lightCosts(
  { lightSeconds, picture, region }: Pick<Rehearsal, 'lightSeconds' | 'picture' | 'region'>,
  document: ShotDocument,
): LightCost[] {
  const { groups } = filmNames(document);
  const light = groups.map((group) => {
    const [r, g, b] = [...'RGB'].map((c) => planeSum(picture, findChannel(picture, `group.${channelSafe(group)}`, c)?.data, region)); // prettier-ignore
    return luminance(r, g, b);
  });
  const sum = (values: number[]) => values.reduce((all, v) => all + v, 0);
  const [seconds, all] = [sum(lightSeconds.slice(0, groups.length)), sum(light)];
  if (groups.length < 2 || seconds === 0 || all === 0) return [];
  const costs = groups.map((group, i) => ({ group, time: lightSeconds[i] / seconds, brings: light[i] / all }));
  // glowing surfaces and skies that are met and never asked cost nothing here
  return costs.filter(({ time }) => time > 0).sort((a, b) => b.time * (a.brings + LEAST) - a.time * (b.brings + LEAST));
}

/** Light that counts as none, so that groups which bring nothing are ordered by their cost. */
const LEAST = 1e-4;

export function lightCostTable(costs: LightCost[]): TableEvidence | null {
  if (costs.length < 2) return null;
  const rows = costs.map(({ brings, group, time }) => [text(group), number(time, 'share'), number(brings, 'share')]);
  return { type: 'table', id: 'lightCosts', title: words.lightCosts, source: words.lightCostSource, columns: words.lightCostColumns, rows }; // prettier-ignore
}
