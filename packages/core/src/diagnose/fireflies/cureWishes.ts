// Cures that no sum can predict: each is a patch that has to be tried.
import type { CompiledScene } from '../../render/index.ts';
import type { Patch } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import type { Explained } from './clusters.ts';
import { reachThatLeaves } from './emissionReach.ts';
import { standInCure } from './standInCure.ts';
import { sunCure } from './sunCure.ts';
import { words } from './words.ts';

export interface CureWish {
  id: string;
  title: string;
  patch: Patch;
  sideEffect: string;
}

/** A cause is worth a cure from this share of the fireflies on; a cure should leave no more than this share. Common practice, no source. */
export const WORTH = 0.05;
/** A small floor can make more fireflies of a sharp caustic, so a large one is tried as well. */
const FLOORS = [0.3, 0.6];

/** Groups of samples that tell outliers, and samples that each should have. No source. */
const GROUPS = [15, 9, 5];
const LEAST_IN_GROUP = 3;

const replace = (path: string, value: string | number) => ({ op: 'replace' as const, path, value });

export async function cureWishes(
  { pause, settings, use }: DiagnosisContext,
  { document }: SceneAccess,
  scene: CompiledScene,
  explained: Explained[],
): Promise<CureWish[]> {
  const share = (of: (one: Explained) => boolean) => explained.filter(of).length / explained.length;
  const wishes: CureWish[] = [];
  const seeThrough = settings.clearShadows === 'off' ? [replace(`/${use}/clearShadows`, 'tinted')] : [];
  const behindGlass = share(({ story }) => story.cause === 'behindGlass') > WORTH;
  if (behindGlass && seeThrough.length > 0)
    wishes.push({ id: 'clearShadows', title: words.clearShadows, patch: seeThrough, sideEffect: words.clearShadowsSide }); // prettier-ignore
  const emitter = busiestEmitter(explained);
  const isWorth = emitter !== null && share(({ story }) => story.emitter === emitter) > WORTH;
  if (isWorth) {
    const { name } = document.objects[emitter];
    const cure = await standInCure(scene, document, settings, emitter, pause);
    if (cure) {
      const through = behindGlass && seeThrough.length > 0;
      wishes.push({
        id: 'standIn',
        title: words.standIn(name, through),
        patch: [...cure.patch, ...(through ? seeThrough : [])],
        sideEffect: words.standInSide(cure.least, cure.most, cure.doubt),
      });
    }
  }
  if (share(({ path }) => path.light.light === 'environment' && !path.light.asked) > WORTH) {
    const cure = sunCure(scene, document);
    const through = seeThrough.length > 0 && share(({ story }) => story.cause === 'environmentSpot' && story.through.length > 0) > WORTH; // prettier-ignore
    if (cure)
      wishes.push({
        id: 'environmentSun',
        title: words.sun(cure.suns, through),
        patch: [...cure.patch, ...(through ? seeThrough : [])],
        sideEffect: words.sunSide(cure.lost),
      });
  }
  if (share(({ story }) => story.cause === 'caustic') > WORTH)
    for (const floor of FLOORS.filter((f) => f > settings.roughnessFloor))
      wishes.push({ id: `roughnessFloor.${floor}`, title: words.floor(floor), patch: [replace(`/${use}/roughnessFloor`, floor)], sideEffect: words.floorSide }); // prettier-ignore
  // what takes light away comes last
  if (isWorth) {
    const { name, surface } = document.objects[emitter];
    const reach = reachThatLeaves(explained, emitter, WORTH);
    const now = document.surfaces[surface].emission_reach;
    if (reach && (now === 0 || reach < now))
      wishes.push({ id: 'emissionReach', title: words.reach(name, reach), patch: [replace(`/surfaces/${surface}/emission_reach`, reach)], sideEffect: words.reachSide(name) }); // prettier-ignore
  }
  const groups = GROUPS.find((count) => settings.pixelSamples >= LEAST_IN_GROUP * count);
  if (settings.outlierGroups === 0 && groups)
    wishes.push({ id: 'outlierGroups', title: words.outliers(groups), patch: [replace(`/${use}/outlierGroups`, groups)], sideEffect: words.outliersSide }); // prettier-ignore
  return wishes;
}

/** The glowing object that most fireflies come from. */
function busiestEmitter(explained: Explained[]): string | null {
  const counts = new Map<string, number>();
  for (const { story } of explained) if (story.emitter) counts.set(story.emitter, (counts.get(story.emitter) ?? 0) + 1);
  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? null;
}
