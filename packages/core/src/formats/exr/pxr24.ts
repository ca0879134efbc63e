// PXR24: differences along each line, in planes of bytes with the highest first, deflated; floats keep 24 of their bits.
import { eachLine, samplesAcross, samplesDown, type ExrBlock } from './layout.ts';
import { inflate } from './deflate.ts';

const PLANES = { uint: 4, half: 2, float: 3 };

export function unpackPxr24(packed: Uint8Array, block: ExrBlock, length: number): Uint8Array {
  const planes = block.channels.reduce(
    (sum, c) => sum + PLANES[c.type] * samplesAcross(c, block) * samplesDown(c, block),
    0,
  );
  const bytes = inflate(packed, planes);
  const out = new Uint8Array(length);
  const data = new DataView(out.buffer);
  let at = 0;
  let to = 0;
  eachLine(block, (c, n) => {
    const { type } = block.channels[c];
    let value = 0;
    for (let i = 0; i < n; i++) {
      const byte = (plane: number) => bytes[at + plane * n + i];
      if (type === 'half') {
        value += (byte(0) << 8) | byte(1);
        data.setUint16(to, value & 0xffff, true);
        to += 2;
      } else {
        const low = type === 'uint' ? byte(3) : 0;
        value = (value + ((byte(0) << 24) | (byte(1) << 16) | (byte(2) << 8) | low)) | 0;
        data.setInt32(to, value, true);
        to += 4;
      }
    }
    at += PLANES[type] * n;
  });
  return out;
}
