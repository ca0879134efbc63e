// Fireflies of a finished frame replaced: from the pixels about them, and, where frames before and after are given, from those.
// Every other pixel keeps its bits.
import { InputError } from '../../formats/index.ts';
import { findChannel, listLayers, type Channel, type Picture } from '../../image/index.ts';
import { layerLuminance } from '../../render/index.ts';
import { findFireflies } from './findFireflies.ts';
import { words } from './words.ts';

/** Mask of the pixels that were replaced: 1 where one was. */
export const REPAIRED = 'repaired.Y';

/** Pixels about a firefly that stand for it: within this distance, unmarked, of the same object where it is known. */
const REACH = 2;
/** Fewer than so many alike: those of other objects count too. */
const LEAST = 3;
/** Layers that are no light: they are left as they are. */
const DATA = /^(depth|normal|position|uv|object|surface|samples|time|rays|probeRays|branchRays|kindRays|kindTime|spread|splits|brightest|early|halves|error|occlusion|albedo)(\.|$)/; // prettier-ignore

export interface Repaired {
  picture: Picture;
  /** Pixels that were replaced, and how many of them from the frames before and after. */
  count: number;
  fromFrames: number;
}

/**
 * @param others frames before and after, of the same size: their pixel counts where it is no firefly there and lies within what
 * surrounds the place in this frame, so that what moved does not show through
 * @throws InputError where there is no beauty layer, or the sizes or places in the frame differ
 */
export function repairFrame(picture: Picture, others: Picture[] = []): Repaired {
  const beauty = layerLuminance(picture, 'beauty');
  if (!beauty) throw new InputError(words.noBeauty);
  for (const { height, width } of others)
    if (width !== picture.width || height !== picture.height)
      throw new InputError(words.otherSize(width, height, picture.width, picture.height)); // prettier-ignore
  const { dataWindow, height, width } = picture;
  if (others.some((of) => of.dataWindow.x !== dataWindow.x || of.dataWindow.y !== dataWindow.y)) throw new InputError(words.otherPlace); // prettier-ignore
  const placesOf = (of: Picture) => findFireflies(of, of.dataWindow).map(({ x, y }) => (y - of.dataWindow.y) * width + x - of.dataWindow.x); // prettier-ignore
  const marked = new Set(placesOf(picture));
  beauty.forEach((v, p) => Number.isFinite(v) || marked.add(p));
  const frames = others.map((of) => ({ luminance: layerLuminance(of, 'beauty'), marked: new Set(placesOf(of)), picture: of })); // prettier-ignore
  const object = findChannel(picture, 'object', 'id')?.data;
  const channels = picture.channels.map((c) => ({ ...c }));
  const light = lightChannels(picture);
  for (const c of channels) if (light.has(c.name)) c.data = c.data.slice();
  const mask = new Float32Array(width * height);
  let fromFrames = 0;
  for (const p of marked) {
    const about = around(p, width, height, marked, object);
    if (about.length === 0) continue;
    mask[p] = 1;
    const values = about.map((q) => beauty[q]).sort((a, b) => a - b);
    const fitting = frames.filter((f) => f.luminance && !f.marked.has(p) && f.luminance[p] >= values[0] && f.luminance[p] <= values.at(-1)!); // prettier-ignore
    if (fitting.length > 0) fromFrames++;
    for (const c of channels) {
      if (!light.has(c.name)) continue;
      const there = fitting.flatMap((f) => f.picture.channels.find(({ name }) => name === c.name)?.data[p] ?? []);
      const source = picture.channels.find(({ name }) => name === c.name)!.data;
      c.data[p] = there.length > 0 ? there.reduce((a, b) => a + b) / there.length : middle(about.map((q) => source[q]));
    }
  }
  channels.push({ name: REPAIRED, type: 'half', data: mask });
  return { picture: { ...picture, dataWindow, channels }, count: mask.reduce((a, b) => a + b, 0), fromFrames };
}

/** Names of the channels that hold light. */
function lightChannels(picture: Picture): Set<string> {
  const names = new Set<string>();
  for (const [layer, channels] of listLayers(picture))
    if (!DATA.test(layer) && channels.includes('R'))
      for (const c of ['R', 'G', 'B']) names.add(nameOf(picture, layer, c));
  return names;
}
const nameOf = (picture: Picture, layer: string, channel: string) => (findChannel(picture, layer, channel) as Channel | undefined)?.name ?? ''; // prettier-ignore

function around(p: number, width: number, height: number, marked: Set<number>, object?: Float32Array): number[] {
  const [x, y] = [p % width, Math.floor(p / width)];
  const all: number[] = [];
  for (let qy = Math.max(0, y - REACH); qy <= Math.min(height - 1, y + REACH); qy++)
    for (let qx = Math.max(0, x - REACH); qx <= Math.min(width - 1, x + REACH); qx++) {
      const q = qy * width + qx;
      if (!marked.has(q)) all.push(q);
    }
  const alike = object ? all.filter((q) => object[q] === object[p]) : all;
  return alike.length >= LEAST ? alike : all;
}

function middle(values: number[]): number {
  values.sort((a, b) => a - b);
  return values[values.length >> 1];
}
