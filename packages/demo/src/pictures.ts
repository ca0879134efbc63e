// Textures and the view from the window, made by code.
import { encode } from 'fast-png';
import { writeExr } from '@dusting/core/formats';

/** Smooth noise of whole-number lattice points, -1..1; repeats after `period` in x. */
function waver(x: number, y: number, period: number): number {
  const at = (i: number, j: number) => {
    const k = (((i % period) + period) % period) * 374761393 + j * 668265263;
    const h = Math.imul(k ^ (k >>> 13), 1274126177);
    return ((h ^ (h >>> 16)) >>> 0) / 2 ** 31 - 1;
  };
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const ease = (t: number) => t * t * (3 - 2 * t);
  const [u, v] = [ease(x - i), ease(y - j)];
  const a = at(i, j) * (1 - u) + at(i + 1, j) * u;
  const b = at(i, j + 1) * (1 - u) + at(i + 1, j + 1) * u;
  return a * (1 - v) + b * v;
}

/** Oiled larch: long grain along x. */
export function woodPng(width = 512, height = 256): Uint8Array {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const warp = waver((x / width) * 4, (y / height) * 6, 4) * 0.6;
      const ring = Math.sin((y / height) * 44 + warp * 7);
      const fibre = waver((x / width) * 12, (y / height) * 160, 12) * 0.5;
      const shade = 0.78 + 0.1 * ring + 0.1 * fibre;
      const color = [176 * shade, 124 * shade * shade, 74 * shade * shade];
      data.set(
        color.map((c) => Math.max(0, Math.min(255, c))),
        (y * width + x) * 3,
      );
    }
  return encode({ width, height, data, channels: 3, depth: 8 });
}

/** A cream paper label with a row of comb cells between two lines. */
export function labelPng(width = 384, height = 224): Uint8Array {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let color = [232, 222, 196];
      const rule = Math.min(Math.abs(y - 26), Math.abs(y - (height - 26)));
      if (rule < 3) color = [122, 74, 26];
      const cell = cellDistance((x - width / 2) / 34, (y - height / 2) / 34);
      if (Math.abs(y - height / 2) < 62 && Math.abs(x - width / 2) < 150)
        color = cell > 0.82 ? [122, 74, 26] : [214, 152, 44];
      data.set(color, (y * width + x) * 3);
    }
  return encode({ width, height, data, channels: 3, depth: 8 });
}

/** Figures 0 to 9 of 3 x 5 dots, row by row from the top, the left dot first. */
const DOTS = ['75557', '26227', '71747', '71717', '55711', '74717', '74757', '71111', '75757', '75717'].map((rows) => [...rows].map(Number)); // prettier-ignore

/** A cream dial: a half circle of lines, every fifth one longer, and the tens in figures. */
export function dialPng(width = 384, height = 288): Uint8Array {
  const data = new Uint8Array(width * height * 3);
  const ink = [46, 38, 30];
  const put = (x: number, y: number) => {
    if (x >= 0 && y >= 0 && x < width && y < height) data.set(ink, (y * width + x) * 3);
  };
  for (let i = 0; i < width * height; i++) data.set([236, 228, 206], i * 3);
  const [cx, cy, radius] = [width / 2, height * 0.86, height * 0.72];
  for (let tick = 0; tick <= 50; tick++) {
    const angle = Math.PI * (1 - tick / 50);
    const inner = radius * (tick % 5 === 0 ? 0.84 : 0.92);
    for (let r = inner; r < radius; r += 0.4)
      for (let side = -1; side <= 1; side++) put(Math.round(cx + r * Math.cos(angle) + side), Math.round(cy - r * Math.sin(angle))); // prettier-ignore
    if (tick % 10 === 0) writeFigures(String(tick), cx + radius * 0.7 * Math.cos(angle), cy - radius * 0.7 * Math.sin(angle), put); // prettier-ignore
  }
  // the needle rests at 12
  const rest = Math.PI * (1 - 12 / 50);
  for (let r = 0; r < radius * 0.82; r += 0.4)
    for (let side = -1; side <= 1; side++)
      put(Math.round(cx + r * Math.cos(rest) + side), Math.round(cy - r * Math.sin(rest)));
  return encode({ width, height, data, channels: 3, depth: 8 });
}

