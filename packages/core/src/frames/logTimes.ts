// What the time stamps of a log say: how long it ran, and after which line it was silent longest.
import type { FrameLogLine } from './logLines.ts';
import { compilePattern, readTime, type LogPattern } from './logPatterns.ts';

export interface LogTimes {
  /** Seconds from the first stamp to the last. */
  span: number;
  /** The longest times between two stamps, and what was said before: the longest first. */
  steps: { seconds: number; after: string }[];
}

const DAY = 24 * 3600;
/** Stamps that go back by more than this have passed midnight; those that go back by less are of threads that overtook. */
const BACK = DAY / 2;
const MOST_STEPS = 3;

/** null where fewer than two lines carry a stamp. @param patterns of kind "stamp"; others are left out */
export function readLogTimes(lines: FrameLogLine[], patterns: LogPattern[]): LogTimes | null {
  const stamps = patterns.filter(({ fact }) => fact === 'stamp').map(compilePattern);
  const stampOf = (text: string) => {
    for (const find of stamps) {
      const found = find(text);
      const time = found === undefined ? null : readTime(found);
      if (time !== null && Number.isFinite(time)) return time;
    }
    return null;
  };
  let days = 0;
  let last: { at: number; text: string } | null = null;
  let first: number | null = null;
  const steps: LogTimes['steps'] = [];
  for (const { text } of lines) {
    const stamp = stampOf(text);
    if (stamp === null) continue;
    if (last && stamp + days - last.at < -BACK) days += DAY;
    const at = Math.max(last?.at ?? 0, stamp + days);
    if (last) steps.push({ seconds: at - last.at, after: last.text });
    first ??= at;
    last = { at, text };
  }
  if (first === null || last === null || steps.length === 0) return null;
  const longest = steps.filter(({ seconds }) => seconds > 0).sort((a, b) => b.seconds - a.seconds);
  return { span: last.at - first, steps: longest.slice(0, MOST_STEPS) };
}
