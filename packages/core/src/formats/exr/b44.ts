// B44 and B44A: blocks of 4 x 4 halves in 14 bytes, or in 3 where all are alike; other types stand as they are.
import { DamagedBlock, joinPlanes, samplesAcross, samplesDown, TYPE_BYTES, type ExrBlock } from './layout.ts';
import { fromHalf, toHalf } from '../half.ts';

export function unpackB44(packed: Uint8Array, block: ExrBlock, length: number): Uint8Array {
  let at = 0;
  const need = (bytes: number) => {
    if (at + bytes > packed.length) throw new DamagedBlock('its blocks are cut off');
  };
  // channel after channel
  const planes = block.channels.map((channel) => {
    const [nx, ny] = [samplesAcross(channel, block), samplesDown(channel, block)];
    const bytes = nx * ny * TYPE_BYTES[channel.type];
    if (channel.type !== 'half') {
      need(bytes);
      at += bytes;
      return packed.slice(at - bytes, at);
    }
    const plane = new Uint16Array(nx * ny);
    const s = new Uint16Array(16);
    for (let y = 0; y < ny; y += 4)
      for (let x = 0; x < nx; x += 4) {
        need(3);
        const flat = packed[at + 2] >= 13 << 2;
        need(flat ? 3 : 14);
        if (flat) s.fill(ordered((packed[at] << 8) | packed[at + 1]));
        else unpackSixteen(packed, at, s);
        at += flat ? 3 : 14;
        for (let j = 0; j < Math.min(4, ny - y); j++)
          for (let i = 0; i < Math.min(4, nx - x); i++) {
            const value = s[j * 4 + i];
            plane[(y + j) * nx + x + i] = channel.linear ? toHalf(8 * Math.log(fromHalf(value))) : value;
          }
      }
    return new Uint8Array(plane.buffer);
  });
  return joinPlanes(block, planes, length);
}

/** Halves are stored so that their order is that of whole numbers. */
function ordered(v: number): number {
  return v & 0x8000 ? v & 0x7fff : ~v & 0xffff;
}

/** The first value, then 15 differences of 6 bits, shifted: down the first column, then along the rows. */
function unpackSixteen(b: Uint8Array, at: number, s: Uint16Array): void {
  const shift = b[at + 2] >> 2;
  const bias = 0x20 << shift;
  s[0] = (b[at] << 8) | b[at + 1];
  // 15 numbers of 6 bits, from bit 6 of the third byte on
  for (let i = 0; i < 15; i++) {
    const bit = 6 + i * 6;
    const byte = at + 2 + (bit >> 3);
    const pair = (b[byte] << 8) | (b[byte + 1] ?? 0);
    const six = (pair >> (10 - (bit & 7))) & 0x3f;
    const to = i < 3 ? (i + 1) * 4 : ((i - 3) % 4) * 4 + 1 + Math.floor((i - 3) / 4);
    const from = i < 3 ? to - 4 : to - 1;
    s[to] = s[from] + (six << shift) - bias;
  }
  for (let i = 0; i < 16; i++) s[i] = ordered(s[i]);
}
