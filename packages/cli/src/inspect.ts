import { InputError, isExr, readExrHeader } from '@dusting/core/formats';
import {
  findChannel,
  intersectRegions,
  listLayers,
  MAIN_LAYER,
  splitChannelName,
  type Channel,
  type Picture,
  type Region,
} from '@dusting/core/image';
import { readInput, readPicture } from './files.ts';
import { COMMON, parseOptions, parseRegion } from './options.ts';
import { HELP } from './usage.ts';

interface ChannelReport {
  type: Channel['type'];
  /** null where the channel holds no finite value */
  min: number | null;
  max: number | null;
  mean: number | null;
  negative: number;
  infinite: number;
  nan: number;
}

export function inspect(args: string[]): string {
  const { values, positionals } = parseOptions(args, COMMON, 1);
  if (values.help) return HELP.inspect;
  const [path] = positionals;
  const bytes = readInput(path);
  const { chromaticities, compression } = isExr(bytes) ? readExrHeader(bytes, path) : { chromaticities: null, compression: null }; // prettier-ignore
  const picture = readPicture(bytes, path);
  const region = parseRegion(values.region);
  const part = region ? intersectRegions(region, picture.dataWindow) : picture.dataWindow;
  if (!part) throw new InputError('the region lies outside the picture', path);
  const layers: Record<string, Record<string, ChannelReport>> = {};
  for (const [layer, channels] of listLayers(picture))
    layers[layer] = Object.fromEntries(
      channels.map((name) => [name, describeChannel(findChannel(picture, layer, name)!, picture, part)]),
    );
  // a main layer that is there twice, once with its name in front
  for (const channel of picture.channels)
    if (channel.name.startsWith(`${MAIN_LAYER}.`) && findChannel(picture, MAIN_LAYER, splitChannelName(channel.name).channel) !== channel) // prettier-ignore
      (layers[`${MAIN_LAYER} (named)`] ??= {})[splitChannelName(channel.name).channel] = describeChannel(channel, picture, part); // prettier-ignore
  const { dataWindow, displayWindow, metadata } = picture;
  const report = {
    width: picture.width,
    height: picture.height,
    dataWindow,
    displayWindow,
    compression,
    chromaticities,
    metadata,
    region: part,
    layers,
  };
  if (values.json) return JSON.stringify(report);
  const show = (n: number | null) => (n === null ? '-' : Number(n.toPrecision(5)).toString());
  return [
    `${path}: ${picture.width} x ${picture.height}${compression ? `, ${compression}` : ''}`,
    ...Object.entries(layers).flatMap(([layer, channels]) =>
      Object.entries(channels).map(
        ([name, c]) =>
          `${`${layer} ${name}`.padEnd(28)} ${c.type.padEnd(5)}  ${show(c.min)} .. ${show(c.max)}  mean ${show(c.mean)}` +
          (c.negative + c.infinite + c.nan > 0
            ? `  (${c.negative} negative, ${c.infinite} infinite, ${c.nan} not a number)`
            : ''),
      ),
    ),
  ].join('\n');
}

/** Statistics of the finite values, and counts of the others. */
function describeChannel(channel: Channel, picture: Picture, region: Region): ChannelReport {
  const report: ChannelReport = {
    type: channel.type,
    min: null,
    max: null,
    mean: null,
    negative: 0,
    infinite: 0,
    nan: 0,
  };
  let sum = 0;
  let finite = 0;
  let min = Infinity;
  let max = -Infinity;
  for (let y = region.y; y < region.y + region.height; y++)
    for (let x = region.x; x < region.x + region.width; x++) {
      const value = channel.data[(y - picture.dataWindow.y) * picture.width + x - picture.dataWindow.x];
      if (Number.isNaN(value)) report.nan++;
      else if (!Number.isFinite(value)) report.infinite++;
      else {
        sum += value;
        finite++;
        min = Math.min(min, value);
        max = Math.max(max, value);
      }
      if (value < 0) report.negative++;
    }
  if (finite > 0) Object.assign(report, { min, max, mean: sum / finite });
  return report;
}
