// node --import=tsx/esm bench/against.ts CHECKOUT [SCENE ...]: time of a render here over that of another state of the project,
// checked out and installed elsewhere. Tiles of both in turn in one process, so that what slows the machine down slows both; in
// several processes, since what the engine makes of the same code differs by a tenth from one to the next.
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { quantile } from '@dusting/core/math';
import { INLINE_MORE } from '../packages/threads/src/inlineMore.ts';
import { line } from './measure.ts';

const run = promisify(execFile);
const PROCESSES = 4;
const AT_ONCE = 2;

const [, , checkout, ...wanted] = process.argv;
if (!checkout) throw new RangeError('which checkout? node --import=tsx/esm bench/against.ts CHECKOUT [SCENE ...]');
for (const scene of wanted.length > 0 ? wanted : ['LH-010', 'LH-030', 'matt balls in a closed room']) {
  const pairs: number[][] = [];
  while (pairs.length < PROCESSES) {
    const made = await Promise.all(Array.from({ length: AT_ONCE }, () => run(process.execPath, [...INLINE_MORE, '--import', 'tsx', 'bench/againstProcess.ts', checkout, scene]))); // prettier-ignore
    pairs.push(...made.map(({ stdout }) => stdout.split(' ').map(Number)));
  }
  const ratios = pairs.map(([there, here]) => here / there);
  const [there, here] = [0, 1].map((k) => quantile(pairs.map((pair) => pair[k]), 0.5)); // prettier-ignore
  line(`here : there, ${scene}`, quantile(ratios, 0.5), `${here.toFixed(1)} : ${there.toFixed(1)} µs a pixel sample; ${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}`); // prettier-ignore
}
