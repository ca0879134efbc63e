import { compileBeside, compileScene, type CompiledScene, type FilmExtra } from '@dusting/core/render';
import { blobsOf, patchShot, type RenderSettings, type ShotDocument } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { collectGarbage } from '@dusting/threads';
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

const MOST_SCENES = 2;

/** Compiles the scenes of proofs, and keeps the last few so that a chunk finds its scene ready. */
export class SceneLoader {
  private readonly scenes = new Map<number, Promise<LoadedScene>>();
  /** Of the scene that was compiled last: the next one is often the same but for a setting, and takes over what it can. */
  private latest: { loaded: LoadedScene; blobs: Map<string, Uint8Array> } | null = null;
  constructor(private readonly db: Database) {}

  load(proof: Proof): Promise<LoadedScene> {
    let loading = this.scenes.get(proof.id);
    if (!loading) {
      loading = this.compile(proof);
      this.scenes.set(proof.id, loading);
      loading.catch(() => this.scenes.delete(proof.id));
      if (this.scenes.size > MOST_SCENES) {
        this.scenes.delete(this.scenes.keys().next().value!);
        // the buffers of the scene that was let go make room for those of the next
        void loading.then(() => collectGarbage(), () => {}); // prettier-ignore
      }
    }
    return loading;
  }

  private async compile(proof: Proof): Promise<LoadedScene> {
    const document = patchShot(await getRevision(this.db, proof.shot, proof.revision), proof.patch);
    const { latest } = this;
    const blobs = new Map<string, Uint8Array>();
    for (const id of blobsOf(document)) blobs.set(id, latest?.blobs.get(id) ?? (await loadBlob(this.db, id)));
    const started = performance.now();
    const { settings } = proof;
    const source = { document, settings };
    const read = (id: string) => blobs.get(id)!;
    const isAlike = latest !== null && [...blobs.keys()].some((id) => latest.blobs.has(id));
    const scene = isAlike
      ? compileBeside(latest.loaded.scene, latest.loaded, source, read, sharedBuffer)
      : compileScene(document, settings, read, sharedBuffer);
    const seconds = (performance.now() - started) / 1000;
    const loaded = { key: `proof-${proof.id}`, document, scene, settings, extras: proof.extras, seconds };
    this.latest = { loaded, blobs };
    return loaded;
  }
}
