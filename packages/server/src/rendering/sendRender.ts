// A render is sent to the queue: by a user, by a plan, or of a demo shot on the first start.
import type { RenderKind } from '@dusting/core/diagnose';
import { intersectRegions, type Region } from '@dusting/core/image';
import { pilotSettings } from '@dusting/core/plan';
import { checkRenderSize, frameOf, planChunks } from '@dusting/core/render';
import { patchShot, type Patch, type SettingsUse, type ShotDocument } from '@dusting/core/scene';
import { BadRequest } from '../errors.ts';
import type { Database } from '../db/connect.ts';
import { addProof, type Prediction } from '../store/proofStore.ts';

export interface RenderWish {
  kind: RenderKind;
  purpose?: 'pilot';
  use: SettingsUse;
  /** null: the frame. */
  region: Region | null;
  before?: number;
  predicted?: Prediction;
}
interface ShownShot {
  id: number;
  revision: number;
  document: ShotDocument;
  slip: Patch;
}

/** A proof is of the present revision, a trial or a pilot of the slip over it. @returns its id @throws BadRequest, InputError */
export async function sendRender(db: Database, shot: ShownShot, wish: RenderWish): Promise<number> {
  const { before, kind, predicted, purpose, use } = wish;
  const patch = kind === 'proof' ? [] : shot.slip;
  if (kind === 'trial' && patch.length === 0) throw new BadRequest('The change slip is empty: change a setting first.');
  if ((kind === 'diagnostic') !== (purpose !== undefined))
    throw new BadRequest('A diagnostic render has a purpose, and no other render has.');
  const wanted = patchShot(shot.document, patch)[use];
  const settings = purpose === 'pilot' ? pilotSettings(wanted) : wanted;
  const frame = frameOf(settings);
  const region = wish.region ? intersectRegions(wish.region, frame) : frame;
  if (!region) throw new BadRequest('The region lies outside the frame.');
  checkRenderSize(region);
  const render = { shot: shot.id, kind, purpose: purpose ?? null, revision: shot.revision, patch, before: before ?? null, use, settings, region, predicted: predicted ?? null }; // prettier-ignore
  return addProof(db, render, planChunks(region, settings));
}
