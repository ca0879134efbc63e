import { compilePattern, type LogPattern } from './logPatterns.ts';

/** A line of a renderer's log, with its severity. */
export interface FrameLogLine {
  level: 'note' | 'warning' | 'error';
  text: string;
}

/** So many lines are kept; errors and warnings go before notes. */
const MOST_LINES = 2000;

/** The lines of a log as text. Its severity stands in it as a word: common practice, no source. */
export function readLogLines(text: string): FrameLogLine[] {
  const lines = text
    .split(/\r?\n/)
    .map((line) => line.trimEnd())
    .filter(Boolean)
    .map((line): FrameLogLine => {
      const level = /\b(error|fatal|critical)\b/i.test(line)
        ? 'error'
        : /\bwarn(ing)?\b/i.test(line)
          ? 'warning'
          : 'note';
      return { level, text: line.slice(0, 1000) };
    });
  if (lines.length <= MOST_LINES) return lines;
  const severe = lines.filter((l) => l.level !== 'note').length;
  let room = Math.max(0, MOST_LINES - severe);
  return lines.filter((l) => l.level !== 'note' || room-- > 0).slice(0, MOST_LINES);
}

/** Lines with the severity that the patterns give them; those that none of them fits stay as they are. The last pattern that fits counts. */
export function gradeLines<T extends FrameLogLine>(lines: T[], patterns: LogPattern[]): T[] {
  const grades = patterns.flatMap((pattern) => {
    const { fact } = pattern;
    return fact === 'error' || fact === 'warning' || fact === 'note' ? [{ level: fact, fits: compilePattern(pattern) }] : []; // prettier-ignore
  });
  if (grades.length === 0) return lines;
  return lines.map((line) => {
    const found = grades.findLast(({ fits }) => fits(line.text) !== undefined);
    return found ? { ...line, level: found.level } : line;
  });
}
