// How depth limits and clamps are named, and what is said of deeper ones.
import type { Limit } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import { setClamps } from './clampLimits.ts';
import type { DepthKind, Depths } from './depthLimits.ts';

export const LIMIT_NAMES: Record<Limit, string> = {
  diffuse: 'diffuse depth',
  specular: 'specular depth',
  transmission: 'transmission depth',
  volume: 'volume depth',
  total: 'total depth',
  clamp: 'clamp',
};

const list = (parts: string[]) =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;

/** "The total depth of 8", "The clamp (direct 4, indirect 10)". */
export function limitWithValue(limit: Limit, { clamp, depth }: Pick<RenderSettings, 'clamp' | 'depth'>): string {
  if (limit !== 'clamp') return `${LIMIT_NAMES[limit]} of ${depth[limit]}`;
  return `clamp (${setClamps(clamp).join(', ')})`;
}

export const words = {
  held: (kinds: DepthKind[], depth: Depths) =>
    `Raising ${kinds.map((kind) => `the ${LIMIT_NAMES[kind]} of ${depth[kind]}`).join(' or ')} alone changes nothing while the total depth is ${depth.total}.`,
  openTitle: 'Rendering the region with open depth limits',
  raise: (kinds: DepthKind[], from: Depths, to: Depths) =>
    `Raise the ${list(kinds.map((kind) => `${LIMIT_NAMES[kind]} from ${from[kind]} to ${to[kind]}`))}`,
  deeper: 'The whole frame gets deeper paths, and more noise where they bring light.',
};
