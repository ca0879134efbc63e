// What skies make of sides that meet: a plain one, one that is brighter overhead, and the environment of the shot at every turn.
//
// A side sends back its albedo times the mean radiance that its rays find where nothing blocks them; what other lights add stays as
// the picture has it. A turn is predicted from the picture and the difference of the sky alone, so that bounces and lights cancel.
import { luminance } from '../../color/index.ts';
import { OcclusionProbe, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import type { EnvironmentMap } from '../../shade/index.ts';
import type { Region } from '../../image/index.ts';
import { apart, contrastOf, type Side, type SidePair } from './sides.ts';

/** Places of a side that are looked at, and rays of each. */
const PLACES = 16;
const RAYS = 64;
/** Degrees between turns that are tried. */
const TURN = 10;
/** Texels of the sky that is looked up: a small sun is spread over one of them, which rays do not miss. */
const SKY = { width: 48, height: 24 };
/** A place with less open sky is indoors. Common practice, no source. */
const CLOSED = 0.05;
/** No side grows darker than this part of itself: what lights beside the sky bring is not known to more. No source. */
const DARKEST = 0.05;

type Radiance = (x: number, y: number, z: number) => number;

/** Moon & Spencer 1942: a third at the horizon of what is overhead; the ground sends back a tenth. */
export const OVERCAST = { zenith: 1, horizon: 1 / 3, ground: 0.1 };
const overcast: Radiance = (_x, y, _z) => (y > 0 ? OVERCAST.horizon + (OVERCAST.zenith - OVERCAST.horizon) * y : OVERCAST.ground); // prettier-ignore

export interface Skies {
  /** L* between the sides of each pair, in its order, and of all: of the picture, under a plain sky, an overcast one. */
  now: SideApart;
  plain: SideApart;
  overcast: SideApart;
  /** Zenith of an overcast sky that lights these sides as brightly as a plain one of 1. */
  zenith: number;
  /** What the picture becomes: with the sky overcast; with the environment turned, where it is a picture. */
  clouded: SideApart;
  turns: SideTurn[];
  turned: SideTurn | null;
}
export interface SideApart {
  contrast: number;
  pairs: number[];
}
interface SideTurn extends SideApart {
  degrees: number;
}

/**
 * @returns null where next to no sky is open for these sides
 * @param turnable whether the environment is a picture, so that a turn changes something @param rotation of it now, degrees
 */
export function compareSkies(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  pairs: SidePair[],
  { rotation, turnable }: { rotation: number; turnable: boolean },
): Skies | null {
  const probe = new OcclusionProbe(scene, settings, RAYS);
  const all = [...new Set(pairs.flatMap(({ sides }) => sides))];
  const open = new Map(all.map((side) => [side, openSky(probe, side, region)]));
  const mean = (side: Side, radiance: Radiance) => {
    const { directions, rays } = open.get(side)!;
    let sum = 0;
    for (let i = 0; i < directions.length; i += 3) sum += radiance(directions[i], directions[i + 1], directions[i + 2]);
    return rays > 0 ? sum / rays : 0;
  };
  if (all.every((side) => mean(side, () => 1) < CLOSED)) return null;
  const apartWith = (luminanceOf: (side: Side) => number): SideApart => {
    const values = new Map(all.map((side) => [side, luminanceOf(side)]));
    const of = (side: Side) => values.get(side)!;
    return { contrast: contrastOf(pairs, of), pairs: pairs.map((pair) => apart(pair, of)) };
  };
  const total = (of: (side: Side) => number) => all.reduce((sum, side) => sum + side.pixels.length * of(side), 0);
  /** Factor by which a sky lights all sides as brightly as the picture has them. */
  const asBright = (radiance: Radiance) => total(({ luminance: y }) => y) / Math.max(1e-12, total((side) => side.albedo * mean(side, radiance))); // prettier-ignore
  const under = (radiance: Radiance) => {
    const by = asBright(radiance);
    return apartWith((side) => by * side.albedo * mean(side, radiance));
  };
  const sky = scene.environment ? smallSky(scene.environment) : () => 0;
  const before = new Map(all.map((side) => [side, mean(side, (x, y, z) => sky(x, y, z, rotation))]));
  const instead = (radiance: Radiance) => apartWith((side) => Math.max(DARKEST * side.luminance, side.luminance + side.albedo * (mean(side, radiance) - before.get(side)!))); // prettier-ignore
  const turns = !turnable ? [] : Array.from({ length: 360 / TURN }, (_, i) => {
    const degrees = i * TURN - 180;
    return { degrees, ...instead((x, y, z) => sky(x, y, z, degrees)) };
  }); // prettier-ignore
  // where plenty is plenty, the larger of both
  const worth = ({ contrast, pairs: all }: SideApart) => contrast + 1e-3 * all.reduce((sum, v) => sum + v, 0);
  const zenith = asBright(overcast) / asBright(() => 1);
  const plainNow = sky(0, 1, 0, 0);
  return {
    now: apartWith(({ luminance: y }) => y),
    plain: under(() => 1),
    overcast: under(overcast),
    zenith,
    clouded: instead((x, y, z) => plainNow * zenith * overcast(x, y, z)),
    turns,
    turned: turns.reduce<SideTurn | null>((best, turn) => (best && worth(best) >= worth(turn) ? best : turn), null), // prettier-ignore
  };
}

/** Directions in which nothing blocks the sky for a side, three numbers each, and all rays that were sent. */
interface OpenSky {
  directions: number[];
  rays: number;
}

function openSky(probe: OcclusionProbe, { pixels }: Side, region: Region): OpenSky {
  const directions: number[] = [];
  let rays = 0;
  const count = Math.min(PLACES, pixels.length);
  for (let k = 0; k < count; k++) {
    const i = pixels[Math.floor(((k + 0.5) * pixels.length) / count)];
    if (!probe.at(region.x + (i % region.width), region.y + Math.floor(i / region.width))) continue;
    rays += RAYS;
    for (let r = 0; r < RAYS; r++) if (probe.any[r] === Infinity) directions.push(...probe.directions.subarray(r * 3, r * 3 + 3)); // prettier-ignore
  }
  return { directions, rays };
}

/** Luminance of an environment by a direction and a turn of it, degrees, from means over large texels. */
function smallSky(map: EnvironmentMap): (x: number, y: number, z: number, degrees: number) => number {
  const [width, height] = [Math.min(SKY.width, map.width), Math.min(SKY.height, map.height)];
  const sums = new Float64Array(width * height);
  const weights = new Float64Array(width * height);
  for (let y = 0; y < map.height; y++)
    for (let x = 0; x < map.width; x++) {
      const i = (y * map.width + x) * 4;
      const to = Math.floor((y * height) / map.height) * width + Math.floor((x * width) / map.width);
      const weight = Math.sin((Math.PI * (y + 0.5)) / map.height);
      sums[to] += weight * luminance(map.texels[i], map.texels[i + 1], map.texels[i + 2]);
      weights[to] += weight;
    }
  const means = sums.map((sum, i) => (weights[i] > 0 ? sum / weights[i] : 0));
  return (x, y, z, degrees) => {
    const u = 0.5 + Math.atan2(x, -z) / (2 * Math.PI) + degrees / 360;
    const v = Math.acos(Math.min(1, Math.max(-1, y))) / Math.PI;
    const column = Math.floor((u - Math.floor(u)) * width) % width;
    return means[Math.min(height - 1, Math.floor(v * height)) * width + column];
  };
}
