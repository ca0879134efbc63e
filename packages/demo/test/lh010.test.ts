// The demo file is checked by the Khronos validator (gltf-validator); its faults are measured, not drawn.
import { expect } from 'chai';
import { compileScene, filmStatistics, frameOf, renderHere } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import validator from 'gltf-validator';
import { buildLh010 } from '@dusting/demo';

describe('LH-010', () => {
  it('is a valid glTF file with nothing that is not supported', async () => {
    const files = await buildLh010();
    const report = await validator.validateBytes(files[0].bytes);
    expect(report.issues.numErrors, JSON.stringify(report.issues.messages)).to.equal(0);
    expect((await importShot(files)).unsupported).to.deep.equal([]);
  });

  it('loses light to its total limit, and the limits that are right for three rows bring it back', async () => {
    const { document, blobs } = await importShot(await buildLh010());
    const render = (depth: object) => {
      const settings = {
        ...document.final,
        width: 80,
        height: 45,
        pixelSamples: 4,
        depth: { ...document.final.depth, ...depth },
      };
      const compiled = compileScene(document, settings, (id) => blobs.get(id)!.bytes);
      return filmStatistics(renderHere(compiled, settings, frameOf(settings)), 1);
    };
    const before = render({});
    const higherAlone = render({ transmission: 32 });
    const both = render({ transmission: 32, total: 64 });
    expect(before.cutOff.total / before.meanLuminance).to.be.above(0.05);
    expect(higherAlone.meanLuminance, 'the total limit bites first').to.be.closeTo(before.meanLuminance, 1e-9);
    expect(both.meanLuminance).to.be.above(1.04 * before.meanLuminance);
    expect(both.cutOff.total).to.be.below(0.1 * before.cutOff.total);
  });
});
