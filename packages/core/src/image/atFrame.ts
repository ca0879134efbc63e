import type { Picture, Region } from './picture.ts';

type Size = Pick<Region, 'width' | 'height'>;

/** The same part of a frame of another size, in whole pixels, one at least. */
export function scaleRegion(region: Region, from: Size, to: Size): Region {
  const sx = to.width / from.width;
  const sy = to.height / from.height;
  const x = Math.floor(region.x * sx);
  const y = Math.floor(region.y * sy);
  return {
    x,
    y,
    width: Math.max(1, Math.min(to.width - x, Math.round(region.width * sx))),
    height: Math.max(1, Math.min(to.height - y, Math.round(region.height * sy))),
  };
}

/**
 * A picture as it lies in a frame of another size: each pixel has the values of the one at its middle, as on the picture wall.
 * @returns the picture itself where its frame has that size
 */
export function atFrame(picture: Picture, frame: Size): Picture {
  const { dataWindow: from, displayWindow, width } = picture;
  if (displayWindow.width === frame.width && displayWindow.height === frame.height) return picture;
  const to = scaleRegion(from, displayWindow, frame);
  const placeOf = (at: number, step: number, first: number, count: number) => Math.min(count - 1, Math.max(0, Math.floor((at + 0.5) * step) - first)); // prettier-ignore
  const columns = Int32Array.from({ length: to.width }, (_, i) => placeOf(to.x + i, displayWindow.width / frame.width, from.x, from.width)); // prettier-ignore
  const rows = Int32Array.from({ length: to.height }, (_, i) => placeOf(to.y + i, displayWindow.height / frame.height, from.y, from.height)); // prettier-ignore
  const channels = picture.channels.map((channel) => {
    const data = new Float32Array(to.width * to.height);
    for (let y = 0; y < to.height; y++)
      for (let x = 0; x < to.width; x++) data[y * to.width + x] = channel.data[rows[y] * width + columns[x]];
    return { ...channel, data };
  });
  const { height, width: across } = frame;
  return { ...picture, width: to.width, height: to.height, dataWindow: to, displayWindow: { x: 0, y: 0, width: across, height }, channels }; // prettier-ignore
}
