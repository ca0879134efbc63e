import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import type { Figure } from './round.ts';

const root = fileURLToPath(new URL('../..', import.meta.url));

/** The tests with larger counts. @param env how many */
async function suite(tried: string, args: string[], env: Record<string, string>): Promise<Figure> {
  const mocha = [`${root}node_modules/mocha/bin/mocha.js`, ...args];
  const child = spawn(process.execPath, mocha, { cwd: root, env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'inherit'] }); // prettier-ignore
  let said = '';
  child.stdout.setEncoding('utf8').on('data', (text) => (said += text));
  await once(child, 'close');
  const count = (word: string) => Number(new RegExp(`^\\s*(\\d+) ${word}\\b`, 'm').exec(said)?.[1] ?? 0);
  const bad = count('failing') > 0 || count('passing') === 0;
  const faults = bad
    ? `: ${said
        .slice(said.search(/\d+ failing/))
        .replace(/\s+/g, ' ')
        .slice(0, 500)}`
    : '';
  return {
    tried,
    times: Object.values(env).join(' and '),
    found: `${count('passing')} tests hold, ${count('failing')} do not${faults}`,
    bad,
  };
}

/** @param scale 1: 100,000 of each kind */
export async function damagedFiles(scale: number): Promise<Figure[]> {
  const count = String(Math.round(100_000 * scale));
  return [
    await suite(
      'damaged pictures, each reader',
      ['--no-config', '--import=tsx/esm', 'packages/core/test/formats/fuzz.test.ts'],
      { DUSTING_FUZZ: count },
    ),
  ];
}

export async function requests(scale: number): Promise<Figure[]> {
  const env = { DUSTING_MUTATIONS: String(Math.round(100_000 * scale)), DUSTING_RACES: String(Math.round(1000 * scale)) }; // prettier-ignore
  const args = ['--config', 'e2e/.mocharc.json', '--timeout', '36000000', '--grep', '^reliability '];
  return [await suite('mutated requests and files over all routes; races of two windows, each pair', args, env)];
}
