// npm test: sets up what is missing, then type check, lint, unit tests and browser tests. Last line: "N passed, N failed".
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { needKernel, needModules } from './lib/built.mjs';
import { POSTGRES_PACKAGE } from './lib/postgres.mjs';
import { has, needPackages, root, say, SetupError } from './lib/run.mjs';

const dataFolder = join(root, 'data');
const testFolder = join(dataFolder, 'test');
let passed = 0;
let failed = 0;

try {
  mkdirSync(dataFolder, { recursive: true });
  const chromium = process.env.CHROMIUM ?? '/usr/bin/chromium';
  needPackages([
    POSTGRES_PACKAGE,
    { name: 'chromium', present: () => existsSync(chromium) },
    // the tools of two formats, which tests compare with
    { name: 'openexr', present: () => has('exrheader') },
    { name: 'libtiff-tools', present: () => has('tiffcp') },
  ]);
  needModules();
  needKernel();
} catch (error) {
  if (!(error instanceof SetupError)) throw error;
  say(error.message);
  say('0 passed, 1 failed');
  process.exit(1);
}

const [isBuilt] = await Promise.all([checks(), mocha('unit tests', [])]);
if (isBuilt) {
  rmSync(testFolder, { recursive: true, force: true });
  await mocha('browser tests', ['--config', 'e2e/.mocharc.json'], { DUSTING_DATA: testFolder });
}
say(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);

/** What needs one processor for the most part, and runs beside the unit tests. @returns whether the build succeeded */
async function checks() {
  await step('type check', 'npm', ['run', '--silent', 'typecheck']);
  await step('lint', 'npm', ['run', '--silent', 'lint']);
  const build = `import('${join(root, 'scripts/lib/built.mjs')}').then((m) => m.needWeb())`;
  return step('build', process.execPath, ['-e', build]);
}

/** Runs a command with what it says kept together. */
async function run(command, args, env = {}) {
  const child = spawn(command, args, { cwd: root, env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const stream of [child.stdout, child.stderr]) stream.setEncoding('utf8').on('data', (text) => (said += text));
  const [status] = await once(child, 'close');
  return { said, status };
}

/** A step that counts as one. */
async function step(name, command, args) {
  const started = Date.now();
  const { said, status } = await run(command, args);
  say(`${said}${status === 0 ? 'ok' : 'FAILED'}  ${name}, ${((Date.now() - started) / 1000).toFixed(0)} s`);
  if (status === 0) passed++;
  else failed++;
  return status === 0;
}

/** Runs Mocha and counts its tests. A run that ends without a count is one failure. */
async function mocha(name, args, env) {
  const { said, status } = await run(process.execPath, [join(root, 'node_modules/mocha/bin/mocha.js'), ...args], env);
  say(`\n${name}\n${said}`);
  const count = (word) => Number(new RegExp(`^\\s*(\\d+) ${word}\\b`, 'm').exec(said)?.[1] ?? 0);
  passed += count('passing');
  failed += count('failing');
  if (status !== 0 && count('failing') === 0) failed++;
}
