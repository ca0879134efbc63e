import { MAIN_LAYER, type Channel, type Picture } from '../image/index.ts';

/** A layer as its file names it; the main layer's name is empty. */
export interface SourceLayer {
  name: string;
  /** As the file names them. */
  channels: string[];
}

const COLOURS: Record<string, string> = { r: 'R', red: 'R', g: 'G', green: 'G', b: 'B', blue: 'B', a: 'A', alpha: 'A', y: 'Y' }; // prettier-ignore

/** "R", "red" and "r" are one channel. */
export const plainChannel = (channel: string) => COLOURS[channel.toLowerCase()] ?? channel;

/** Layer and channel of a source channel. Channels without a layer that are no colours, such as Z, are layers of their own. */
export function sourceOf({ name }: Pick<Channel, 'name'>): { layer: string; channel: string } {
  const dot = name.lastIndexOf('.');
  if (dot >= 0) return { layer: name.slice(0, dot), channel: name.slice(dot + 1) };
  return 'RGBAY'.includes(plainChannel(name)) ? { layer: '', channel: name } : { layer: name, channel: name };
}

/** The layers of a picture in the order of its channels. */
export function sourceLayers(picture: Pick<Picture, 'channels'>): SourceLayer[] {
  const layers = new Map<string, SourceLayer>();
  for (const channel of picture.channels) {
    const { layer, channel: own } = sourceOf(channel);
    const found = layers.get(layer) ?? { name: layer, channels: [] };
    found.channels.push(own);
    layers.set(layer, found);
  }
  const rank = (channel: string) =>
    'RGBAXYZ'.includes(plainChannel(channel)) ? 'RGBAXYZ'.indexOf(plainChannel(channel)) : 99;
  for (const { channels } of layers.values()) channels.sort((a, b) => rank(a) - rank(b));
  return [...layers.values()];
}

/** How a layer is called in words. */
export const sourceName = (layer: string) => layer || `${MAIN_LAYER}, without a name`;
