// The demo file is checked by the Khronos validator (gltf-validator); its faults are measured, not drawn.
import { expect } from 'chai';
import { findFireflies } from '@dusting/core/diagnose';
import { compileScene, filmNames, filmStatistics, frameOf, proofPicture, renderHere } from '@dusting/core/render';
import { importShot, type RenderSettings } from '@dusting/core/scene';
import validator from 'gltf-validator';
import { buildLh020 } from '@dusting/demo';

describe('LH-020', () => {
  it('is a valid glTF file with nothing that is not supported', async () => {
    const files = await buildLh020();
    const report = await validator.validateBytes(files[0].bytes);
    expect(report.issues.numErrors, JSON.stringify(report.issues.messages)).to.equal(0);
    expect((await importShot(files)).unsupported).to.deep.equal([]);
  });

  it('is full of fireflies, its clamp takes most of the light, and shadow rays through the chimney cure it', async () => {
    const { document, blobs } = await importShot(await buildLh020());
    const render = (change: Partial<RenderSettings>) => {
      const settings = { ...document.final, width: 120, height: 68, pixelSamples: 16, ...change };
      const compiled = compileScene(document, settings, (id) => blobs.get(id)!.bytes);
      const film = renderHere(compiled, settings, frameOf(settings));
      const picture = proofPicture(film, settings, filmNames(document));
      const { cutOff, meanLuminance } = filmStatistics(film, 1);
      return { fireflies: findFireflies(picture, frameOf(settings)).length, cutOff, meanLuminance };
    };
    const [now, cured] = [render({}), render({ clearShadows: 'tinted' })];
    expect(now.fireflies).to.be.above(40);
    expect(now.cutOff.clamp).to.be.above(2 * now.meanLuminance);
    expect(cured.fireflies).to.be.below(0.5 * now.fireflies);
    expect(cured.meanLuminance).to.be.above(3 * now.meanLuminance);
  });
});
