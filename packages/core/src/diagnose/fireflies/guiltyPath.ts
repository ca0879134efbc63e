// Which path made a firefly: its brightest sample, replayed, and the light of it that counts most.
import { luminance } from '../../color/index.ts';
import type { FoundLight, PathTracer, PathVertex } from '../../render/index.ts';
import type { Firefly } from './findFireflies.ts';

/** Light of a sample, for what clamps would do to it. */
export interface Part {
  /** Before it is divided by splits: what clamps look at. */
  luminance: number;
  share: number;
  indirect: boolean;
}

export interface GuiltyPath {
  /** From the camera to the place where the light was found. */
  vertices: PathVertex[];
  light: FoundLight;
  /** Of the sample's light that this one brought, 0..1. */
  share: number;
  /** All light of the sample that clamps look at. */
  parts: Part[];
  /** What the pixel filter weighs the sample with. */
  weight: number;
  /** The vertex that made it explode, as a place in `vertices`. */
  step: number;
  /** Heckbert 1990: from the light to the eye. */
  notation: string;
}

const brightness = ({ radiance: [r, g, b] }: FoundLight) => luminance(r, g, b);

/** @returns null where the replay finds no light: the picture is not of these settings */
export function guiltyPath(tracer: PathTracer, { sample, x, y }: Firefly): GuiltyPath | null {
  if (!sample) return null;
  const vertices = tracer.replay(x, y, sample.index);
  let [at, light]: [number, FoundLight | null] = [-1, null];
  let sum = 0;
  const parts: Part[] = [];
  vertices.forEach((vertex, i) => {
    for (const found of vertex.lights) {
      if (found.cutBy) continue;
      const y = brightness(found);
      sum += y;
      if (found.events > 0) parts.push({ luminance: y / found.share, share: found.share, indirect: found.events > 1 });
      if (!light || y > brightness(light)) [at, light] = [i, found];
    }
  });
  if (!light || !(sum > 0)) return null;
  const { branch, split } = vertices[at];
  // a sample splits at its first surface: what belongs to the other branches is left out
  const own = vertices.filter((v, i) => i <= at && (v.branch === null ? branch === null || i === 0 : v.branch === branch && v.split === split)); // prettier-ignore
  const path = own.length > 1 && own[0].branch === null && own[1].event === own[0].event ? own.slice(1) : own;
  return {
    vertices: path,
    light,
    share: brightness(light) / sum,
    parts,
    weight: sample.luminance / sum,
    step: explodingStep(path, light),
    notation: notationOf(path, light),
  };
}

/**
 * Where the path grew bright beyond measure: the vertex whose event multiplied the throughput most, if any did; for light that
 * was met, the last one that chose its direction by chance; for light that was asked for, the one that asked.
 */
function explodingStep(path: PathVertex[], { asked }: FoundLight): number {
  let [step, most] = [-1, 2];
  path.forEach(({ after, before }, i) => {
    const grown = after ? Math.max(...after) / Math.max(...before, 1e-30) : 0;
    if (grown > most) [step, most] = [i, grown];
  });
  if (step >= 0 || asked) return step >= 0 ? step : path.length - 1;
  const chance = path.findLastIndex(({ density, lobe }) => lobe !== null && density > 0);
  return chance >= 0 ? chance : path.length - 1;
}

/** D: diffuse, S: specular or refracted, V: scattered in a volume. */
function notationOf(path: PathVertex[], { asked }: FoundLight): string {
  const letters = path.flatMap(({ lobe }) => (lobe === null ? [] : [lobe === 'diffuse' ? 'D' : lobe === 'volume' ? 'V' : 'S'])); // prettier-ignore
  // the surface that asked has no event of its own
  if (asked && path.at(-1)!.lobe === null) letters.push('D');
  return `L${letters.reverse().join('')}E`.replace(/(S)\1+/g, '$1+');
}
