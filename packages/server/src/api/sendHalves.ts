import type { Response } from 'express';

/** A picture of half-precision floats, interleaved; its size and channels stand in a header. */
export function sendHalves(
  response: Response,
  width: number,
  height: number,
  channels: string[],
  halves: Uint16Array,
): void {
  response
    .set('content-type', 'application/octet-stream')
    .set('x-picture', JSON.stringify({ width, height, channels }))
    .send(Buffer.from(halves.buffer, halves.byteOffset, halves.byteLength));
}
