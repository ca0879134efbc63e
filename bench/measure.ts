export const ROUNDS = 5;
export type Task = () => unknown;

/** Median seconds of each task over the rounds, run in turn, so that a noisy machine hits all of them. */
export async function measure(tasks: Task[]): Promise<number[]> {
  const times = tasks.map(() => [] as number[]);
  for (const task of tasks) await task(); // warm
  for (let round = 0; round < ROUNDS; round++)
    for (const [i, task] of tasks.entries()) {
      const started = performance.now();
      await task();
      times[i].push((performance.now() - started) / 1000);
    }
  return times.map((t) => t.sort((a, b) => a - b)[ROUNDS >> 1]);
}

export const line = (name: string, ratio: number, detail: string) =>
  console.log(`${name.padEnd(48)} ${ratio.toFixed(2).padStart(7)}   ${detail}`);
export const million = (n: number) => `${(n / 1e6).toFixed(2)} million/s`;
export const milliseconds = (seconds: number) => `${(seconds * 1000).toFixed(seconds < 0.1 ? 1 : 0)} ms`;
