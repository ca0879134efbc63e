// What a frame takes beside its rays, by its size: the command line as a user runs it, on LH-030 with one sample.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildLh030 } from '@dusting/demo';
import { line } from './measure.ts';

const SIZES = [
  [416, 234],
  [1280, 720],
  [1920, 1080],
];

export async function benchSizes(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'dusting-sizes-'));
  try {
    for (const { bytes, name } of await buildLh030()) writeFileSync(join(folder, name), bytes);
    const out = join(folder, 'proof.exr');
    let least: number | null = null;
    for (const [width, height] of SIZES) {
      const args = ['packages/cli/bin/dusting.mjs', 'render', join(folder, 'LH-030.glb'), '--settings', join(folder, 'LH-030.json'), '--size', `${width}x${height}`, '--set', 'final.pixelSamples=1', '--out', out, '--json']; // prettier-ignore
      const { stdout } = spawnSync(process.execPath, args, { encoding: 'utf8', maxBuffer: 1e8 });
      const { peakMemoryBytes, seconds } = JSON.parse(stdout);
      const pixels = width * height;
      const each = seconds.write / pixels;
      least ??= each;
      line(`writing a pixel of ${width} x ${height} : of the smallest`, each / least, `${seconds.write.toFixed(1)} s after ${seconds.render.toFixed(0)} s of rendering; ${(peakMemoryBytes / 1e6).toFixed(0)} MB at most; file ${(statSync(out).size / pixels).toFixed(0)} bytes a pixel`); // prettier-ignore
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
}
