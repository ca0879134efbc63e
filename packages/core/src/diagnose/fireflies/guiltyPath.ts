// Which path made a firefly: its brightest sample, replayed, and the light of it that counts most.
import { luminance } from '../../color/index.ts';
import {
  clampLimit,
  COMPONENTS,
  FIRST_EVENT,
  pathTo,
  untilLight,
  type FoundLight,
  type PathEvent,
  type PathTracer,
  type PathVertex,
} from '../../render/index.ts';
import type { Clamp } from '../limits/clampLimits.ts';
import type { Firefly } from './findFireflies.ts';

/** Light of a sample, for what clamps would do to it. */
export interface Part {
  /** Before it is divided by splits: what clamps look at. */
  luminance: number;
  share: number;
  indirect: boolean;
  /** Event of its path, as a place in SPLIT_LOBES. */
  first: number;
}

export interface WeighedSample {
  /** All of its light that clamps look at. */
  parts: Part[];
  /** What the pixel filter weighs it with. */
  weight: number;
}

export interface GuiltyPath {
  /** From the camera to the place where the light was found. */
  vertices: PathVertex[];
  light: FoundLight;
  /** The sample itself, or all that bring the pixel its light where they were looked for. */
  samples: WeighedSample[];
  /** The vertex that made it explode, as a place in `vertices`. */
  step: number;
  /** Heckbert 1990: from the light to the eye. */
  notation: string;
}

const brightness = ({ radiance: [r, g, b] }: FoundLight) => luminance(r, g, b);

/** Luminance that clamps leave of a sample. @param clamp 0 is off */
export const keptOf = (parts: Part[], clamp: Clamp): number =>
  parts.reduce((sum, { first, indirect, luminance: y, share }) => sum + share * Math.min(y, clampLimit(clamp, indirect, first)), 0); // prettier-ignore

/**
 * @param clamp of the picture
 * @returns null where the replay finds no light: the picture is not of these settings
 */
export function guiltyPath(tracer: PathTracer, { sample, x, y }: Firefly, clamp: Clamp): GuiltyPath | null {
  if (!sample) return null;
  const vertices = tracer.replay(x, y, sample.index);
  let [at, light]: [number, FoundLight | null] = [-1, null];
  vertices.forEach((vertex, i) => {
    for (const found of vertex.lights)
      if (!found.cutBy && (!light || brightness(found) > brightness(light))) [at, light] = [i, found];
  });
  const { parts, seen } = lightOf(vertices);
  const sum = seen + keptOf(parts, clamp);
  if (!light || !(sum > 0)) return null;
  const path = pathTo(vertices, at);
  return {
    vertices: path,
    light,
    samples: [{ parts, weight: sample.luminance / sum }],
    step: explodingStep(path, light),
    notation: notationOf(path, light),
  };
}

/** What a replayed sample brings: what the camera sees itself, which no clamp touches, and the rest. */
export function lightOf(vertices: PathVertex[]): { seen: number; parts: Part[] } {
  let seen = 0;
  const parts: Part[] = [];
  for (const found of vertices.flatMap(({ lights }) => lights)) {
    if (found.cutBy) continue;
    const y = brightness(found);
    const first = FIRST_EVENT[COMPONENTS.indexOf(found.component)];
    if (found.events === 0) seen += y;
    else parts.push({ luminance: y / found.share, share: found.share, indirect: found.events > 1, first }); // prettier-ignore
  }
  return { seen, parts };
}

/** From this growth of the throughput on, a vertex is called the one that made the path explode. No source. */
export const GROWN = 2;
export const growthOf = ({ after, before }: PathVertex) =>
  after ? Math.max(...after) / Math.max(...before, 1e-30) : 0;

/** The direction was chosen by chance: the lobe is no perfect mirror. */
export const isByChance = ({ density, lobe }: PathVertex) => lobe !== null && density > 0;

/**
 * Where the path grew bright beyond measure: the vertex whose event multiplied the throughput most, if any did; for light that
 * was met, the last one that chose its direction by chance; for light that was asked for, the one that asked.
 */
function explodingStep(vertices: PathVertex[], light: FoundLight): number {
  const { asked } = light;
  const path = untilLight(vertices, light);
  let [step, most] = [-1, GROWN];
  path.forEach((vertex, i) => {
    // smooth glass scales radiance by the square of its IOR, and takes it back on the way out
    const grown = isByChance(vertex) ? growthOf(vertex) : 0;
    if (grown > most) [step, most] = [i, grown];
  });
  if (step >= 0 || asked) return step >= 0 ? step : path.length - 1;
  return Math.max(0, path.findLastIndex(isByChance));
}

/** Events of a path from the camera to its light, with the one that the light was asked for at. */
export function eventsOf({ light, vertices }: Pick<GuiltyPath, 'light' | 'vertices'>): PathEvent[] {
  const path = untilLight(vertices, light);
  // what the surface that asked did with the light need not be what the path went on with
  const lobes = [...(light.asked ? path.slice(0, -1) : path).map(({ lobe }) => lobe), light.lobe];
  return lobes.filter((lobe) => lobe !== null);
}

/** D: diffuse, S: specular or refracted, V: scattered in a volume. */
function notationOf(vertices: PathVertex[], light: FoundLight): string {
  const letters = eventsOf({ light, vertices }).map((lobe) => (lobe === 'diffuse' ? 'D' : lobe === 'volume' ? 'V' : 'S')); // prettier-ignore
  return `L${letters.reverse().join('')}E`.replace(/(S)\1+/g, '$1+');
}
