// What every part of the shadow diagnosis works on: the answers of the lights in a region, and renders of it with one thing changed.
import type { Region } from '../../image/index.ts';
import type { CompiledScene } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import type { DiagnosisContext, SceneAccess } from '../contract.ts';
import { rehearse, rehearsing, type Rehearsal } from '../rehearsal/rehearse.ts';
import type { SmallFrame } from '../rehearsal/smallFrame.ts';
import type { Remedy } from '../remedy.ts';
import type { LightChain } from './lightChain.ts';

export interface ShadowCase {
  context: DiagnosisContext;
  region: Region;
  scene: SceneAccess;
  compiled: CompiledScene;
  document: ShotDocument;
  chain: LightChain;
  small: SmallFrame;
}
export type Wish = Pick<Remedy, 'title' | 'patch'>;

/** Renders the region with each change, one after the other. @param from, to share of the whole work, 0..1 */
export async function tryAll(
  { context, scene, small }: ShadowCase,
  wishes: Wish[],
  from: number,
  to: number,
): Promise<Rehearsal[]> {
  const all: Rehearsal[] = [];
  for (const wish of wishes) {
    context.report(from + ((to - from) * all.length) / wishes.length, rehearsing(wish.title));
    all.push(await rehearse(context, scene, small, wish));
  }
  return all;
}
