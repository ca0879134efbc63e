// The close-up shows its faults to the displacement diagnosis, each on the object that has it and on no other.
import { expect } from 'chai';
import { DIAGNOSES, explain, type DiagnosisContext } from '@dusting/core/diagnose';
import { decodeMesh } from '@dusting/core/formats';
import type { Region } from '@dusting/core/image';
import { compileScene, filmNames, filmStatistics, frameOf, proofPicture, renderHere } from '@dusting/core/render';
import { importShot, patchShot, type Patch } from '@dusting/core/scene';
import validator from 'gltf-validator';
import { buildLh040 } from '@dusting/demo';

describe('LH-040, comb and skep', function () {
  this.timeout(120_000);

  it('is a valid glTF file with nothing that is not supported', async () => {
    const files = await buildLh040();
    const report = await validator.validateBytes(files[0].bytes);
    expect(report.issues.numErrors, JSON.stringify(report.issues.messages)).to.equal(0);
    expect((await importShot(files)).unsupported).to.deep.equal([]);
  });

  it('its faults on three objects are found, and nothing is left once their remedies are taken', async () => {
    const { blobs, document } = await importShot(await buildLh040());
    // half as wide as the shot: the terraces of the cake are no longer seen
    const small: Patch = [{ op: 'replace', path: '/final/pixelSamples', value: 1 }, { op: 'replace', path: '/final/width', value: 160 }, { op: 'replace', path: '/final/height', value: 90 }]; // prettier-ignore
    const explained = async (patch: Patch) => {
      const shot = patchShot(document, [...small, ...patch]);
      const render = (change: Patch, region?: Region) => {
        const changed = patchShot(shot, change);
        const settings = changed.final;
        const compiled = compileScene(changed, settings, (id) => blobs.get(id)!.bytes);
        const film = renderHere(compiled, settings, region ?? frameOf(settings));
        return { compiled, picture: proofPicture(film, settings, filmNames(changed)), settings, statistics: filmStatistics(film, 1), seconds: 1 }; // prettier-ignore
      };
      const proof = render([]);
      const context: DiagnosisContext = { ...proof, region: frameOf(proof.settings), use: 'final', expected: null, noise: shot.noise, scene: { document: shot, mesh: async (id) => decodeMesh(blobs.get(shot.meshes[id].blob)!.bytes), compiled: async () => proof.compiled, render: async (wish) => render(wish.patch, wish.region) }, neighbours: async () => [], keep: null, report: () => {}, signal: new AbortController().signal, pause: async () => {} }; // prettier-ignore
      return explain(DIAGNOSES.displacement!, context);
    };
    const before = await explained([]);
    expect(before.causes.map(({ id }) => id)).to.have.members(['neutral:skep', 'rule:skep', 'strong:cake', 'coarse:comb', 'padding:comb']); // prettier-ignore
    const after = await explained(before.remedies.flatMap(({ patch }) => patch));
    expect(after.causes.map(({ id }) => id)).to.deep.equal([]);
  });
});
