import { intersectRegions, listLayers, MAIN_LAYER, type Picture, type Region } from './picture.ts';

/** A part of a picture, with all or some of its layers; its frame stays. Null where they share no pixel. */
export function cropPicture(picture: Picture, region: Region, layers?: string[]): Picture | null {
  const part = intersectRegions(region, picture.dataWindow);
  if (!part) return null;
  const wanted = layers && new Set(namesOf(picture, layers));
  const channels = picture.channels
    .filter((c) => !wanted || wanted.has(c.name))
    .map((channel) => ({ ...channel, data: cropPlane(picture, channel.data, part) }));
  return { ...picture, width: part.width, height: part.height, dataWindow: part, channels };
}

/** Values of a region that lies inside the picture, row by row. */
export function cropPlane({ dataWindow, width }: Picture, plane: Float32Array, region: Region): Float32Array {
  const data = new Float32Array(region.width * region.height);
  for (let row = 0; row < region.height; row++) {
    const from = (row + region.y - dataWindow.y) * width + region.x - dataWindow.x;
    data.set(plane.subarray(from, from + region.width), row * region.width);
  }
  return data;
}

function namesOf(picture: Picture, layers: string[]): string[] {
  const all = listLayers(picture);
  return layers.flatMap((layer) =>
    (all.get(layer) ?? []).map((channel) => (layer === MAIN_LAYER ? channel : `${layer}.${channel}`)),
  );
}
