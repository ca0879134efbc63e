// Occlusion: the time of the sketch and of everything computed from it, and how much less noise evenly spread rays leave than
// the binomial law of random ones says, from renders with two seeds. And the chain of tests of the shadow diagnosis.
import { chooseDistance, dialLayer, layerOf, lightChain, noiseOf, occlusionSketch } from '@dusting/core/diagnose';
import {
  compileScene,
  filmNames,
  frameOf,
  lightnessSlope,
  proofPicture,
  renderHere,
  type FilmExtra,
} from '@dusting/core/render';
import { findChannel } from '@dusting/core/image';
import { importShot, type RenderSettings } from '@dusting/core/scene';
import { buildLh030, buildLh050 } from '@dusting/demo';
import { line, measure, milliseconds } from './measure.ts';

const NO_LIGHT = { diffuse: 0, specular: 0, transmission: 0, volume: 0, total: 0 };
/** Below it the slope of L* is that of chance. */
const DARKEST = 0.01;

export async function benchOcclusion(): Promise<void> {
  const { blobs, document } = await importShot(await buildLh030());
  const readBlob = (id: string) => blobs.get(id)!.bytes;
  const large = { ...document.final, width: 1280, height: 720 };
  const scene = compileScene(document, large, readBlob);
  let started = performance.now();
  const sketch = await occlusionSketch(scene, large, frameOf(large));
  const traced = performance.now() - started;
  line('LH-030, 1280 x 720: the sketch : 5 s', traced / 5000, `${(traced / 1000).toFixed(2)} s, one thread, ${sketch.seen.length} looks of ${sketch.rays} rays`); // prettier-ignore
  started = performance.now();
  layerOf(sketch, { distance: 0.8, falloff: 0, clearSurfaces: true });
  const layer = performance.now() - started;
  line('the layer of one distance from it : 50 ms', layer / 50, `${layer.toFixed(1)} ms`);
  started = performance.now();
  chooseDistance(sketch, { falloff: 0, clearSurfaces: true });
  const chosen = performance.now() - started;
  line('the choice of a distance : 300 ms', chosen / 300, `${chosen.toFixed(0)} ms`);

  const render = (settings: RenderSettings, extras: FilmExtra[] = []) => renderHere(compileScene(document, settings, readBlob), settings, frameOf(settings), undefined, extras); // prettier-ignore
  const hits = Array.from({ length: 16 }, (_, i) => 0.02 * 1.45 ** i);
  for (const falloff of [0, 1]) {
    const occlusion = { ...document.final.occlusion, distance: hits.at(-1)!, falloff, samples: 16 };
    const clay = { ...document.final, clay: true, width: 160, height: 90, pixelSamples: 8, occlusion };
    const [plain, counted] = await measure([() => render(clay), () => render(clay, [{ hits }])]);
    line(`occlusion alone, falloff ${falloff}: with hit distances of every pixel : without (1.25)`, counted / plain, `${milliseconds(counted)} : ${milliseconds(plain)}`); // prettier-ignore
  }
  const [width, height] = [1280, 720];
  const shares = Uint8Array.from({ length: 4 * 16 * width * height }, (_, i) => (i * 7) & 255);
  const dial = { width, height, values: hits, cones: [30, 45, 60, 90], clear: [true] };
  const dragged = [{ falloff: 0, cone: 90 }, { falloff: 1.5, cone: 90 }, { falloff: 1.5, cone: 50 }]; // prettier-ignore
  for (const place of dragged) {
    const [took] = await measure([() => void dialLayer(dial, shares, { ...place, distance: 0.83, clear: true })]);
    line(`the dial at 1280 x 720, falloff ${place.falloff}, cone ${place.cone}: one picture : 50 ms`, took / 0.05, milliseconds(took)); // prettier-ignore
  }
  for (const clearSurfaces of [true, false]) {
    const whole = { ...document.final, width: 160, height: 90, pixelSamples: 8, occlusion: { ...document.final.occlusion, clearSurfaces } }; // prettier-ignore
    const [all, alone] = await measure([() => render(whole), () => render({ ...whole, clay: true })]);
    line(`whole proof : occlusion alone${clearSurfaces ? '' : ', through clear surfaces'} (5)`, all / alone, `${milliseconds(all)} : ${milliseconds(alone)}`); // prettier-ignore
  }

  for (const [pixelSamples, samples] of [
    [4, 1],
    [4, 4],
    [16, 1],
    [16, 4],
  ]) {
    // prettier-ignore
    const occlusion = { samples, distance: 0.8, falloff: 0, cone: 90, clearSurfaces: true };
    const settings: RenderSettings = { ...document.final, width: 64, height: 36, pixelSamples, depth: NO_LIGHT, occlusion, filter: { kind: 'box', width: 1 } }; // prettier-ignore
    const planes = [1, 2].map((seed) => {
      const own = { ...settings, seed };
      const film = renderHere(compileScene(document, own, readBlob), own, frameOf(own));
      return findChannel(proofPicture(film, own, filmNames(document)), 'occlusion', 'Y')!.data;
    });
    const small = await occlusionSketch(compileScene(document, settings, readBlob), settings, frameOf(settings));
    const mean = layerOf(small, occlusion);
    const random = noiseOf(small, mean, occlusion, pixelSamples * samples);
    let [found, law] = [0, 0];
    for (const look of small.seen) {
      found +=
        (((planes[0][look] - planes[1][look]) / Math.SQRT2) * lightnessSlope(Math.max(DARKEST, mean[look]))) ** 2;
      law += random[look] ** 2;
    }
    const [real, binomial] = [found, law].map((sum) => Math.sqrt(sum / small.seen.length));
    line(`${pixelSamples} samples of ${samples} rays, 0.8 m: noise : binomial law`, real / binomial, `${real.toFixed(2)} of ${binomial.toFixed(2)} L*`); // prettier-ignore
  }

  const yard = await importShot(await buildLh050());
  const compiled = compileScene(yard.document, yard.document.final, (id) => yard.blobs.get(id)!.bytes);
  started = performance.now();
  const { places } = await lightChain(compiled, yard.document, yard.document.final, frameOf(yard.document.final));
  const asked = performance.now() - started;
  line(
    'LH-050: the chain of both suns over the frame : 300 ms',
    asked / 300,
    `${asked.toFixed(0)} ms, ${places} places`,
  );
}
