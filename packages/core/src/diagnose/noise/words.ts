// All wording of the noise diagnosis.
import { LIGHT_PREFIX } from '../../frames/index.ts';
import type { Component, SplitKind } from '../../render/index.ts';
import { formatEstimate, inL, inSeconds, percent, type Estimate } from '../units.ts';

export const COMPONENT_NAMES: Record<Component, string> = {
  directDiffuse: 'direct diffuse',
  indirectDiffuse: 'indirect diffuse',
  directSpecular: 'direct specular',
  indirectSpecular: 'indirect specular',
  transmission: 'transmission',
  volume: 'volume',
  emission: 'emission',
  background: 'background',
};

/** A part of the light of a frame that another renderer wrote. */
export const partName = (layer: string) =>
  COMPONENT_NAMES[layer as Component] ?? layer.slice(layer.startsWith(LIGHT_PREFIX) ? LIGHT_PREFIX.length : 0);

/** With the range that four in five such renders would measure. */
const measured = (noise: Estimate) => formatEstimate(noise, 'L*');

export const words = {
  clean: (noise: Estimate, limit: number) =>
    `The noise in this region is ${measured(noise)}, within the limit of ${inL(limit)}: nothing needs to be done about it.`,
  oneSample:
    'One sample of each pixel shows no noise: noise is measured by how far the samples of a pixel differ. Render at least 4 pixel samples, better 16, and diagnose again.',
  none: 'This region shows no noise at all: every sample of each pixel gave the same light.',
  finding: (share: number, component: Component, noise: Estimate, limit: number) =>
    `${percent(share)} of the visible noise in this region is ${COMPONENT_NAMES[component]}. It stands at ${measured(noise)}, the limit is ${inL(limit)}.`,
  /** Whose noise it is, where one carries most of it. */
  lies: (surface: string | null, light: string | null) => {
    const parts = [surface && `lies on ${surface}`, light && `comes from ${light}`].filter(Boolean);
    return parts.length > 0 ? ` Most of it ${parts.join(' and ')}.` : '';
  },
  lifts: (lifts: { stops: number; noise: number; clean: boolean }[]) => {
    const clean = lifts.filter((l) => l.clean).at(-1);
    const over = lifts.find((l) => !l.clean);
    const name = (stops: number) => (stops === 0 ? 'as it is' : `at +${stops} stop${stops > 1 ? 's' : ''}`);
    if (!over) return `Clean up to +${lifts.at(-1)!.stops} stops.`;
    if (!clean) return `Not clean even without a lift: ${inL(over.noise)}.`;
    return `Clean ${name(clean.stops)}, not ${name(over.stops)} (${inL(over.noise)}).`;
  },
  outOfFocus: (radius: number) =>
    `It is out of focus: the lens spreads a point here over ${Math.round(2 * radius)} px (computed from depth, median). Noise of the lens falls with the pixel samples; more samples of a component do not cure it.`,
  law: (power: number) =>
    `Noise falls here as the pixel samples to the power of ${power.toFixed(2)}, ${power > 0.5 ? 'faster' : 'slower'} than with their root (0.50).`,
  liftsTitle: 'Noise when the shadows are lifted',
  liftsColumns: ['lift', 'noise', 'limit'],
  byTitle: { light: 'Noise by light', surfaces: 'Noise by surface', objects: 'Noise by object' },
  byColumns: ['', 'share of the noise'],
  byLight: 'measured: variance of the light of each group; what two lights share is in both',
  bySeen: 'measured: variance of each pixel, by what covers it',
  measuredHere: 'measured: standard error of each pixel from the halves of its samples, through the display transform',
  remedy: (title: string, noise: number, meets: boolean, extra: number) =>
    `${title} ${meets ? 'bring it below the limit' : 'bring it down'} to ${inL(noise)}: ${extra >= 0 ? '+' : ''}${inSeconds(extra)} a frame.`,
  splits: (kind: SplitKind, from: number, to: number) =>
    `${(to / from).toFixed(to % from ? 1 : 0)} times the ${kind} samples (${from} to ${to})`,
  pixels: (from: number, to: number) =>
    `${(to / from).toFixed(to % from ? 1 : 0)} times the pixel samples (${from} to ${to})`,
  cause: (component: Component) => words.causePart(COMPONENT_NAMES[component]),
  causePart: (part: string) => `Noise of the ${part}`,
  sharesTitle: 'Share of the visible noise by component',
  sharesSource:
    'measured: variance of each pixel from the halves of its samples, weighted by what the eye sees at the shadow check',
  shared: (covariance: number) =>
    Math.abs(covariance) < 0.005
      ? ''
      : `; what the components share ${covariance > 0 ? 'adds' : 'takes'} ${percent(Math.abs(covariance))}`,
  mapTitle: 'Noise of each tile and its leading component',
  tilesTitle: 'How noisy the tiles are',
  tilesAxis: 'noise of a tile',
  limitMark: 'limit',
  noiseMark: 'reported',
  mapSource: 'measured: halves of the samples of each pixel, root mean square over the tile',
  levelsTitle: 'Where the variance arises',
  levelsSource:
    'measured: what fewer splits of each camera sample would have given; the rest lies between the camera samples',
  levelsColumns: ['samples', 'now', 'share of the noise that more of them take away'],
  notMeasured: 'not measured (1 sample)',
  about: ({ value, low, high }: Estimate) =>
    `about ${inL(value)} (${low.toFixed(1)} to ${high.toFixed(1)}), estimated from the picture alone`,
  cleanAbout: (noise: Estimate, limit: number) =>
    `The noise in this region is ${words.about(noise)}: within the limit of ${inL(limit)}${noise.high > limit ? ', as far as can be estimated' : ''}.`,
  findingAbout: (part: { name: string; share: number } | null, noise: Estimate, limit: number) =>
    `${part ? `About ${percent(part.share)} of the visible noise in this region is ${part.name}. It stands at` : 'The noise in this region is'} ${words.about(noise)}${noise.low < limit ? ', and may be within the limit' : ', above the limit'} of ${inL(limit)}.`,
  samplesAbout: (factor: number, part: string | null) =>
    `About ${factor < 10 ? factor.toFixed(1) : Math.round(factor)} times the samples meet it: noise falls with their root.${part ? ` Begin with those of ${part}.` : ''}`,
  textured: 'Edges and texture may be part of what is counted here.',
  noParts: 'The frame has no layers for the parts of the light, so which of them is noisy cannot be said.',
  sharesAbout: 'estimated from the layers: diagonal detail of each, by its median over 16 x 16 pixels',
  mapAbout: 'estimated from the picture: diagonal detail, by its median over 16 x 16 pixels',
  partsTitle: 'Parts of the light',
  partsColumns: ['part', 'share of the noise', 'mean light', 'noise of a pixel'],
  splitSide: 'Only this component gets cleaner; edges and fine detail stay as they are.',
  pixelSide: 'All components and the edges get cleaner.',
};
