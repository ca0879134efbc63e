import type { FrameLogLine, LogPattern } from '@dusting/core/frames';
import type { LogReaderSays, LogReading } from '../workers/logReader.ts';

/** Milliseconds that one pattern may take for a whole log: of 2000 lines an ordinary one takes one. */
const LONGEST = 1000;

/** Reads a log away from the page. Patterns that take too long are left out, and named. */
export async function readLog(
  lines: FrameLogLine[],
  patterns: LogPattern[],
): Promise<LogReading & { stopped: LogPattern[] }> {
  const stopped: LogPattern[] = [];
  for (;;) {
    const tried = patterns.filter((pattern) => !stopped.includes(pattern));
    const result = await attempt(lines, tried);
    if (typeof result !== 'number') return { ...result, stopped };
    stopped.push(tried[result]);
  }
}

/** @returns what was read, or the place of the pattern that took too long */
function attempt(lines: FrameLogLine[], patterns: LogPattern[]): Promise<LogReading | number> {
  const worker = new Worker(new URL('../workers/logReader.ts', import.meta.url), { type: 'module' });
  return new Promise<LogReading | number>((resolve, reject) => {
    let late: ReturnType<typeof setTimeout>;
    worker.onerror = ({ message }) => reject(new Error(message));
    worker.onmessage = ({ data }: MessageEvent<LogReaderSays>) => {
      clearTimeout(late);
      if ('read' in data) resolve(data.read);
      else late = setTimeout(() => resolve(data.trying), LONGEST);
    };
    // what the page watches over cannot be sent as it is
    worker.postMessage(JSON.parse(JSON.stringify({ lines, patterns })));
  }).finally(() => worker.terminate());
}
