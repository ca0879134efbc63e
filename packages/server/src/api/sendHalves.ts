import type { Response } from 'express';

/** A picture of half-precision floats, interleaved; its size and channels stand in a header. */
export function sendHalves(
  response: Response,
  width: number,
  height: number,
  channels: string[],
  halves: Uint16Array,
): void {
  // a header holds Latin letters alone, and channels are named in any script
  const header = JSON.stringify({ width, height, channels }).replace(
    /[^ -~]/g,
    (unit) => `\\u${unit.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
  response
    .set('content-type', 'application/octet-stream')
    .set('x-picture', header)
    .send(Buffer.from(halves.buffer, halves.byteOffset, halves.byteLength));
}
