// PXR24: differences along each line, in planes of bytes with the highest first, deflated; floats keep 24 of their bits.
import { eachLine, samplesAcross, samplesDown, type ExrBlock } from './layout.ts';
import { inflateTo, type Unpacking } from './deflate.ts';

const PLANES = { uint: 4, half: 2, float: 3 };

export function unpackPxr24(packed: Uint8Array, block: ExrBlock, length: number, { inflate }: Unpacking): Uint8Array {
  const planes = block.channels.reduce(
    (sum, c) => sum + PLANES[c.type] * samplesAcross(c, block) * samplesDown(c, block),
    0,
  );
  const bytes = inflateTo(packed, planes, inflate);
  const out = new Uint8Array(length);
  const data = new DataView(out.buffer);
  let at = 0;
  let to = 0;
  eachLine(block, (c, n) => {
    const { type } = block.channels[c];
    let value = 0;
    if (type === 'half')
      for (let i = at; i < at + n; i++, to += 2) {
        value = (value + ((bytes[i] << 8) | bytes[i + n])) & 0xffff;
        data.setUint16(to, value, true);
      }
    else
      for (let i = at; i < at + n; i++, to += 4) {
        const low = type === 'uint' ? bytes[i + 3 * n] : 0;
        value = (value + ((bytes[i] << 24) | (bytes[i + n] << 16) | (bytes[i + 2 * n] << 8) | low)) | 0;
        data.setInt32(to, value, true);
      }
    at += PLANES[type] * n;
  });
  return out;
}
