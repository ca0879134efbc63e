// Shadows that cannot grow dark because what lies in them glows.
import { lightness } from '../../color/index.ts';
import { cropPlane, darkestTenth, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance, SurfaceLook, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import type { ShadowCause } from './shadowCauses.ts';
import { words } from './words.ts';

/** Share of their light from which emission is a floor of it. Common practice, no source. */
const NOTABLE = 0.2;
/** Pixels whose surfaces are asked for. */
const LOOKS = 400;

/** A cause for each surface whose emission makes a fifth of the light of the darkest tenth, the strongest first. */
export function glowingFloor(
  picture: Picture,
  region: Region,
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
): ShadowCause[] {
  const emission = layerLuminance(picture, 'emission');
  const beauty = layerLuminance(picture, 'beauty');
  if (!emission || !beauty) return [];
  const [glow, light] = [emission, beauty].map((plane) => cropPlane(picture, plane, region));
  const darkest = darkestTenth(light);
  const all = darkest.reduce((sum, i) => sum + light[i], 0);
  const look = new SurfaceLook(scene, settings, 0);
  const bySurface = new Map<string, number>();
  const step = Math.ceil(darkest.length / LOOKS);
  for (let k = 0; k < darkest.length; k += step) {
    const i = darkest[k];
    if (glow[i] <= 0 || !look.at(region.x + (i % region.width), region.y + Math.floor(i / region.width))) continue;
    const { surface } = document.objects[scene.objectIds[look.object]];
    // at an edge it is the neighbour that glows
    if (document.surfaces[surface].emission_luminance === 0) continue;
    bySurface.set(surface, (bySurface.get(surface) ?? 0) + step * glow[i]);
  }
  return [...bySurface]
    .map(([id, sum]) => ({ id, share: all > 0 ? sum / all : 0, floor: lightness(sum / darkest.length) }))
    .filter(({ share }) => share >= NOTABLE)
    .sort((a, b) => b.share - a.share)
    .map(({ floor, id, share }): ShadowCause => {
      const { name } = document.surfaces[id];
      return {
        id: `glow:${id}`,
        fault: 'glow',
        title: words.cause.glow(name),
        text: words.glow(name, Math.min(1, share), floor),
        about: [{ type: 'surface', id, name }],
        cure: { title: words.remedy.noGlow(name), patch: [{ op: 'replace', path: `/surfaces/${id}/emission_luminance`, value: 0 }], sideEffect: words.side.noGlow }, // prettier-ignore
      };
    });
}
