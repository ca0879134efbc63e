import { idOfName, matteMetadata, type IdMattes } from '@dusting/core/formats';
import type { Channel, Picture } from '@dusting/core/image';

/** @param numbers number of each name, and so many shares for each pixel, the largest first; number -1: none */
export function makeIdMattes(
  name: string,
  names: string[],
  ranks: { number: Int32Array; coverage: Float32Array }[],
): IdMattes {
  const ids = names.map(idOfName);
  return {
    name,
    ids: new Map(names.map((n, i) => [n, ids[i]])),
    ranks: ranks.map(({ number, coverage }) => ({ id: Float32Array.from(number, (n) => ids[n] ?? 0), coverage })),
  };
}

/** The channels and text attributes that carry mattes in a picture. */
export function packIdMattes({ name, ids, ranks }: IdMattes): Pick<Picture, 'channels' | 'metadata'> {
  const channels = ranks.flatMap(({ id, coverage }, rank): Channel[] => {
    const layer = `${name}${String(rank >> 1).padStart(2, '0')}`;
    const [first, second] = rank & 1 ? 'BA' : 'RG';
    return [
      { name: `${layer}.${first}`, type: 'float', data: id },
      { name: `${layer}.${second}`, type: 'float', data: coverage },
    ];
  });
  return { channels, metadata: matteMetadata(name, [...ids.keys()]) };
}
