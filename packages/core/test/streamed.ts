import { plainDeflate, writeExrParts, type Level } from '@dusting/core/formats';
import type { PackedPicture, Picture } from '@dusting/core/image';

/** What writeExrParts() writes, in one piece. */
export async function streamed(
  picture: Picture | PackedPicture,
  deflate = async (raw: Uint8Array, level: Level) => plainDeflate(raw, level),
): Promise<Uint8Array> {
  return new Uint8Array(Buffer.concat(await writeExrParts(picture, { deflate })));
}
