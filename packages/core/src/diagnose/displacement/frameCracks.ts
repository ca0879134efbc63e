// What frames of other renderers say of cracks: candidates and nothing more, since there is neither mesh nor map.
import { lightness } from '../../color/index.ts';
import { InputError } from '../../formats/index.ts';
import { cropPlane, MAIN_LAYER, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import type { Diagnosis } from '../contract.ts';
import type { PixelsEvidence } from '../evidence.ts';
import { darkLines } from './darkLines.ts';
import { words } from './words.ts';

const MOST_LINES = 100;

/** @param region inside the picture @throws InputError where the picture has no beauty in color */
export function frameCracks(picture: Picture, region: Region): Diagnosis {
  const beauty = layerLuminance(picture, MAIN_LAYER);
  if (!beauty) throw new InputError(words.noBeauty);
  const plane = cropPlane(picture, beauty, region).map((y) => lightness(Math.max(0, y)));
  const lines = darkLines(plane, region.width);
  const sentences = lines.length > 0 ? [words.darkLines(lines.length, lines[0].length), words.candidates] : [words.noDarkLines]; // prettier-ignore
  const pixels: PixelsEvidence = {
    type: 'pixels',
    id: 'darkLines',
    title: words.darkLinesTitle,
    source: words.darkLinesSource,
    value: { label: words.darkLineLength, unit: 'px' },
    pixels: lines.slice(0, MOST_LINES).map(({ depth, length, x, y }) => ({ x: region.x + x, y: region.y + y, value: length, text: words.darkLine(depth) })), // prettier-ignore
  };
  return {
    kind: 'displacement',
    region,
    summary: [...sentences, words.needsScene].join('\n'),
    causes: [],
    evidence: lines.length > 0 ? [pixels] : [],
    remedies: [],
    measured: { darkLines: lines.length },
  };
}
