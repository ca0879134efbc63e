// The yard shows its faults to the shadow diagnosis, each where it is looked for.
import { expect } from 'chai';
import { lightChain } from '@dusting/core/diagnose';
import { compileScene } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import validator from 'gltf-validator';
import { buildLh050 } from '@dusting/demo';

describe('LH-050, the apiary yard', () => {
  it('is a valid glTF file with nothing that is not supported', async () => {
    const files = await buildLh050();
    const report = await validator.validateBytes(files[0].bytes);
    expect(report.issues.numErrors, JSON.stringify(report.issues.messages)).to.equal(0);
    expect((await importShot(files)).unsupported).to.deep.equal([]);
  });

  it('one hive casts no shadow, the fence receives none, and the second sun reaches into the shadow of the first', async () => {
    const { blobs, document } = await importShot(await buildLh050());
    const scene = compileScene(document, document.final, (id) => blobs.get(id)!.bytes);
    const ask = (x: number, y: number, width: number, height: number) => lightChain(scene, document, document.final, { x, y, width, height }); // prettier-ignore
    // right of the second hive, where the evening sun should leave a shadow
    const beside = await ask(120, 118, 44, 12);
    const [sun] = beside.answers;
    expect(sun.ends.passed / beside.places).to.be.above(0.15);
    const passed = [...sun.between].filter(([, { passes }]) => passes.flag > 0).map(([object]) => scene.objectIds[object]); // prettier-ignore
    expect(passed).to.have.include('hive-2');
    // right of the skep
    const skep = await ask(222, 142, 60, 8);
    const [first, second] = ['evening-sun', 'second-sun'].map((id) => skep.answers.find((answer) => answer.id === id)!);
    expect(first.ends.shadow / skep.places).to.be.above(0.4);
    expect(second.ends.open / skep.places).to.be.above(0.9);
    // the shadow of the mast would cross the foreground
    const front = await ask(60, 150, 200, 28);
    const answerOf = (id: string) => front.answers.find((answer) => answer.id === id)!;
    const [evening, lamp] = [answerOf('evening-sun'), answerOf('work-lamp')];
    const mast = evening.between.get(scene.objectIds.indexOf('mast'))!;
    expect(mast.passes.range).to.be.above(100);
    expect(mast.stops).to.equal(0);
    expect(lamp.ends.notLinked).to.equal(front.places);
    const fence = await ask(0, 66, 320, 34);
    expect(fence.answers.some(({ ends }) => ends.placeWithout > 0)).to.equal(true);
  });
});
