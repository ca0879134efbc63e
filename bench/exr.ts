// Reading OpenEXR against the usual loader, which gives interleaved floats, on the files that it can read.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FloatType } from 'three';
import { EXRLoader } from 'three/examples/jsm/loaders/EXRLoader.js';
import { readExr, writeExr } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';
import { line, measure, milliseconds } from './measure.ts';

const WIDTH = 1920;
const HEIGHT = 1080;

/** Smooth shapes with the grain of a render. */
function grainy(): Picture {
  const window = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
  const value = (i: number, k: number) =>
    (1 + Math.sin((i % WIDTH) / 90 + k) * Math.cos(i / WIDTH / 70)) * (0.5 + 0.1 * hashUnit(i * 4 + k));
  const channels = [...'RGBA'].map((name, k) => ({
    name,
    type: 'half' as const,
    data: Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i, k)),
  }));
  return { width: WIDTH, height: HEIGHT, dataWindow: window, displayWindow: window, channels, metadata: {} };
}

export async function benchExr(): Promise<void> {
  const picture = grainy();
  const folder = mkdtempSync(join(tmpdir(), 'exr-'));
  const plain = join(folder, 'plain.exr');
  writeFileSync(plain, writeExr(picture, { compression: 'NONE' }));
  console.log(`\nOpenEXR, ${WIDTH} x ${HEIGHT} RGBA halves: the usual loader's time over ours\n`);
  const loader = new EXRLoader().setDataType(FloatType);
  for (const compression of ['NONE', 'ZIPS', 'ZIP', 'PIZ'] as const) {
    const bytes = writeExr(picture, { compression });
    const [ours, theirs] = await measure([() => readExr(bytes), () => loader.parse(bytes.slice().buffer)]);
    line(`reading ${compression}`, theirs / ours, `${milliseconds(ours)}, ${(bytes.length / 1e6).toFixed(1)} MB`);
  }
  for (const compression of ['rle', 'pxr24', 'b44', 'dwaa']) {
    const file = join(folder, `${compression}.exr`);
    // the tools write these in tiles alone, which the loader takes for them too
    if (spawnSync('exrmaketiled', ['-z', compression, '-t', '256', '256', plain, file]).status !== 0) continue;
    const bytes = new Uint8Array(readFileSync(file));
    const parse = () => loader.parse(bytes.slice().buffer);
    try {
      parse();
    } catch {
      console.log(`reading ${compression}: the usual loader does not read it`);
      continue;
    }
    const [ours, theirs] = await measure([() => readExr(bytes), parse]);
    line(`reading ${compression.toUpperCase()} in tiles`, theirs / ours, `${milliseconds(ours)}, ${(bytes.length / 1e6).toFixed(1)} MB`); // prettier-ignore
  }
}
