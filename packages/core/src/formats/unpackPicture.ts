import type { PackedPicture, Picture } from '../image/index.ts';
import { fromHalves } from './half.ts';

/** The same picture with all values as single floats. */
export function unpackPicture({ channels, ...rest }: PackedPicture): Picture {
  return {
    ...rest,
    channels: channels.map(({ data, name, type }) => ({
      name,
      type,
      data: type === 'half' ? fromHalves(data) : new Float32Array(data),
    })),
  };
}
