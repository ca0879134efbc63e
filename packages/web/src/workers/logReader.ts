// Reads logs by patterns, some of which users wrote: one of them may take for ever, so that whoever asks must be able to end it.
import { compilePattern, gradeLines, readLogFacts, readLogTimes, type FrameLogLine, type LogFacts, type LogPattern, type LogTimes } from '@dusting/core/frames'; // prettier-ignore

export interface LogReading {
  lines: FrameLogLine[];
  facts: LogFacts;
  times: LogTimes | null;
}
/** What it says on its way: the pattern that is being tried, by its place; then what was read. */
export type LogReaderSays = { trying: number } | { read: LogReading };

const say = (message: LogReaderSays) => postMessage(message);
onmessage = ({ data }: MessageEvent<{ lines: FrameLogLine[]; patterns: LogPattern[] }>) => {
  const { lines, patterns } = data;
  patterns.forEach((pattern, trying) => {
    say({ trying });
    const find = compilePattern(pattern);
    for (const { text } of lines) find(text);
  });
  say({ read: { lines: gradeLines(lines, patterns), facts: readLogFacts(lines, patterns), times: readLogTimes(lines, patterns) } }); // prettier-ignore
};
