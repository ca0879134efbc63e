/** One channel of a picture: row by row from the top left corner. */
export interface Channel {
  /** Full name with its layer in front, such as "transmission.R"; the main layer has no prefix. */
  name: string;
  /** How it is stored in files. Values here are always single precision (uint: exact up to 2^24). */
  type: 'half' | 'float' | 'uint';
  data: Float32Array;
}

/** A picture with any number of named channels of one size. */
export interface Picture {
  width: number;
  height: number;
  /** Where the data stands inside the full frame; equal to the whole frame unless a region was rendered. */
  dataWindow: Region;
  displayWindow: Region;
  channels: Channel[];
  /** Text attributes. */
  metadata: Record<string, string>;
}

/** A rectangle of whole pixels. x and y count from the top left corner. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

export const MAIN_LAYER = 'beauty';

/** "transmission.R" -> layer "transmission", channel "R"; a name without a dot belongs to the main layer. */
export function splitChannelName(name: string): { layer: string; channel: string } {
  const dot = name.lastIndexOf('.');
  return dot < 0 ? { layer: MAIN_LAYER, channel: name } : { layer: name.slice(0, dot), channel: name.slice(dot + 1) };
}

export function findChannel<C extends { name: string } = Channel>(
  picture: { channels: C[] },
  layer: string,
  channel: string,
): C | undefined {
  const find = (name: string) => picture.channels.find((c) => c.name === name);
  // other programs write the main layer with its name in front, too
  return layer === MAIN_LAYER ? (find(channel) ?? find(`${layer}.${channel}`)) : find(`${layer}.${channel}`);
}

/** Layer names in order, each with its channel names in the customary order (R G B A, X Y Z, then by name). */
export function listLayers(picture: Picture): Map<string, string[]> {
  const layers = new Map<string, string[]>();
  for (const { name } of picture.channels) {
    const { layer, channel } = splitChannelName(name);
    const channels = layers.get(layer) ?? [];
    if (!channels.includes(channel)) layers.set(layer, [...channels, channel]);
  }
  const rank = (c: string) => ('RGBAXYZ'.includes(c) && c.length === 1 ? 'RGBAXYZ'.indexOf(c) : 99);
  for (const channels of layers.values()) channels.sort((a, b) => rank(a) - rank(b) || a.localeCompare(b));
  return layers;
}

/** The part of `region` that lies inside the frame, or null. */
export function intersectRegions(a: Region, b: Region): Region | null {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  const width = Math.min(a.x + a.width, b.x + b.width) - x;
  const height = Math.min(a.y + a.height, b.y + b.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}
