import { readFileSync, writeFileSync } from 'node:fs';
import { readPicture } from '../cli/src/files.ts';
import { encode } from 'fast-png';
import { findChannel } from '../core/src/image/index.ts';
const [, , from, to, exposure] = process.argv;
const p = readPicture(readFileSync(from), from);
const planes = ['R', 'G', 'B'].map((c) => findChannel(p, 'beauty', c)!.data);
const data = new Uint8Array(p.width * p.height * 3);
for (let i = 0; i < p.width * p.height; i++)
  for (let k = 0; k < 3; k++) {
    const v = planes[k][i] * 2 ** Number(exposure || 0);
    const s = v <= 0.0031308 ? 12.92 * v : 1.055 * Math.pow(v, 1 / 2.4) - 0.055;
    data[i * 3 + k] = Math.max(0, Math.min(255, Math.round(s * 255)));
  }
writeFileSync(to, encode({ width: p.width, height: p.height, data, channels: 3, depth: 8 }));
