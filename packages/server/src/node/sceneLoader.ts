import { compileScene, type CompiledScene, type FilmExtra } from '@dusting/core/render';
import { blobsOf, patchShot, type RenderSettings, type ShotDocument } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import type { Database } from '../db/connect.ts';
import { loadBlob } from '../store/blobStore.ts';
import type { Proof } from '../store/proofStore.ts';
import { getRevision } from '../store/shotStore.ts';

export interface LoadedScene {
  key: string;
  document: ShotDocument;
  scene: CompiledScene;
  settings: RenderSettings;
  extras: FilmExtra[];
  seconds: number;
}

/** Compiles the scenes of proofs, and keeps the last few so that a chunk finds its scene ready. */
export class SceneLoader {
  private readonly scenes = new Map<number, Promise<LoadedScene>>();
  constructor(private readonly db: Database) {}

  load(proof: Proof): Promise<LoadedScene> {
    let loading = this.scenes.get(proof.id);
    if (!loading) {
      loading = this.compile(proof);
      this.scenes.set(proof.id, loading);
      loading.catch(() => this.scenes.delete(proof.id));
      while (this.scenes.size > 2) this.scenes.delete(this.scenes.keys().next().value!);
    }
    return loading;
  }

  private async compile(proof: Proof): Promise<LoadedScene> {
    const document = patchShot(await getRevision(this.db, proof.shot, proof.revision), proof.patch);
    const blobs = new Map<string, Uint8Array>();
    for (const id of blobsOf(document)) blobs.set(id, await loadBlob(this.db, id));
    const started = performance.now();
    const scene = compileScene(document, proof.settings, (id) => blobs.get(id)!, sharedBuffer);
    const seconds = (performance.now() - started) / 1000;
    return { key: `proof-${proof.id}`, document, scene, settings: proof.settings, extras: proof.extras, seconds };
  }
}
