import { intersectRegions, listLayers, MAIN_LAYER, type Picture, type Region } from './picture.ts';

/** A part of a picture, with all or some of its layers; its frame stays. Null where they share no pixel. */
export function cropPicture(picture: Picture, region: Region, layers?: string[]): Picture | null {
  const part = intersectRegions(region, picture.dataWindow);
  if (!part) return null;
  const { x, y, width, height } = part;
  const wanted = layers && new Set(namesOf(picture, layers));
  const channels = picture.channels
    .filter((c) => !wanted || wanted.has(c.name))
    .map((channel) => {
      const data = new Float32Array(width * height);
      for (let row = 0; row < height; row++) {
        const from = (row + y - picture.dataWindow.y) * picture.width + x - picture.dataWindow.x;
        data.set(channel.data.subarray(from, from + width), row * width);
      }
      return { ...channel, data };
    });
  return { ...picture, width, height, dataWindow: part, channels };
}

function namesOf(picture: Picture, layers: string[]): string[] {
  const all = listLayers(picture);
  return layers.flatMap((layer) =>
    (all.get(layer) ?? []).map((channel) => (layer === MAIN_LAYER ? channel : `${layer}.${channel}`)),
  );
}
