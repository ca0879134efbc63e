// The weighing bench shows its four faults, and the jars their own, to the checks of the glass diagnosis.
import { expect } from 'chai';
import { interfaceMap, glassFaults, type GlassFault } from '@dusting/core/diagnose';
import { compileScene, frameOf } from '@dusting/core/render';
import { importShot, type ImportFile } from '@dusting/core/scene';
import validator from 'gltf-validator';
import { buildLh010, buildLh060 } from '@dusting/demo';

async function faultsOf(files: ImportFile[]): Promise<GlassFault[]> {
  const { blobs, document } = await importShot(files);
  const settings = { ...document.final, width: 120, height: 68 };
  const scene = compileScene(document, settings, (id) => blobs.get(id)!.bytes);
  const map = await interfaceMap(scene, settings, frameOf(settings));
  return glassFaults({ scene, document, map }).faults;
}
const ids = (faults: GlassFault[]) => faults.map(({ id }) => id);

describe('glass of the demo', () => {
  it('LH-060 is a valid glTF file with nothing that is not supported', async () => {
    const files = await buildLh060();
    const report = await validator.validateBytes(files[0].bytes);
    expect(report.issues.numErrors, JSON.stringify(report.issues.messages)).to.equal(0);
    expect((await importShot(files)).unsupported).to.deep.equal([]);
  });

  it('LH-060: a gradient as opacity, a tint that is black at its foot, a mapping turned over, an index near 1', async () => {
    const faults = await faultsOf(await buildLh060());
    expect(ids(faults)).to.have.members(['nearIndex:hood', 'blackMap:umber-glass', 'opacityMap:cover-glass', 'mapping:bottle-2']); // prettier-ignore
    expect(faults.every(({ cure }) => cure !== null)).to.equal(true);
  });

  it('LH-010: one jar inside out, and air between honey and jar', async () => {
    const faults = await faultsOf(await buildLh010());
    expect(ids(faults)).to.include.members(['reversed:jar-4', 'gap:jar-glass:clear-honey', 'gap:jar-glass:set-honey']);
    expect(faults.filter(({ severity }) => severity === 'error')).to.have.length(1);
  });
});