function writeFigures(text: string, x: number, y: number, put: (x: number, y: number) => void): void {
  const dot = 6;
  const left = Math.round(x - (text.length * 4 * dot) / 2);
  const top = Math.round(y - (5 * dot) / 2);
  [...text].forEach((figure, n) =>
    DOTS[Number(figure)].forEach((row, j) => {
      for (let i = 0; i < 3; i++)
        if (row & (4 >> i))
          for (let k = 0; k < dot * dot; k++) put(left + (n * 4 + i) * dot + (k % dot), top + j * dot + Math.floor(k / dot)); // prettier-ignore
    }),
  );
}

/** An even gradient from the top to the foot. @param top RGBA, as displayed, 0..1 */
export function gradientPng(top: number[], foot: number[], height = 256): Uint8Array {
  const width = 4;
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < 4; k++)
        data[(y * width + x) * 4 + k] = Math.round(255 * (top[k] + ((foot[k] - top[k]) * y) / (height - 1)));
  return encode({ width, height, data, channels: 4, depth: 8 });
}

/** 0 in the middle of a hexagonal cell, 1 at its wall. */
function cellDistance(x: number, y: number): number {
  const row = Math.round(y / 1.5);
  let best = 9;
  for (let r = row - 1; r <= row + 1; r++) {
    const shift = r % 2 ? Math.sqrt(3) / 2 : 0;
    const column = Math.round((x - shift) / Math.sqrt(3));
    for (let c = column - 1; c <= column + 1; c++) {
      const dx = Math.abs(x - shift - c * Math.sqrt(3));
      const dy = Math.abs(y - r * 1.5);
      best = Math.min(best, Math.max(dx / (Math.sqrt(3) / 2), dx / Math.sqrt(3) + dy));
    }
  }
  return best;
}

/** The orchard outside: pale evening sky with a wide glow, a line of trees, a meadow. Radiance, as OpenEXR. */
export function orchardExr(width = 512, height = 256): Uint8Array {
  const planes = [0, 1, 2].map(() => new Float32Array(width * height));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const up = Math.sin(Math.PI * (0.5 - (y + 0.5) / height)); // sine of the elevation
      const around = (x + 0.5) / width - 0.5;
      const trees = 0.13 + 0.04 * waver((x / width) * 24, 0.5, 24) + 0.015 * waver((x / width) * 96, 7.5, 96);
      let color: number[];
      if (up > trees) {
        const t = Math.min(1, up);
        const glow = 0.9 * Math.exp(-((around - 0.03) ** 2 / 0.012 + (up - 0.25) ** 2 / 0.05));
        color = [1.5 - 0.75 * t + glow, 1.45 - 0.45 * t + 0.82 * glow, 1.35 + 0.15 * t + 0.55 * glow];
      } else if (up > -0.02) {
        const leaf = 0.5 + 0.5 * waver((x / width) * 160, up * 90, 160);
        color = [0.16 + 0.12 * leaf, 0.22 + 0.14 * leaf, 0.12 + 0.05 * leaf];
      } else {
        const grass = 0.5 + 0.5 * waver((x / width) * 200, -40 * up, 200);
        color = [0.5 + 0.08 * grass, 0.52 + 0.08 * grass, 0.3 + 0.04 * grass];
      }
      color.forEach((c, k) => (planes[k][y * width + x] = c));
    }
  const frame = { x: 0, y: 0, width, height };
  const channels = [...'RGB'].map((name, k) => ({ name, type: 'half' as const, data: planes[k] }));
  return writeExr({ width, height, dataWindow: frame, displayWindow: frame, channels, metadata: {} });
}

/** A height map of 16 bits. @param height of a place, 0..1, v downwards */
export function heightPng(width: number, height: number, at: (u: number, v: number) => number): Uint8Array {
  const data = new Uint16Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      data[y * width + x] = Math.round(Math.min(1, Math.max(0, at((x + 0.5) / width, (y + 0.5) / height))) * 65535);
  return encode({ width, height, data, channels: 1, depth: 16 });
}
