// Changes that are tried out before anybody renders them: remedies and variants, each rendered over the region at few samples. All use the same random numbers, so that pictures differ only
// where the change takes effect. Two at a time were no quicker: the processors are busy already.
import { cropPlane, planeSum, findChannel, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance, SPLIT_KINDS } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import { setTo } from '../limits/setTo.ts';
import { apartAt } from './apartAt.ts';
import type { SmallFrame } from './smallFrame.ts';

/** Differences are taken between means of tiles, pixels of the whole frame: single ones are noise at few samples. */
export const TILE = 6;
/** Camera samples of one rehearsal. */
const SAMPLES = 24_000;
const LEAST_TILE = 2;
const LAYERS = /^(beauty|shadow|rays|group\..+)$/;

export interface Rehearsal {
  title: string;
  picture: Picture;
  /** What of it is looked at. */
  region: Region;
  /** Mean over the region. */
  luminance: number;
  /** Luminance of each tile, row by row. */
  tiles: Float64Array;
  rays: number;
  /** What asking the lights of each group took, in the order of the shot. */
  lightSeconds: number[];
}

/** What is being done, in words. */
export const rehearsing = (title: string) => `Trying on the region: ${title}`;

export async function rehearse(
  { settings, use }: DiagnosisContext,
  scene: SceneAccess,
  { patch: smaller, region, step }: SmallFrame,
  { patch, title }: { title: string; patch: Patch },
): Promise<Rehearsal> {
  const pixelSamples = Math.max(1, Math.min(settings.pixelSamples, 16, Math.ceil(SAMPLES / (region.width * region.height)))); // prettier-ignore
  // one path of each kind is enough for means of tiles
  const counts = SPLIT_KINDS.map((kind) => setTo(use, `${kind}Samples`, 1));
  const whole = [
    ...smaller,
    ...patch,
    ...counts,
    setTo(use, 'pixelSamples', pixelSamples),
    setTo(use, 'adaptive/limit', 0),
  ];
  const { picture, statistics } = await scene.render({
    title: rehearsing(title),
    region,
    patch: whole,
    extras: [],
    layers: LAYERS,
  });
  return {
    title,
    picture,
    region,
    rays: raysIn(picture, region),
    lightSeconds: statistics.lightSeconds,
    ...tilesOf(picture, region, step),
  };
}

/**
 * Mean difference of the tiles, L*, and the share of tiles that differ by more than 1 L*.
 * @param stops of the shadow check, where it is asked as well
 */
export function differenceOf(one: Rehearsal, other: Rehearsal, stops = 0): { mean: number; changed: number } {
  let sum = 0;
  let changed = 0;
  for (let i = 0; i < one.tiles.length; i++) {
    const apart = apartAt(stops, one.tiles[i], other.tiles[i]);
    sum += apart;
    if (apart > 1) changed++;
  }
  return { mean: sum / one.tiles.length, changed: changed / one.tiles.length };
}

function tilesOf(picture: Picture, region: Region, step: number): { luminance: number; tiles: Float64Array } {
  const plane = cropPlane(picture, layerLuminance(picture, 'beauty')!, region);
  const side = Math.max(LEAST_TILE, Math.round(TILE / step));
  const columns = Math.ceil(region.width / side);
  const tiles = new Float64Array(columns * Math.ceil(region.height / side));
  const counts = new Float64Array(tiles.length);
  let sum = 0;
  plane.forEach((v, i) => {
    const tile = Math.floor(Math.floor(i / region.width) / side) * columns + Math.floor((i % region.width) / side);
    tiles[tile] += v;
    counts[tile]++;
    sum += v;
  });
  return { luminance: sum / plane.length, tiles: tiles.map((v, i) => v / counts[i]) };
}

const raysIn = (picture: Picture, region: Region) =>
  ['camera', 'diffuse', 'specular', 'transmission', 'volume', 'shadow'].reduce((all, kind) => all + planeSum(picture, findChannel(picture, 'rays', kind)?.data, region), 0); // prettier-ignore
