import { spawnSync } from 'node:child_process';
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
