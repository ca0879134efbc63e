// npm run soak -- [--minutes 30] [kills files requests use disk]: long rounds that try to lose something, in the time that is given.
// The figures go to docs/reliability.md.
import { rmSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { format, resolveConfig } from 'prettier';
import { makeDemoFolder, DATA } from '../application.ts';
import { needKernel, needWeb } from '../../scripts/lib/built.mjs';
import { fullDisk } from './fullDisk.ts';
import { kills } from './kills.ts';
import { damagedFiles, requests } from './suites.ts';
import { use } from './use.ts';
import type { Figure } from './round.ts';

const { values, positionals } = parseArgs({ options: { minutes: { type: 'string', default: '30' } }, allowPositionals: true }); // prettier-ignore
const minutes = Number(values.minutes);
if (!(minutes > 0)) throw new RangeError(`--minutes takes a number above 0, not "${values.minutes}"`);

/** Parts of the time, and what is done in it. Counts of files and requests follow from it: all of them fit into three hours. */
const ROUNDS: Record<string, { share: number; run: (seconds: number) => Promise<Figure[]> }> = {
  kills: { share: 0.3, run: kills },
  use: { share: 0.3, run: use },
  files: { share: 0.2, run: (seconds) => damagedFiles(Math.min(1, seconds / 2160)) },
  requests: { share: 0.2, run: (seconds) => requests(Math.min(1, seconds / 2160)) },
  disk: { share: 0, run: fullDisk },
};
const unknown = positionals.find((name) => !(name in ROUNDS));
if (unknown) throw new RangeError(`there is no round "${unknown}": ${Object.keys(ROUNDS).join(', ')}`);
const chosen = Object.entries(ROUNDS).filter(([name]) => positionals.length === 0 || positionals.includes(name));
const shares = chosen.reduce((sum, [, { share }]) => sum + share, 0);

needKernel();
await needWeb();
rmSync(DATA, { recursive: true, force: true });
await makeDemoFolder();
const figures: Figure[] = [];
for (const [name, { share, run }] of chosen) {
  process.stdout.write(`${name} ...\n`);
  const found = await run((minutes * 60 * share) / (shares || 1));
  for (const { tried, times, found: said } of found) process.stdout.write(`  ${tried}, ${times}: ${said}\n`);
  figures.push(...found);
}
const row = ({ tried, times, found, bad }: Figure) => `| ${tried} | ${times} | ${bad ? '**' : ''}${found}${bad ? '**' : ''} |`; // prettier-ignore
const file = fileURLToPath(new URL('../../docs/reliability.md', import.meta.url));
const text = `# Reliability

What was tried, how often, and what was lost. Written by \`npm run soak -- --minutes ${minutes}${positionals.map((p) => ` ${p}`).join('')}\`
on ${new Date().toISOString().slice(0, 10)}, ${cpus().length} processors. The same things are tried for a shorter time in every \`npm test\`.

| tried | times | found |
| ----- | ----- | ----- |
${figures.map(row).join('\n')}
`;
writeFileSync(file, await format(text, { ...(await resolveConfig(file)), parser: 'markdown' }));
process.exit(figures.some(({ bad }) => bad) ? 1 : 0);
