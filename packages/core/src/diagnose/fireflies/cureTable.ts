import type { RenderSettings } from '../../scene/index.ts';
import { number, text, type Cell, type Evidence } from '../evidence.ts';
import type { Rehearsal, Rehearsed, Stage } from './rehearse.ts';
import { words } from './words.ts';

/**
 * What each cure made of the parts that it was tried on, at the samples of the picture, in the time of the picture and at equal
 * noise: noise falls with the square root of the samples, so that `(noise / noise now)^2` times as many give the present noise.
 */
export function cureTable(
  { before, parts }: Stage,
  rehearsed: Rehearsed[],
  { pixelSamples }: RenderSettings,
  seconds: number,
): Evidence {
  const row = (title: string, after: Rehearsal): Cell[] => {
    const samples = (after.noise / before.noise) ** 2;
    const rays = after.rays / before.rays;
    return [
      text(title),
      number(after.fireflies.value, 'count'),
      number(after.noise, 'L*'),
      number(after.luminance.value),
      before.highlights === null ? text(words.noHighlights) : number(after.highlights!),
      number(seconds * rays, 's'),
      number(after.noise * Math.sqrt(rays), 'L*'),
      number(Math.max(1, Math.round(pixelSamples * samples)), 'count'),
      number(seconds * rays * samples, 's'),
    ];
  };
  return {
    type: 'table',
    id: 'cures',
    title: words.cures,
    source: words.curesSource(
      parts.length,
      parts.reduce((sum, { region }) => sum + region.width * region.height, 0),
    ),
    columns: words.curesColumns,
    rows: [row(words.asItIs, before), ...rehearsed.map(({ after, title }) => row(title, after))],
  };
}
