// Bundles a package's programs and the modules of their worker threads into a folder of it. Node.js starts a bundle in
// 0.7 s where loading the 400 TypeScript modules one by one takes 4 s, in each process and each thread again.
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { root } from './run.mjs';

const OWN = '@dusting/';
const WORKER = /new URL\('(\.[^']+)\.ts', import\.meta\.url\)/g;

/**
 * @param folder of the package, from the root
 * @param programs their modules in its folder src, without suffix
 * @param beforeChange is called where a bundle is about to become another; may throw
 * @param out name of the folder in the package
 * @returns the path of each program's bundle
 */
export async function bundle(folder, programs, beforeChange = () => {}, out = 'dist') {
  const dist = join(root, folder, out);
  const sources = [join(root, folder, 'src'), join(root, 'packages/threads/src')].flatMap(listSources);
  const workers = sources.flatMap((path) =>
    [...readFileSync(path, 'utf8').matchAll(WORKER)].map(([, name]) => join(dirname(path), `${name}.ts`)),
  );
  const entries = [...programs.map((name) => join(root, folder, `src/${name}.ts`)), ...workers];
  // a fresh machine has it only once npm packages are installed
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: Object.fromEntries(entries.map((path) => [basename(path, '.ts'), path])),
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    // what CommonJS modules that are bundled ask for
    banner: { js: `import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);` },
    outdir: dist,
    write: false,
    plugins: [{ name: 'modules', setup }],
  });
  mkdirSync(dist, { recursive: true });
  const changed = outputFiles.filter(({ contents, path }) => !existsSync(path) || !readFileSync(path).equals(contents));
  if (changed.some(({ path }) => existsSync(path))) beforeChange();
  for (const { contents, path } of changed) replaceFile(path, contents);
  return programs.map((name) => join(dist, `${basename(name)}.js`));
}

function setup(build) {
  build.onResolve({ filter: /^[^./]/ }, ({ importer, path }) => {
    if (path.startsWith(OWN) || path.startsWith('node:')) return undefined;
    const name = path.split('/', path.startsWith('@') ? 2 : 1).join('/');
    // a package of another version than the root's has to come along: from dist, the name means the root's
    const isNested = /^.*\/packages\/[^/]+\//
      .exec(importer)
      ?.some((own) => existsSync(join(own, 'node_modules', name)));
    return isNested ? undefined : { path, external: true };
  });
  // all bundles lie in one folder
  build.onLoad({ filter: /\/packages\/[^/]+\/src\/.*\.ts$/ }, ({ path }) => ({
    contents: readFileSync(path, 'utf8').replace(
      WORKER,
      (_, name) => `new URL('./${basename(name)}.js', import.meta.url)`,
    ),
    loader: 'ts',
  }));
}

/** Two programs may start at once, and a third may run from the file: it is never half written. */
function replaceFile(path, contents) {
  const half = `${path}.${process.pid}`;
  writeFileSync(half, contents);
  renameSync(half, path);
}

function listSources(folder) {
  const paths = readdirSync(folder, { recursive: true }).map((name) => join(folder, name));
  return paths.filter((path) => path.endsWith('.ts'));
}
