import type { Region } from '../../image/index.ts';
import type { Patch, RenderSettings } from '../../scene/index.ts';
import { setTo } from '../limits/setTo.ts';

/** Pixels of a region that is tried out: merging, writing and reading a picture go with its pixels, whatever its samples. */
const MOST = 12_000;

export interface SmallFrame {
  /** The region in the smaller frame. */
  region: Region;
  /** Makes the frame smaller. */
  patch: Patch;
  /** Pixels of the frame for one of the small one, each way. */
  step: number;
}

/** A region of a frame, at a size at which it can be rendered a dozen times while somebody waits. */
export function smallFrame(region: Region, { height, width }: RenderSettings, use: string): SmallFrame {
  const step = Math.ceil(Math.sqrt((region.width * region.height) / MOST));
  if (step <= 1) return { region, patch: [], step: 1 };
  const frame = { width: Math.max(1, Math.round(width / step)), height: Math.max(1, Math.round(height / step)) };
  const [fx, fy] = [frame.width / width, frame.height / height];
  const [x, y] = [Math.floor(region.x * fx), Math.floor(region.y * fy)];
  const right = Math.min(frame.width, Math.max(x + 1, Math.ceil((region.x + region.width) * fx)));
  const bottom = Math.min(frame.height, Math.max(y + 1, Math.ceil((region.y + region.height) * fy)));
  return {
    region: { x, y, width: right - x, height: bottom - y },
    patch: [setTo(use, 'width', frame.width), setTo(use, 'height', frame.height)],
    step,
  };
}
