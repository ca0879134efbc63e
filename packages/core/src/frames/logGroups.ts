import type { FrameLogLine } from './logLines.ts';

/** A message of a log that was said to be harmless, by the key of its group. */
export interface Harmless {
  key: string;
  reason: string;
}
/** Lines of a log that say the same of different things or numbers. */
export interface LogGroup {
  key: string;
  level: FrameLogLine['level'];
  /** The first of them, and how many there are. */
  text: string;
  count: number;
  /** Why it is harmless; null: nobody said so. */
  harmless: string | null;
}

const RANK = { error: 0, warning: 1, note: 2 };

/** What the lines of a group share: their words, without numbers, files, quoted names and times. */
export function logKey({ level, text }: FrameLogLine): string {
  const words = text
    .replace(/\d{1,2}:\d\d(:\d\d(\.\d+)?)?/g, '#')
    .replace(/"[^"]*"|'[^']*'|“[^”]*”/g, '*')
    .replace(/[^\s"']*[\\/][^\s"']*/g, '*')
    .replace(/[^\s"']+\.(exr|png|jpe?g|tiff?|hdr|obj|gltf|glb|mtl)\b/gi, '*')
    .replace(/[-+]?\d[\d.,]*(e[-+]?\d+)?/gi, '#')
    .replace(/\s+/g, ' ')
    .trim();
  return `${level} ${words}`;
}

/** The most severe groups first, and of those the largest; harmless ones behind the others. */
export function groupLog(lines: FrameLogLine[], harmless: Harmless[]): LogGroup[] {
  const groups = new Map<string, LogGroup>();
  for (const { level, text } of lines) {
    const key = logKey({ level, text });
    const found = groups.get(key);
    if (found) found.count++;
    else groups.set(key, { key, level, text, count: 1, harmless: harmless.find((h) => h.key === key)?.reason ?? null });
  }
  const rank = ({ harmless: reason, level }: LogGroup) => (reason === null ? 0 : 3) + RANK[level];
  return [...groups.values()].sort((a, b) => rank(a) - rank(b) || b.count - a.count);
}

/** How many errors and warnings are not harmless. */
export function severeCount(groups: LogGroup[]): { errors: number; warnings: number } {
  const of = (level: LogGroup['level']) =>
    groups.filter((g) => g.level === level && g.harmless === null).reduce((sum, g) => sum + g.count, 0);
  return { errors: of('error'), warnings: of('warning') };
}
