import { plainDeflate, streamExr, type Level } from '@dusting/core/formats';
import type { PackedPicture, Picture } from '@dusting/core/image';

/** What streamExr() writes, in one piece. */
export async function streamed(
  picture: Picture | PackedPicture,
  deflate = async (raw: Uint8Array, level: Level) => plainDeflate(raw, level),
): Promise<Uint8Array> {
  const pieces: { bytes: Uint8Array; at: number }[] = [];
  const length = await streamExr(picture, (bytes, at) => pieces.push({ bytes, at }), { deflate });
  const file = new Uint8Array(length);
  for (const { at, bytes } of pieces) file.set(bytes, at);
  return file;
}
