// Compiling a scene of half a million triangles anew, and after a change.
import { compileScene, recompileScene } from '@dusting/core/render';
import { patchShot, type Patch, type ShotDocument } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { line, measure, milliseconds } from './measure.ts';
import { pittedShot } from './scenes.ts';

export async function benchCompile(): Promise<void> {
  const { document, blobs } = pittedShot(354, 2);
  const read = (id: string) => blobs.get(id)!;
  const source = (d: ShotDocument) => ({ document: d, settings: d.final });
  const scene = compileScene(document, document.final, read, sharedBuffer);
  const after = (patch: Patch) => {
    const changed = patchShot(document, patch);
    return () => recompileScene(scene, source(document), source(changed), read, sharedBuffer);
  };
  const [anew, moved, surface, light] = await measure([
    () => compileScene(document, document.final, read, sharedBuffer),
    after([{ op: 'replace', path: '/objects/ball-1/transform/3', value: 0.5 }]),
    after([{ op: 'replace', path: '/surfaces/clay/specular_roughness', value: 0.31 }]),
    after([{ op: 'replace', path: '/lights/lamp/exposure', value: 1 }]),
  ]);
  console.log(`\ncompiling ${scene.triangles} triangles: ${milliseconds(anew)}\n`);
  line('anew : after moving an object', anew / moved, milliseconds(moved));
  line('anew : after changing a surface', anew / surface, milliseconds(surface));
  line('anew : after changing a light', anew / light, milliseconds(light));
}
