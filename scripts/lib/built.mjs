// What is installed, compiled and built: made once, and again when its sources have changed.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { runningHere } from './instance.mjs';
import { root, run, say, SetupError } from './run.mjs';

/** Installs the npm packages of the lock file if they are not there. */
export function needModules() {
  const installed = join(root, 'node_modules');
  needBuilt(installed, [join(root, 'package-lock.json')], 'Installing npm packages ...', () =>
    run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']),
  );
}

/** Compiles the ray kernel if its sources have changed. */
export function needKernel() {
  const kernel = join(root, 'packages/kernel');
  needBuilt(join(kernel, 'build'), listFiles(kernel), 'Compiling the ray kernel ...', () =>
    run(process.execPath, [join(kernel, 'build.mjs')]),
  );
}

/** Builds the web application if its sources have changed. */
export function needWeb() {
  const sources = ['packages/web', 'packages/core/src', 'packages/preview', 'packages/kernel'].flatMap((folder) =>
    listFiles(join(root, folder)),
  );
  needBuilt(join(root, 'packages/web/dist'), sources, 'Building the web application ...', () =>
    run('npx', ['vite', 'build', 'packages/web', '--logLevel', 'warn']),
  );
}

/**
 * Fills a folder from its sources, unless it is filled from these already: a stamp in the folder says so.
 * @throws SetupError where that fails, or where an instance runs that it would be taken away from
 */
function needBuilt(folder, sources, title, build) {
  const stampFile = join(folder, '.built-from');
  const stamp = hashFiles(sources);
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return;
  refuseWhileRunning();
  say(title);
  if (!build()) throw new SetupError(`${title.replace(' ...', '')} failed: see above.`);
  writeFileSync(stampFile, stamp);
}

/** @throws SetupError where an instance runs from this checkout */
export function refuseWhileRunning() {
  const [url] = runningHere();
  if (url)
    throw new SetupError(`The program has changed, and Dusting still runs from this folder at ${url}: stop it first.`);
}

function listFiles(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (['dist', 'dist-test', 'build', 'node_modules'].includes(entry.name)) return [];
    const path = join(folder, entry.name);
    return entry.isDirectory() ? listFiles(path) : [path];
  });
}

function hashFiles(paths) {
  const hash = createHash('sha256');
  for (const path of paths.sort()) hash.update(path).update(readFileSync(path));
  return hash.digest('hex');
}
