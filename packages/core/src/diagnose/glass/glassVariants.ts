// Small changes that tell what a mark in glass comes from: what is around it, its refraction, or a limit.
import type { Patch, ShotDocument } from '../../scene/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import { DEPTH_KINDS } from '../limits/depthLimits.ts';
import { OPEN_RENDER } from '../limits/openRender.ts';
import { setTo } from '../limits/setTo.ts';
import { setSurface, type SeenBody } from './glassFaults.ts';
import { words } from './words.ts';

/** Degrees. */
const TURN = 40;

export function glassVariants(
  document: ShotDocument,
  { settings: { clearShadows }, use }: Pick<DiagnosisContext, 'settings' | 'use'>,
  bodies: SeenBody[],
): { title: string; patch: Patch }[] {
  const { environment } = document;
  const surfaces = new Map(bodies.map(({ surface, surfaceId }) => [surfaceId, surface]));
  const turned = ((environment.rotation + TURN + 540) % 360) - 180;
  const variants: { title: string; patch: Patch }[] = [
    { title: words.variant.refraction, patch: [...surfaces].map(([id, { specular_ior }]) => setSurface(id, 'specular_ior', 1 + (specular_ior - 1) / 2)) }, // prettier-ignore
    { title: words.variant.limits, patch: DEPTH_KINDS.map((kind) => setTo(use, `depth/${kind}`, OPEN_RENDER.depth)) },
  ];
  // shadow rays that pass glass: plain light is the third way beside none and tinted
  if (clearShadows !== 'plain')
    variants.push({ title: words.variant.plainShadows, patch: [{ op: 'replace', path: `/${use}/clearShadows`, value: 'plain' }] }); // prettier-ignore
  if (environment.picture || environment.gradient)
    variants.unshift({ title: words.variant.environment, patch: [{ op: 'replace', path: '/environment/rotation', value: turned }] }); // prettier-ignore
  return variants;
}
