// Soft edges of shadows over the size of their light, and the noise in them.
import { pixelNoise, type Region } from '../../image/index.ts';
import { CAMERA, ShadowProbe, type CompiledScene } from '../../render/index.ts';
import { lightSize, penumbra, type Light, type RenderSettings } from '../../scene/index.ts';
import { number, text, type TableEvidence } from '../evidence.ts';
import type { Rehearsal } from '../rehearsal/rehearse.ts';
import { formatNumber } from '../units.ts';
import type { LightAnswer } from './lightChain.ts';
import { lookAtMiddle } from './middlePlace.ts';
import { words } from './words.ts';

/** Sizes that are listed, as shares of the present one. */
const SIZES = [1, 1 / 2, 1 / 4, 0];
/** A place lies in a shadow where it takes this share of the light. Common practice, no source. */
const SHADED = 0.02;

export interface SoftEdge {
  /** Of the light, as a share of its present size. */
  size: number;
  /** Metres, and pixels of the picture in the middle of the region. */
  width: number;
  pixels: number;
}

/**
 * Widths by similar triangles (penumbra.ts), from the mean distances of what throws the shadow.
 * @param pixel size of a pixel at the shadow, metres
 */
export function softEdges(
  { light, toBlocker, toLight }: Pick<LightAnswer, 'light' | 'toBlocker' | 'toLight'>,
  pixel: number,
): SoftEdge[] {
  const now = penumbra(light, Math.max(toLight, 1e-6), toBlocker);
  return SIZES.map((size) => ({ size, width: size * now, pixels: (size * now) / pixel }));
}

/**
 * Noise in the middle of a soft edge, where half of the rays to the light are stopped: the binomial law, p (1 - p) / n at 1/2.
 * @param kept luminance that the shadow keeps away @param left what else is there @param rays to the light
 * @returns L* at the shadow check; evenly spread rays stay below it
 */
export const edgeNoise = (kept: number, left: number, rays: number, stops: number): number =>
  pixelNoise(left + kept / 2, kept / 2 / Math.sqrt(rays), stops);

/**
 * @param shaded lights whose shadow falls here @param unshaded the region without the shadow of each, and `before` as it is
 * @returns null where none of them has a size
 */
export function softTable(
  shaded: { answer: LightAnswer }[],
  unshaded: Rehearsal[],
  before: Rehearsal,
  region: Region,
  scene: CompiledScene,
  { lightSamples, pixelSamples, ...frame }: RenderSettings,
  { limit, stops }: { limit: number; stops: number },
): TableEvidence | null {
  const sized = shaded.map(({ answer }, i) => ({ answer, without: unshaded[i] })).filter(({ answer }) => softEdges(answer, 1)[0].width > 0); // prettier-ignore
  const probe = new ShadowProbe(scene, { lightSamples, pixelSamples, ...frame });
  if (sized.length === 0 || !lookAtMiddle(probe, region)) return null;
  const pixel = pixelAt(scene, probe);
  return {
    type: 'table',
    id: 'softEdges',
    title: words.softEdges,
    source: words.softSource(pixelSamples * lightSamples, limit),
    columns: words.softColumns,
    rows: sized.flatMap(({ answer, without }) => {
      const { kept, left } = takenBy(before, without);
      const noise = edgeNoise(kept, left, pixelSamples * lightSamples, stops);
      const needed = Math.max(1, Math.ceil(lightSamples * (noise / limit) ** 2));
      return softEdges(answer, pixel).map(({ pixels, size, width }) => [
        text(`${answer.light.name}, ${sizeText(answer.light, size)}`),
        number(width, 'm'),
        number(pixels, 'px'),
        number(size > 0 ? noise : 0, 'L*'),
        number(size > 0 ? needed : 1, 'count'),
      ]);
    }),
  };
}

/** Mean luminance that the shadow of a light keeps away where it falls, and what is left there. */
function takenBy(before: Rehearsal, without: Rehearsal): { kept: number; left: number } {
  const taken = before.tiles.map((left, i) => Math.max(0, without.tiles[i] - left));
  const dark = [...taken.keys()].filter((i) => taken[i] > SHADED * without.tiles[i]);
  const mean = (of: Float64Array) => dark.reduce((sum, i) => sum + of[i], 0) / Math.max(1, dark.length);
  return { kept: mean(taken), left: mean(before.tiles) };
}

const sizeText = (light: Light, by: number) => light.kind === 'sun' ? `${Number((by * (light.angle ?? 0)).toPrecision(3))}°` : formatNumber(by * lightSize(light), 'm'); // prettier-ignore

/** Of a pixel at the place that a probe looks at, metres. */
function pixelAt({ camera }: CompiledScene, { look: { point } }: ShadowProbe): number {
  const depth = [point.px, point.py, point.pz].reduce((sum, v, k) => sum + (v - camera[k]) * camera[CAMERA.forward + k], 0); // prettier-ignore
  return (camera[CAMERA.orthographic] ? 1 : Math.max(depth, 1e-6)) * camera[CAMERA.pixel];
}
