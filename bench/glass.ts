// The interface map and the checks of the glass: no render is needed for either.
import { glassFaults, interfaceMap } from '@dusting/core/diagnose';
import { compileScene, frameOf } from '@dusting/core/render';
import { importShot, type ImportFile } from '@dusting/core/scene';
import { buildLh010, buildLh060 } from '@dusting/demo';
import { line } from './measure.ts';

export async function benchGlass(): Promise<void> {
  for (const [name, build, size] of [
    ['LH-010', buildLh010, { width: 400, height: 225 }],
    ['LH-010', buildLh010, { width: 1280, height: 720 }],
    ['LH-060', buildLh060, { width: 400, height: 225 }],
  ] as [string, () => Promise<ImportFile[]>, { width: number; height: number }][]) {
    const { blobs, document } = await importShot(await build());
    const settings = { ...document.final, ...size };
    const scene = compileScene(document, settings, (id) => blobs.get(id)!.bytes);
    let started = performance.now();
    const map = await interfaceMap(scene, settings, frameOf(settings));
    const walked = performance.now() - started;
    started = performance.now();
    const { faults } = glassFaults({ scene, document, map });
    const checked = performance.now() - started;
    const label = `${name}, ${size.width} x ${size.height}`;
    line(
      `${label}: interface map : 5 s`,
      walked / 5000,
      `${(walked / 1000).toFixed(2)} s, one thread, ${map.glass} glass pixels`,
    );
    line(
      `${label}: checks of bodies, surfaces, textures : 300 ms`,
      checked / 300,
      `${checked.toFixed(0)} ms, ${faults.length} faults`,
    );
  }
}
