// The demo file is checked by the Khronos validator (gltf-validator); its faults are measured, not drawn.
import { expect } from 'chai';
import { diagnoseNoise } from '@dusting/core/diagnose';
import { compileScene, filmNames, FILM, frameOf, proofPicture, renderHere } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import validator from 'gltf-validator';
import { buildLh030 } from '@dusting/demo';

describe('LH-030', () => {
  const small = { width: 64, height: 36, pixelSamples: 8 };
  async function render(occlusion: object = {}) {
    const { document, blobs } = await importShot(await buildLh030());
    const settings = { ...document.final, ...small, occlusion: { ...document.final.occlusion, ...occlusion } };
    const compiled = compileScene(document, settings, (id) => blobs.get(id)!.bytes);
    return { document, settings, film: renderHere(compiled, settings, frameOf(settings)) };
  }
  const open = ({ data }: { data: ArrayLike<number> }) => {
    let [sum, count] = [0, 0];
    for (let at = 0; at < data.length; at += FILM.stride) {
      sum += data[at + FILM.occlusion];
      count += data[at + FILM.surfaceSamples];
    }
    return sum / count;
  };

  it('is a valid glTF file with nothing that is not supported', async () => {
    const files = await buildLh030();
    const report = await validator.validateBytes(files[0].bytes);
    expect(report.issues.numErrors, JSON.stringify(report.issues.messages)).to.equal(0);
    expect((await importShot(files)).unsupported).to.deep.equal([]);
  });

  it('its occlusion is black without a distance, since the room is closed, and is not with one', async () => {
    expect(open((await render()).film)).to.be.below(0.06);
    expect(open((await render({ distance: 0.4 })).film)).to.be.above(0.5);
  });

  it('its noise is that of the walls, and not of the reflections that its samples went to', async () => {
    const { document, film, settings } = await render();
    expect(settings.specularSamples).to.be.above(settings.diffuseSamples);
    const picture = proofPicture(film, settings, filmNames(document));
    const { causes } = diagnoseNoise({ picture, settings, region: frameOf(settings), use: 'final', noise: { limit: 0.1, stops: 1 }, seconds: 1 }); // prettier-ignore
    expect(causes[0].id).to.equal('indirectDiffuse');
    expect(causes[0].share).to.be.above(0.6);
  });

  it('its lights stand apart, each with its own group', async () => {
    const { document } = await importShot(await buildLh030());
    expect(filmNames(document).groups).to.deep.equal(['light from the window', 'environment']);
  });
});
