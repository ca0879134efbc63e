// How logs speak: what of a line is a time, a size, a file, and how severe it is. Of logs in general (common practice, no
// source); users add those of their house.
import { InputError } from '../formats/index.ts';

export const LOG_PATTERN_KINDS = ['time', 'memory', 'missing', 'stamp', 'error', 'warning', 'note'] as const;
export type LogPatternKind = (typeof LOG_PATTERN_KINDS)[number];
export interface LogPattern {
  fact: LogPatternKind;
  /**
   * Regular expression, case ignored. Its first group is the time, the size, the file or the stamp; a line that it fits is
   * an error, a warning or a note.
   */
  expression: string;
}

const NUMBER = '([\\d.,]+\\s*(?:[kMGT]i?B|bytes)\\b)';
const TIME =
  '((?:\\d+\\s*h\\s*)?(?:\\d+\\s*m(?:in)?\\s*)?[\\d.]+\\s*s(?:ec(?:onds?)?)?\\b|\\d+:\\d\\d(?::\\d\\d)?(?:\\.\\d+)?)';
export const LOG_PATTERNS: LogPattern[] = [
  { fact: 'memory', expression: `(?:peak|maximum|max|high[ -]?water)[^\\d]*mem[^\\d]*${NUMBER}` },
  { fact: 'memory', expression: `mem(?:ory)?[^\\d]*(?:peak|maximum|max)[^\\d]*${NUMBER}` },
  { fact: 'time', expression: `(?:render|frame|total|elapsed|wall)[^\\d]*time[^\\d]*${TIME}` },
  { fact: 'time', expression: `(?:rendered|finished|done)[^\\d]*\\bin\\s+${TIME}` },
  {
    fact: 'missing',
    expression:
      "(?:cannot|can't|could not|couldn't|failed to|unable to|not found|no such file|missing)[^\"'/\\\\]*?[\"']?([^\\s\"':]+\\.[a-z0-9]{2,5})\\b",
  },
  { fact: 'stamp', expression: '^\\W*(?:\\d{4}-\\d\\d-\\d\\d[t ])?(\\d{1,3}:\\d\\d(?::\\d\\d)?(?:[.,]\\d+)?)\\b' },
  { fact: 'stamp', expression: '^\\W*(\\d+(?:\\.\\d+)?\\s?s)\\b' },
];

/** A line that is tried against a pattern is cut to this length: patterns of the house may be slow ones. */
const LONGEST = 400;

/**
 * Finds the first group of an expression in a line; of severities, the line itself.
 * @throws InputError naming an expression that is none, or lacks its group
 */
export function compilePattern({ expression, fact }: LogPattern): (text: string) => string | undefined {
  const isGrade = fact === 'error' || fact === 'warning' || fact === 'note';
  try {
    const pattern = new RegExp(expression, 'i');
    // one that matches nothing too says how many groups there are
    if (!isGrade && new RegExp(`${expression}|`).exec('')!.length < 2) throw new Error('it needs a group in brackets');
    return (text) => pattern.exec(text.slice(0, LONGEST))?.[isGrade ? 0 : 1];
  } catch (error) {
    throw new InputError(`“${expression}” is no pattern: ${(error as Error).message}`);
  }
}

/** "1:02:03.5", "4 min 3 s", "12.5s" in seconds. */
export function readTime(text: string): number | null {
  const parts = text.replace(',', '.').split(':');
  if (parts.length > 1) return parts.reduce((sum, part) => sum * 60 + Number(part), 0);
  const [, h, m, s] = /^(?:(\d+)\s*h\s*)?(?:(\d+)\s*m(?:in)?\s*)?([\d.]+)/.exec(text) ?? [];
  return s === undefined ? null : Number(h ?? 0) * 3600 + Number(m ?? 0) * 60 + Number(s);
}
