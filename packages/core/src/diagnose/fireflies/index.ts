import type { DiagnosisModule } from '../contract.ts';
import { diagnoseFireflies } from './diagnoseFireflies.ts';
import { findFireflies } from './findFireflies.ts';
import { DIAGNOSED_LAYERS } from './fireflyDefaults.ts';
import { meanOf } from './regionMean.ts';

export { confirmFireflies } from './confirmFireflies.ts';
export { countFireflies } from './countFireflies.ts';
export { repairFrame, REPAIRED, type Repaired } from './repairFrame.ts';
export { findFireflies, type Firefly } from './findFireflies.ts';
export { FIREFLY_DEFAULTS, FIREFLY_LAYERS, HIDDEN_FIREFLIES, RARE, type FireflyOptions } from './fireflyDefaults.ts';

/** Which pixels, which paths made them, and what each cure leaves and costs. */
export const firefliesModule: DiagnosisModule = {
  kind: 'fireflies',
  title: 'Fireflies and the paths that made them',
  version: 7,
  requires: {
    layers: DIAGNOSED_LAYERS,
    scene: 'used',
    limit: true,
  },
  asks: null,
  diagnose: diagnoseFireflies,
  measure: (picture, region) => ({
    fireflies: findFireflies(picture, region).length,
    luminance: meanOf(picture, region).value,
  }),
};
