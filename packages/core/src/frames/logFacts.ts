// What a renderer's log says about its frame: what it took, how much memory, which files it did not find.
import type { FrameLogLine } from './logLines.ts';
import { compilePattern, LOG_PATTERNS, readTime } from './logPatterns.ts';

export interface LogFacts {
  /** Seconds of the frame, and bytes at most; the largest that is said. null: not said. */
  time: number | null;
  memory: number | null;
  missing: string[];
}

const BYTES: Record<string, number> = { '': 1, k: 1e3, m: 1e6, g: 1e9, t: 1e12, ki: 2 ** 10, mi: 2 ** 20, gi: 2 ** 30, ti: 2 ** 40 }; // prettier-ignore

/** @throws InputError naming an expression that is none, or has no group */
export function readLogFacts(lines: FrameLogLine[], patterns = LOG_PATTERNS): LogFacts {
  const facts: LogFacts = { time: null, memory: null, missing: [] };
  const missing = new Set<string>();
  for (const pattern of patterns) {
    const { fact } = pattern;
    if (fact !== 'time' && fact !== 'memory' && fact !== 'missing') continue;
    const find = compilePattern(pattern);
    for (const { text } of lines) {
      const found = find(text);
      if (found === undefined) continue;
      if (fact === 'missing') missing.add(found);
      else facts[fact] = larger(facts[fact], fact === 'time' ? readTime(found) : readBytes(found));
    }
  }
  return { ...facts, missing: [...missing] };
}

const larger = (a: number | null, b: number | null) => (a === null ? b : b === null ? a : Math.max(a, b));

function readBytes(text: string): number | null {
  const [, number, unit] = /([\d.,]+)\s*([kmgt]i?)?(?:b|bytes)$/i.exec(text) ?? [];
  return number === undefined ? null : Number(number.replaceAll(',', '')) * BYTES[(unit ?? '').toLowerCase()];
}
