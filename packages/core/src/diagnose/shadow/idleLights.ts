// Lights that do next to nothing in the whole frame, and why.
import { number, text, type Cell, type TableEvidence } from '../evidence.ts';
import { ENDS, type LightAnswer, type LightChain } from './lightChain.ts';
import { lightReference } from './shadowCauses.ts';
import { words } from './words.ts';

/** Of what all lights bring, less than this is no effect. */
const NO_EFFECT = 0.001;

/** @param frame the chain over the whole frame @returns the share of each of what lights bring, 0..1 */
export function idleLights({ answers }: LightChain): { answer: LightAnswer; share: number }[] {
  const all = answers.reduce((sum, { brings }) => sum + brings, 0);
  if (all === 0) return [];
  return answers.map((answer) => ({ answer, share: answer.brings / all })).filter(({ share }) => share < NO_EFFECT); // prettier-ignore
}

/** Null where every light does something. */
export function idleTable(frame: LightChain): TableEvidence | null {
  const rows = idleLights(frame).map(({ answer, share }): Cell[] => {
    const [end] = ENDS.toSorted((a, b) => answer.ends[b] - answer.ends[a]);
    return [
      { type: 'link', text: answer.light.name, to: lightReference(answer) },
      number(share, 'share'),
      text(words.ends[end]),
      number(answer.ends[end] / Math.max(1, frame.places), 'share'),
    ];
  });
  if (rows.length === 0) return null;
  return { type: 'table', id: 'idle', title: words.idle, source: words.idleSource(frame.places), columns: words.idleColumns, rows }; // prettier-ignore
}
