// Writes the demo's files into a folder: node --import tsx packages/demo/src/write.ts FOLDER
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DEMO_SHOTS } from './index.ts';

const folder = process.argv[2] ?? 'data/demo';
mkdirSync(folder, { recursive: true });
for (const { build } of DEMO_SHOTS)
  for (const { name, bytes } of await build()) {
    writeFileSync(join(folder, name), bytes);
    console.log(`${join(folder, name)}  ${bytes.length} bytes`);
  }
