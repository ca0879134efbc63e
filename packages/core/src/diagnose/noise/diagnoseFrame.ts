// Which part of the light carries the noise of a frame that another renderer wrote, as far as its pixels say.
import { LIGHT_PREFIX, LIGHT_ROLES } from '../../frames/index.ts';
import { cropPlane, listLayers } from '../../image/index.ts';
import { COMPONENTS, layerLuminance, type Component } from '../../render/index.ts';
import type { Diagnosis, DiagnosisContext } from '../contract.ts';
import { number, text } from '../evidence.ts';
import { estimateNoise, varianceOf } from './estimateNoise.ts';
import { eyeWeight, weightedSum } from '../../predict/index.ts';
import { noiseMap } from './noiseMap.ts';
import { partName, words } from './words.ts';

/** Layers that hold direct and indirect light together are shown as the one of them that is noisier as a rule. */
const SHOWN_AS: Record<string, Component> = { diffuse: 'indirectDiffuse', specular: 'indirectSpecular' };
/** So far may the mean be above the median before texture is spoken of. */
const TEXTURED = 1.5;

type Input = Pick<DiagnosisContext, 'picture' | 'region' | 'noise' | 'seconds'>;

/** There is no scene, so nothing can be tried: what helps is said, and no remedy is offered. */
export function diagnoseFrame({
  picture,
  region: asked,
  noise: { limit: noiseLimit, stops },
  seconds,
}: Input): Diagnosis {
  const noise = estimateNoise(picture, asked, stops);
  const { region, luminance, variance } = noise;
  const weight = eyeWeight(luminance, variance, stops);
  const parts = [...listLayers(picture).keys()]
    .filter((layer) => (LIGHT_ROLES as readonly string[]).includes(layer) || layer.startsWith(LIGHT_PREFIX))
    .flatMap((layer) => {
      const plane = layerLuminance(picture, layer);
      if (!plane) return [];
      const own = varianceOf(picture, plane, region).variance;
      const light = cropPlane(picture, plane, region);
      const component = SHOWN_AS[layer] ?? (COMPONENTS.find((c) => c === layer) || null);
      return [{ name: partName(layer), component, variance: own, light, visible: weightedSum(own, weight) }];
    });
  const total = parts.reduce((sum, p) => sum + p.visible, 0);
  const ranked = parts
    .map((p) => ({ ...p, share: total > 0 ? p.visible / total : 0 }))
    .filter(({ share }) => share > 0.0005)
    .sort((a, b) => b.share - a.share);
  const [leading] = ranked;
  const sentences: string[] = [];
  if (noise.value <= noiseLimit) sentences.push(words.cleanAbout(noise, noiseLimit));
  else {
    sentences.push(words.findingAbout(leading ?? null, noise, noiseLimit));
    sentences.push(words.samplesAbout((noise.value / noiseLimit) ** 2, leading?.name ?? null));
  }
  if (noise.high > TEXTURED * noise.value) sentences.push(words.textured);
  if (parts.length === 0) sentences.push(words.noParts);
  const mean = (values: Float32Array) => values.reduce((sum, v) => sum + v, 0) / values.length;
  return {
    kind: 'noise',
    region,
    summary: sentences.join(' '),
    evidence: [
      {
        type: 'bars',
        id: 'shares',
        title: words.sharesTitle,
        unit: 'share',
        source: words.sharesAbout,
        bars: ranked.map(({ name, component, share }) => ({
          label: name,
          value: share,
          colour: component ?? undefined,
        })),
      },
      noiseMap(region, variance, weight, parts, words.mapAbout),
      {
        type: 'table',
        id: 'parts',
        title: words.partsTitle,
        source: words.sharesAbout,
        columns: words.partsColumns,
        rows: ranked.map((p) => [text(p.name), number(p.share, 'share'), number(mean(p.light)), number(Math.sqrt(mean(p.variance)))]), // prettier-ignore
      },
    ],
    causes: ranked.map(({ component, name, share }) => ({
      id: component ?? name,
      title: words.causePart(name),
      share,
      about: [],
      evidence: ['shares', 'map', 'parts'],
    })),
    remedies: [],
    measured: { noise: noise.value, noiseLow: noise.low, noiseHigh: noise.high, noiseLimit, seconds },
  };
}
