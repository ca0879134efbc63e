import type { Region } from '@dusting/core/image';

/**
 * Edges between the pixels that belong and those that do not, in frame pixels: // 0..1 from, 2..3 to. Edges of a row or
 * column that follow one another are one.
 * @param belongs by the place of a pixel among the numbers, row by row
 * @param window where the picture lies in the frame
 */
export function outline(
  width: number,
  height: number,
  belongs: (index: number) => boolean,
  window: Region,
): Float32Array {
  const lines: number[] = [];
  const [sx, sy] = [window.width / width, window.height / height];
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height && belongs(y * width + x);
  for (let y = 0; y <= height; y++)
    for (let x = 0, start = -1; x <= width; x++) {
      const edge = x < width && inside(x, y) !== inside(x, y - 1);
      if (edge && start < 0) start = x;
      if (!edge && start >= 0) {
        lines.push(window.x + start * sx, window.y + y * sy, window.x + x * sx, window.y + y * sy);
        start = -1;
      }
    }
  for (let x = 0; x <= width; x++)
    for (let y = 0, start = -1; y <= height; y++) {
      const edge = y < height && inside(x, y) !== inside(x - 1, y);
      if (edge && start < 0) start = y;
      if (!edge && start >= 0) {
        lines.push(window.x + x * sx, window.y + start * sy, window.x + x * sx, window.y + y * sy);
        start = -1;
      }
    }
  return Float32Array.from(lines);
}
