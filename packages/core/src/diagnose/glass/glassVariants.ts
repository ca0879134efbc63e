// Small changes that tell what a mark in glass comes from: what is around it, its refraction, its mesh, or a limit.
import { bendsSharply } from '../../geometry/index.ts';
import { objectMesh, type CompiledScene } from '../../render/index.ts';
import type { Patch, ShotDocument } from '../../scene/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import { DEPTH_KINDS } from '../limits/depthLimits.ts';
import { OPEN_RENDER } from '../limits/openRender.ts';
import { setTo } from '../limits/setTo.ts';
import { setSurface, type SeenBody } from './glassFaults.ts';
import { words } from './words.ts';

/** Degrees. */
const TURN = 40;
/** Bodies that are subdivided once more, those that are seen most, and triangles of one at most. */
const MOST_SMOOTHED = 3;
const MOST_TRIANGLES = 500_000;
const MOST_LEVELS = 8;
/** Edges that bend by more are sharp, degrees. Common practice, no source. */
const SHARP = 40;

export function glassVariants(
  scene: CompiledScene,
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
  // what has sharp edges would become another body
  const finer = bodies.slice(0, MOST_SMOOTHED).flatMap(({ id, object }): Patch => {
    const { mesh, subdivisionLevels } = document.objects[id];
    const tooMany = document.meshes[mesh].triangles * 4 ** (subdivisionLevels + 1) > MOST_TRIANGLES;
    if (tooMany || subdivisionLevels === MOST_LEVELS || bendsSharply(objectMesh(scene, object), SHARP)) return [];
    return [{ op: 'replace', path: `/objects/${id}/subdivisionLevels`, value: subdivisionLevels + 1 }];
  });
  if (finer.length > 0) variants.push({ title: words.variant.mesh, patch: finer });
  // shadow rays that pass glass: plain light is the third way beside none and tinted
  if (clearShadows !== 'plain')
    variants.push({ title: words.variant.plainShadows, patch: [{ op: 'replace', path: `/${use}/clearShadows`, value: 'plain' }] }); // prettier-ignore
  if (environment.picture || environment.gradient)
    variants.unshift({ title: words.variant.environment, patch: [{ op: 'replace', path: '/environment/rotation', value: turned }] }); // prettier-ignore
  return variants;
}
