// All wording of the noise diagnosis.
import type { Component, SplitLobe } from '../../render/index.ts';

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

export const percent = (share: number) => `${Math.round(share * 100)} %`;
export const inL = (noise: number) => `${noise.toFixed(noise < 0.1 ? 2 : 1)} L*`;
export const inSeconds = (seconds: number) =>
  seconds < 10
    ? `${seconds.toFixed(1)} s`
    : seconds < 120
      ? `${Math.round(seconds)} s`
      : `${(seconds / 60).toFixed(1)} min`;

export const words = {
  clean: (noise: number, limit: number) =>
    `The noise in this region is ${inL(noise)}, within the limit of ${inL(limit)}: nothing needs to be done about it.`,
  none: 'This region shows no noise at all: every sample of each pixel gave the same light.',
  finding: (share: number, component: Component, noise: number, limit: number) =>
    `${percent(share)} of the visible noise in this region is ${COMPONENT_NAMES[component]}. It stands at ${inL(noise)}, the limit is ${inL(limit)}.`,
  remedy: (title: string, noise: number, meets: boolean, extra: number) =>
    `${title} ${meets ? 'bring it below the limit' : 'bring it down'} to ${inL(noise)}: ${extra >= 0 ? '+' : ''}${inSeconds(extra)} a frame.`,
  splits: (lobe: SplitLobe, from: number, to: number) =>
    `${(to / from).toFixed(to % from ? 1 : 0)} times the ${lobe} samples (${from} to ${to})`,
  pixels: (from: number, to: number) =>
    `${(to / from).toFixed(to % from ? 1 : 0)} times the pixel samples (${from} to ${to})`,
  cause: (component: Component) => `Noise of the ${COMPONENT_NAMES[component]}`,
  sharesTitle: 'Share of the visible noise by component',
  sharesSource: 'measured: variance of the camera samples, weighted by what the eye sees at the shadow check',
  mapTitle: 'Noise of each tile and its leading component',
  mapSource: 'measured: standard error of each pixel, root mean square over the tile',
  levelsTitle: 'Where the variance arises',
  levelsSource: 'measured: variance within the splits of each camera sample (two-stage sampling)',
  levelsColumns: ['component', 'share', 'within its samples', 'between pixel samples'],
  notMeasured: 'not measured (1 sample)',
  splitSide: 'Only this component gets cleaner; edges and fine detail stay as they are.',
  pixelSide: 'All components and the edges get cleaner.',
};
