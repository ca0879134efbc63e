// What a renderer's log says about its frame, by patterns: what it took, how much memory, which files it did not find.
// The patterns are of how logs speak in general (common practice, no source); users add those of their house.
import { InputError } from '../formats/index.ts';
import type { FrameLogLine } from './logLines.ts';

export const LOG_FACTS = ['time', 'memory', 'missing'] as const;
export type LogFact = (typeof LOG_FACTS)[number];
export interface LogPattern {
  fact: LogFact;
  /** Regular expression, case ignored; its first group is the time, the size or the file. */
  expression: string;
}
export interface LogFacts {
  /** Seconds of the frame, and bytes at most; the largest that is said. null: not said. */
  time: number | null;
  memory: number | null;
  missing: string[];
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
];

const BYTES: Record<string, number> = { '': 1, k: 1e3, m: 1e6, g: 1e9, t: 1e12, ki: 2 ** 10, mi: 2 ** 20, gi: 2 ** 30, ti: 2 ** 40 }; // prettier-ignore

/** @throws InputError naming an expression that is none, or has no group */
export function readLogFacts(lines: FrameLogLine[], patterns = LOG_PATTERNS): LogFacts {
  const facts: LogFacts = { time: null, memory: null, missing: [] };
  const missing = new Set<string>();
  for (const { expression, fact } of patterns) {
    const pattern = compile(expression);
    for (const { text } of lines) {
      const found = pattern.exec(text)?.[1];
      if (found === undefined) continue;
      if (fact === 'missing') missing.add(found);
      else facts[fact] = larger(facts[fact], fact === 'time' ? readTime(found) : readBytes(found));
    }
  }
  return { ...facts, missing: [...missing] };
}

function compile(expression: string): RegExp {
  try {
    const pattern = new RegExp(expression, 'i');
    // one that matches nothing too tells how many groups there are
    if (new RegExp(`${expression}|`).exec('')!.length < 2) throw new Error('it needs a group in brackets');
    return pattern;
  } catch (error) {
    throw new InputError(`“${expression}” is no pattern: ${(error as Error).message}`);
  }
}

const larger = (a: number | null, b: number | null) => (a === null ? b : b === null ? a : Math.max(a, b));

/** "1:02:03.5", "4 min 3 s", "12.5s" in seconds. */
function readTime(text: string): number | null {
  const parts = text.split(':');
  if (parts.length > 1) return parts.reduce((sum, part) => sum * 60 + Number(part), 0);
  const [, h, m, s] = /^(?:(\d+)\s*h\s*)?(?:(\d+)\s*m(?:in)?\s*)?([\d.]+)/.exec(text) ?? [];
  return s === undefined ? null : Number(h ?? 0) * 3600 + Number(m ?? 0) * 60 + Number(s);
}

function readBytes(text: string): number | null {
  const [, number, unit] = /([\d.,]+)\s*([kmgt]i?)?(?:b|bytes)$/i.exec(text) ?? [];
  return number === undefined ? null : Number(number.replaceAll(',', '')) * BYTES[(unit ?? '').toLowerCase()];
}
