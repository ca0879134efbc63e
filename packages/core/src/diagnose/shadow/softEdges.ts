// Soft edges of shadows over the size of their light, and the noise in them.
import { cropPlane, pixelNoise, type Picture, type Region } from '../../image/index.ts';
import { CAMERA, layerLuminance, ShadowProbe, type CompiledScene } from '../../render/index.ts';
import { lightSize, penumbra, type Light, type RenderSettings } from '../../scene/index.ts';
import { number, text, type TableEvidence } from '../evidence.ts';
import { formatNumber } from '../units.ts';
import type { LightAnswer } from './lightChain.ts';
import { lookAtMiddle } from './middlePlace.ts';
import { words } from './words.ts';

/** Sizes that are listed, as shares of the present one. */
const SIZES = [1, 1 / 2, 1 / 4, 0];

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

/** @param answers of lights whose shadow falls here @returns null where none of them has a size */
export function softTable(
  answers: LightAnswer[],
  picture: Picture,
  region: Region,
  scene: CompiledScene,
  settings: RenderSettings,
  { limit, stops }: { limit: number; stops: number },
): TableEvidence | null {
  const sized = answers.filter((answer) => softEdges(answer, 1)[0].width > 0);
  const probe = new ShadowProbe(scene, settings);
  if (sized.length === 0 || !lookAtMiddle(probe, region)) return null;
  const pixel = pixelAt(scene, probe);
  const [beauty, shadow] = ['beauty', 'shadow'].map((layer) => {
    const plane = layerLuminance(picture, layer);
    return plane && cropPlane(picture, plane, region);
  });
  const { lightSamples, pixelSamples } = settings;
  const noiseOf = (rays: number) => {
    if (!beauty || !shadow) return null;
    const dark = [...shadow.keys()].filter((i) => shadow[i] > beauty[i] / 50);
    const mean = (of: Float32Array) => dark.reduce((sum, i) => sum + of[i], 0) / dark.length;
    return dark.length > 0 ? edgeNoise(mean(shadow), mean(beauty), rays, stops) : null;
  };
  const noise = noiseOf(pixelSamples * lightSamples);
  const needed = noise && Math.max(1, Math.ceil(lightSamples * (noise / limit) ** 2));
  return {
    type: 'table',
    id: 'softEdges',
    title: words.softEdges,
    source: words.softSource(pixelSamples * lightSamples, limit),
    columns: words.softColumns,
    rows: sized.flatMap((answer) =>
      softEdges(answer, pixel).map(({ pixels, size, width }) => [
        text(`${answer.light.name}, ${sizeText(answer.light, size)}`),
        number(width, 'm'),
        number(pixels, 'px'),
        noise === null ? text('') : number(size > 0 ? noise : 0, 'L*'),
        needed === null ? text('') : number(size > 0 ? needed : 1, 'count'),
      ]),
    ),
  };
}

const sizeText = (light: Light, by: number) => light.kind === 'sun' ? `${Number((by * (light.angle ?? 0)).toPrecision(3))}°` : formatNumber(by * lightSize(light), 'm'); // prettier-ignore

/** Of a pixel at the place that a probe looks at, metres. */
function pixelAt({ camera }: CompiledScene, { look: { point } }: ShadowProbe): number {
  const depth = [point.px, point.py, point.pz].reduce((sum, v, k) => sum + (v - camera[k]) * camera[CAMERA.forward + k], 0); // prettier-ignore
  return (camera[CAMERA.orthographic] ? 1 : Math.max(depth, 1e-6)) * camera[CAMERA.pixel];
}
