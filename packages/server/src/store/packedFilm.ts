// Sums of a chunk on their way through the database: a fifth of their size, which the engine's own deflate does faster than
// the database takes in what it saves.
import { promisify } from 'node:util';
import { deflate, inflate } from 'node:zlib';

const deflateApart = promisify(deflate);
const inflateApart = promisify(inflate);
/** In small pieces the threads wait for the event loop most of the time. */
const AT_ONCE = 1 << 20;

/** Packed beside the event loop. @param data single-precision sums */
export async function packFilm(data: Float32Array): Promise<Uint8Array> {
  return deflateApart(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), { level: 1, chunkSize: AT_ONCE });
}

/** Unpacked beside the event loop. */
export async function unpackFilm(packed: Uint8Array): Promise<Float32Array> {
  const bytes = await inflateApart(packed, { chunkSize: AT_ONCE });
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
}
