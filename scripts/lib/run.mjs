import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../../', import.meta.url));
export const say = (text) => process.stdout.write(`${text}\n`);

/** Stops the set-up with a reason that a person can act on. */
export class SetupError extends Error {}

/** Runs a command to its end with its output shown; returns whether it succeeded. */
export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options }).status === 0;
}

export function has(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`], { stdio: 'ignore' }).status === 0;
}

/** Installs Debian packages whose check fails; says the exact command where it may not. */
export function needPackages(wanted) {
  const missing = wanted.filter(({ present }) => !present()).map(({ name }) => name);
  if (missing.length === 0) return;
  const command = `apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (!has('apt-get'))
    throw new SetupError(
      `These are missing: ${missing.join(', ')}. Install them with your system's package manager, or name a database of your own in DUSTING_DATABASE_URL.`,
    );
  const isRoot = process.getuid() === 0;
  const sudo = !isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0;
  if (!isRoot && !sudo)
    throw new SetupError(`Missing: ${missing.join(', ')}. Run this once, then start again:\n\n  sudo ${command}\n`);
  say(`Installing ${missing.join(', ')} ...`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) =>
    run(isRoot ? 'apt-get' : 'sudo', isRoot ? args : ['-E', 'apt-get', ...args], {
      env,
      stdio: ['ignore', 'ignore', 'inherit'],
    });
  apt('update', '-qq');
  if (!apt('install', '-y', '-qq', '--no-install-recommends', ...missing))
    throw new SetupError(`This failed: ${command}`);
}

/** Installs the npm packages of the lock file if they are not there. */
export function needModules(dataFolder) {
  const lock = hashFiles([join(root, 'package-lock.json')]);
  if (existsSync(join(root, 'node_modules/.package-lock.json')) && readStamp(dataFolder, 'modules') === lock) return;
  say('Installing npm packages ...');
  if (!run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']))
    throw new SetupError('npm ci failed: see above.');
  writeStamp(dataFolder, 'modules', lock);
}

/** Compiles the ray kernel if its sources have changed. */
export function needKernel(dataFolder) {
  const stamp = hashFiles(listFiles(join(root, 'packages/kernel')));
  if (existsSync(join(root, 'packages/kernel/build/kernel.js')) && readStamp(dataFolder, 'kernel') === stamp) return;
  say('Compiling the ray kernel ...');
  if (!run(process.execPath, [join(root, 'packages/kernel/build.mjs')]))
    throw new SetupError('The kernel could not be compiled: see above.');
  writeStamp(dataFolder, 'kernel', stamp);
}

/** Builds the web application if its sources have changed. */
export function needWeb(dataFolder) {
  const sources = ['packages/web', 'packages/core/src', 'packages/preview', 'packages/kernel'].flatMap((folder) =>
    listFiles(join(root, folder)),
  );
  const stamp = hashFiles(sources);
  if (existsSync(join(root, 'packages/web/dist/index.html')) && readStamp(dataFolder, 'web') === stamp) return;
  say('Building the web application ...');
  if (!run('npx', ['vite', 'build', 'packages/web', '--logLevel', 'warn']))
    throw new SetupError('The build failed: see above.');
  writeStamp(dataFolder, 'web', stamp);
}

function listFiles(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (entry.name === 'dist' || entry.name === 'build' || entry.name === 'node_modules') return [];
    const path = join(folder, entry.name);
    return entry.isDirectory() ? listFiles(path) : [path];
  });
}

function hashFiles(paths) {
  const hash = createHash('sha256');
  for (const path of paths.sort()) hash.update(path).update(readFileSync(path));
  return hash.digest('hex');
}

function readStamp(dataFolder, name) {
  const path = join(dataFolder, 'stamps', name);
  return existsSync(path) && statSync(path).isFile() ? readFileSync(path, 'utf8') : '';
}

function writeStamp(dataFolder, name, value) {
  const path = join(dataFolder, 'stamps', name);
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, value);
}
