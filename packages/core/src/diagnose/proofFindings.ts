// What is to be said about a finished proof before anybody points at anything.
import { cutShare, LIMITS, type RenderStatistics } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { worstFirst, type Finding } from './finding.ts';
import type { Reference } from './reference.ts';
import { limitNotes } from './limits/limitNotes.ts';
import type { RegionCuts } from './limits/regionCuts.ts';
import { percent } from './units.ts';
import { referencesOf } from './limits/limitShares.ts';
import { limitWithValue } from './limits/words.ts';

/** Shares of the light that may be cut off before it is a warning, and an error. Common practice, no source. */
export const CUT_OFF_LIMITS = { warning: 0.01, error: 0.1 };
/** So many pixels with samples that were not a number are named. */
const MOST_NAMED = 5;

/** @returns worst first; the same findings for the log, the shelf and the command line */
export function proofFindings(statistics: RenderStatistics, settings: RenderSettings): Finding[] {
  const findings: Finding[] = [];
  if (settings.pixelSamples === 1)
    findings.push({
      id: 'one-sample',
      severity: 'warning',
      text: 'One sample of each pixel: its noise cannot be measured. Render at least 4 pixel samples, better 16.',
      short: '1 sample',
      about: [setting('pixelSamples')],
    });
  if (statistics.badSamples > 0) findings.push(badSamples(statistics));
  findings.push(...cutFindings(statistics, settings, 'of the light'), ...fireflyFindings(statistics));
  for (const text of limitNotes(settings))
    findings.push({ id: 'limit-order', severity: 'warning', text, short: 'limit order', about: [setting('depth.total')] }); // prettier-ignore
  return worstFirst(findings);
}

/** More of them than one pixel in so many are worth a word. Common practice, no source. */
const FIREFLIES_FROM = 20_000;

function fireflyFindings({ fireflies, pixels }: RenderStatistics): Finding[] {
  if (!fireflies?.worst || fireflies.count * FIREFLIES_FROM < pixels) return [];
  const { count, worst } = fireflies;
  const many = `${count} ${count === 1 ? 'firefly' : 'fireflies'}`;
  return [
    {
      id: 'fireflies',
      severity: 'warning',
      // not looked at again with other samples: the diagnosis does that
      text: `About ${many}, one pixel in ${Math.round(pixels / count)}, the worst at (${worst.x}, ${worst.y}).`,
      short: `about ${many}`,
      about: [{ type: 'pixel', ...worst }],
      kind: 'fireflies',
    },
  ];
}

const setting = (path: string): Reference => ({ type: 'setting', path });

/** @param whose light it is of: "of the light here" */
export function cutFindings(cuts: RegionCuts, settings: RenderSettings, whose: string): Finding[] {
  return LIMITS.map((limit) => ({ limit, share: cutShare(cuts, limit) }))
    .filter(({ share }) => share > CUT_OFF_LIMITS.warning)
    .sort((a, b) => b.share - a.share)
    .map(({ limit, share }) => ({
      id: `cut-${limit}`,
      // a clamp is set to cut light off, a depth limit is not
      severity: share > CUT_OFF_LIMITS.error && limit !== 'clamp' ? 'error' : 'warning',
      text: `The ${limitWithValue(limit, settings)} cuts off about ${(share * 100).toFixed(1)} % ${whose}.`,
      short: `${percent(share)} cut off`,
      about: referencesOf(limit, settings),
      kind: 'other',
    }));
}

function badSamples({ badAt, badSamples: count }: RenderStatistics): Finding {
  const named = badAt.slice(0, MOST_NAMED);
  const places = named.map(({ x, y, sample }) => `(${x}, ${y}) sample ${sample}`).join(', ');
  return {
    id: 'bad-samples',
    severity: 'error',
    text: `${count} samples were not a number and were left black, first at pixel ${places}${badAt.length > named.length ? ', …' : ''}.`,
    short: `${count} not numbers`,
    about: named.map(({ x, y }) => ({ type: 'pixel', x, y })),
  };
}
