// npm test: sets up what is missing, then type check, lint, unit tests and browser tests. Last line: "N passed, N failed".
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { POSTGRES_PACKAGE } from './lib/postgres.mjs';
import { has, needKernel, needModules, needPackages, root, say, SetupError } from './lib/run.mjs';

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
  needModules(dataFolder);
  needKernel(dataFolder);
} catch (error) {
  if (!(error instanceof SetupError)) throw error;
  say(error.message);
  say('0 passed, 1 failed');
  process.exit(1);
}

step('type check', 'npm', ['run', '--silent', 'typecheck']);
step('lint', 'npm', ['run', '--silent', 'lint']);
if (
  step('build', process.execPath, [
    '-e',
    `import('${join(root, 'scripts/lib/run.mjs')}').then((m) => m.needWeb('${dataFolder}'))`,
  ])
) {
  mocha('unit tests', []);
  rmSync(testFolder, { recursive: true, force: true });
  mocha('browser tests', ['--config', 'e2e/.mocharc.json'], { DUSTING_DATA: testFolder });
}
say(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);

/** A step that counts as one. */
function step(name, command, args) {
  const started = Date.now();
  const ok = spawnSync(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] }).status === 0;
  say(`${ok ? 'ok' : 'FAILED'}  ${name}, ${((Date.now() - started) / 1000).toFixed(0)} s`);
  if (ok) passed++;
  else failed++;
  return ok;
}

/** Runs Mocha and counts its tests. A run that ends without a count is one failure. */
function mocha(name, args, env = {}) {
  say(`\n${name}`);
  const { stdout, status } = spawnSync(process.execPath, [join(root, 'node_modules/mocha/bin/mocha.js'), ...args], {
    cwd: root,
    env: { ...process.env, ...env },
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  process.stdout.write(stdout);
  const count = (word) => Number(new RegExp(`^\\s*(\\d+) ${word}\\b`, 'm').exec(stdout)?.[1] ?? 0);
  passed += count('passing');
  failed += count('failing');
  if (status !== 0 && count('failing') === 0) failed++;
}
