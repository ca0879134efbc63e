// Compiles the kernel twice, for a memory that threads share and for one that they do not, and packs both binaries into
// one module, so that Node.js and browsers load them the same way.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const at = (path) => fileURLToPath(new URL(path, import.meta.url));
const FLAGS =
  '--optimizeLevel 3 --shrinkLevel 0 --converge --noAssert --enable simd --runtime stub --use abort= ' +
  '--importMemory --initialMemory 1 --maximumMemory 65536';

mkdirSync(at('build'), { recursive: true });
const binaries = {};
for (const [name, more] of [
  ['unshared', []],
  ['shared', ['--sharedMemory', '--enable', 'threads']],
]) {
  const out = at(`build/${name}.wasm`);
  const { error, stderr } = await asc.main([at('assembly/index.ts'), '--outFile', out, ...FLAGS.split(' '), ...more]);
  if (error) {
    process.stderr.write(`${stderr.toString()}${error.message}\n`);
    process.exit(1);
  }
  binaries[name] = readFileSync(out);
}
const pack = ([name, bytes]) => `export const ${name}Binary = unpack('${bytes.toString('base64')}');\n`;
writeFileSync(
  at('build/kernel.js'),
  `const unpack = (text) => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));\n${Object.entries(binaries).map(pack).join('')}`,
);
