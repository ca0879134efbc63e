import {
  addSamples,
  coarseSettings,
  emptyFilm,
  PathTracer,
  previewPart,
  type CompiledScene,
  type PreviewJob,
  type PreviewPart,
} from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';

/** Traces the jobs of a preview on its thread. */
export class JobTracer {
  private whole: PathTracer | null = null;
  private coarse: PathTracer | null = null;

  /** @param thread number among those that use the scene */
  load(scene: CompiledScene, settings: RenderSettings, thread: number): void {
    this.whole = new PathTracer(scene, settings, thread);
    this.coarse = new PathTracer(scene, coarseSettings(settings), thread);
  }
  render({ coarse, chunk }: PreviewJob): PreviewPart {
    const tracer = coarse ? this.coarse : this.whole;
    if (!tracer) throw new Error('no scene has been loaded on this thread');
    const film = emptyFilm(chunk.region);
    addSamples(tracer, film, chunk.sampleStart, chunk.sampleCount, () => 0);
    return previewPart(film);
  }
}
