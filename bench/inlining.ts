// What it brings that V8 may put more functions of the path loop into each other. Two processes side by side, one with the flags:
// what slows the machine down slows both. Naming the flags sets them here, so that the other benchmarks run as threads do.
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { quantile } from '@dusting/core/math';
import { INLINE_MORE } from '../packages/threads/src/inlineMore.ts';
import { line, ROUNDS } from './measure.ts';

const run = promisify(execFile);

/** Microseconds of a pixel sample, of the processor. */
async function sampleTime(scene: string, flags: readonly string[]): Promise<number> {
  const { stdout } = await run(process.execPath, [...flags, '--import', 'tsx', 'bench/inliningProcess.ts', scene]);
  return Number(stdout);
}

export async function benchInlining(): Promise<void> {
  for (const scene of ['LH-010', 'LH-030', 'matt balls in a closed room']) {
    const pairs: [number, number][] = [];
    for (let round = 0; round < ROUNDS; round++)
      pairs.push(await Promise.all([sampleTime(scene, []), sampleTime(scene, INLINE_MORE)]));
    const [before, after] = [0, 1].map((k) => quantile(pairs.map((pair) => pair[k]), 0.5)); // prettier-ignore
    const ratio = quantile(pairs.map(([plain, more]) => plain / more), 0.5); // prettier-ignore
    line(`as V8 does : inlined further, ${scene}`, ratio, `${before.toFixed(1)} : ${after.toFixed(1)} µs a pixel sample`); // prettier-ignore
  }
}
