import { transfer } from 'comlink';
import type { CompiledScene, PreviewJob, PreviewPart } from '@dusting/core/render';
import type { RenderSettings } from '@dusting/core/scene';
import { JobTracer } from './jobTracer.ts';

/** What a worker offers that traces jobs for a stage: to be exposed. */
export function tracerApi() {
  const tracer = new JobTracer();
  return {
    load(scene: CompiledScene, settings: RenderSettings, thread: number): void {
      tracer.load(scene, settings, thread);
    },
    render(job: PreviewJob): PreviewPart {
      const part = tracer.render(job);
      return transfer(part, [part.data.buffer as ArrayBuffer]);
    },
  };
}
export type TracerApi = ReturnType<typeof tracerApi>;
