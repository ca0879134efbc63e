import type { Region } from '@dusting/core/image';

/**
 * A region moved by so many pixels each way, or with its right and lower edge moved. It stays within the frame, and
 * keeps at least one pixel.
 */
export function nudgeRegion(
  region: Region,
  [dx, dy]: [number, number],
  edge: boolean,
  frame: { width: number; height: number },
): Region {
  const within = (v: number, least: number, most: number) => Math.min(most, Math.max(least, v));
  const { x, y, width, height } = region;
  return edge
    ? { x, y, width: within(width + dx, 1, frame.width - x), height: within(height + dy, 1, frame.height - y) }
    : { x: within(x + dx, 0, frame.width - width), y: within(y + dy, 0, frame.height - height), width, height };
}
