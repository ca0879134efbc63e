// Values of a sweep as a line of text, and back.
import { valuesAbout, type SweepValue } from '@dusting/core/plan';
import type { Parameter } from '@dusting/core/scene';

const SWITCH: [word: string, value: SweepValue][] = [
  ['yes', true],
  ['no', false],
];
/** All that can be chosen, as word and value; null for numbers. */
const choicesOf = ({ kind, choices }: Parameter) =>
  kind === 'switch' ? SWITCH : kind === 'choice' ? choices.map((c): [string, SweepValue] => [c, c]) : null;
const wordsIn = (text: string) => text.split(/[\s,;]+/).filter((word) => word !== '');

export const countValues = (text: string) => wordsIn(text).length;

/** What is proposed: values about the present one, or everything that can be chosen. */
export function proposeValues(parameter: Parameter, present: unknown): string {
  const choices = choicesOf(parameter);
  return (choices ? choices.map(([word]) => word) : valuesAbout(present as number, parameter)).join(', ');
}

/** @throws Error in words that are shown */
export function readValues(parameter: Parameter, text: string): SweepValue[] {
  const choices = choicesOf(parameter);
  if (choices)
    return wordsIn(text).map((word) => {
      const found = choices.find(([name]) => name === word);
      if (!found) throw new Error(`“${word}” is none of ${choices.map(([name]) => name).join(', ')}`);
      return found[1];
    });
  const values = wordsIn(text).map(Number);
  if (values.some((v) => !Number.isFinite(v))) throw new Error(`“${text}” is not a list of numbers`);
  const outside = values.find((v) => v < parameter.minimum || v > parameter.maximum);
  if (outside !== undefined)
    throw new Error(`${parameter.title}: ${outside} is not within ${parameter.minimum} to ${parameter.maximum}`);
  return values;
}
