// From an edit to its first picture, on LH-010 at the size of its preview, one thread.
import { DEMO_SHOTS } from '@dusting/demo';
import { coarseSettings, compileScene, frameOf, ProgressiveRender, recompileScene, type CompiledScene } from '@dusting/core/render'; // prettier-ignore
import { importShot, patchShot, type Patch } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { JobTracer } from '@dusting/preview';
import { line, measure, milliseconds } from './measure.ts';

export async function benchPreview(): Promise<void> {
  const { name, build } = DEMO_SHOTS[0];
  const { document, blobs } = await importShot(await build(), name);
  const read = (id: string) => blobs.get(id)!.bytes;
  const settings = document.preview;
  const before = { document, settings };
  const tracer = new JobTracer();
  let scene: CompiledScene = compileScene(document, settings, read, sharedBuffer);
  /** Jobs of the coarse picture, or those of the first sample of every pixel too. */
  const picture = (compiled: CompiledScene, whole: boolean) => {
    tracer.load(compiled, settings, 0);
    const render = new ProgressiveRender(settings, 1);
    for (let job = render.next(); job && (job.coarse || whole); job = render.next())
      render.take(job, tracer.render(job));
    render.picture();
  };
  const edited = (patch: Patch) => {
    const after = { document: patchShot(document, patch), settings };
    return () => picture((scene = recompileScene(scene, before, after, read, sharedBuffer)), false);
  };
  const [anew, whole, surface, light, moved] = await measure([
    () => picture(compileScene(document, settings, read, sharedBuffer), false),
    () => picture(scene, true),
    edited([{ op: 'replace', path: '/surfaces/clear-honey/transmission_depth', value: 0.02 }]),
    edited([{ op: 'replace', path: '/lights/lantern/exposure', value: 1 }]),
    edited([{ op: 'replace', path: '/objects/jar-4/transform/3', value: 0.2 }]),
  ]);
  const { width, height } = coarseSettings(settings);
  const frame = frameOf(settings);
  console.log(`\npreview of ${name}: ${frame.width} x ${frame.height}, coarse ${width} x ${height}\n`);
  line('first sample of every pixel : coarse picture', whole / surface, `${milliseconds(whole)} : ${milliseconds(surface)}`); // prettier-ignore
  line('compiled anew : after a surface', anew / surface, `${milliseconds(anew)} : ${milliseconds(surface)}`);
  line('compiled anew : after a light', anew / light, milliseconds(light));
  line('compiled anew : after a move', anew / moved, milliseconds(moved));
}
