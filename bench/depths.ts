// What deeper limits take: predicted from a render with open limits that kept account of its paths, against what they took.
import { compileScene, frameOf, renderHere, filmStatistics, type CompiledScene } from '@dusting/core/render';
import { importShot, type ImportFile, type RenderSettings } from '@dusting/core/scene';
import { buildLh010, buildLh030 } from '@dusting/demo';
import { CUT_OFF_DEFAULTS } from '../packages/core/src/diagnose/cutOff/cutOffDefaults.ts';
import { OPEN_RENDER } from '../packages/core/src/diagnose/limits/openRender.ts';
import { limitsThatKeep, within, type Depths } from '../packages/core/src/diagnose/limits/depthLimits.ts';
import { line, measure } from './measure.ts';

/** Parts of the frame, as shares of it: glass before glass, walls, what stands on them. */
const PARTS: Record<string, number[][]> = {
  'LH-010': [[0.3, 0.42, 0.15, 0.32], [0.55, 0.45, 0.14, 0.3], [0, 0.6, 0.3, 0.3], [0, 0, 1, 1]], // prettier-ignore
  'LH-030': [
    [0.1, 0.1, 0.3, 0.3],
    [0.4, 0.5, 0.3, 0.3],
    [0, 0, 1, 1],
  ],
};
const SIZE = { width: 160, height: 90 };

export async function benchDepths(): Promise<void> {
  for (const [name, build] of [
    ['LH-010', buildLh010],
    ['LH-030', buildLh030],
  ] as [string, () => Promise<ImportFile[]>][]) {
    // prettier-ignore
    const { document, blobs } = await importShot(await build());
    const base: RenderSettings = { ...document.final, ...SIZE, pixelSamples: 8 };
    const open = OPEN_RENDER.depth;
    const all: Depths = { diffuse: open, specular: open, transmission: open, volume: open, total: open };
    const compiled = (settings: RenderSettings) => compileScene(document, settings, (id) => blobs.get(id)!.bytes);
    const scene: CompiledScene = compiled(base);
    for (const [x, y, w, h] of PARTS[name]) {
      const { height, width } = frameOf(base);
      const region = { x: Math.round(x * width), y: Math.round(y * height), width: Math.round(w * width), height: Math.round(h * height) }; // prettier-ignore
      const rows = filmStatistics(renderHere(scene, { ...base, depth: all }, region, undefined, ['paths']), 1).paths!
        .depths;
      for (const keep of CUT_OFF_DEFAULTS.keep) {
        const depth = limitsThatKeep(rows, base.depth, keep);
        const growth = within(rows, depth).rays / within(rows, base.depth).rays;
        if (growth < 1.02) continue;
        const render = (settings: RenderSettings) => () => renderHere(scene, settings, region);
        const [before, after] = await measure([render(base), render({ ...base, depth })]);
        line(`${name} ${region.width} x ${region.height} at ${region.x}, ${region.y}, ${keep * 100} % kept`, (after / before - 1) / (growth - 1), `time grew to ${(after / before).toFixed(2)}, predicted ${growth.toFixed(2)}`); // prettier-ignore
      }
    }
  }
}
