// Own guarantees: a fault of one chunk is told to who asked for it, and the threads go on.
import { expect } from 'chai';
import { compileScene } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { buildLh010 } from '@dusting/demo';
import { RenderPool } from '@dusting/threads';

describe('render pool', () => {
  it('serves more callers than threads, several scenes, and survives a fault', async () => {
    const { document, blobs } = await importShot(await buildLh010());
    const settings = { ...document.final, width: 64, height: 36 };
    const scene = compileScene(document, settings, (id) => blobs.get(id)!.bytes, sharedBuffer);
    const work = { scene, settings, extras: [] };
    const pool = new RenderPool(2);
    const chunk = (x: number) => ({ region: { x, y: 20, width: 4, height: 4 }, sampleStart: 0, sampleCount: 1 });
    try {
      const many = await Promise.all(
        [0, 8, 16, 24, 32, 40, 48].map((x, i) => pool.render(`scene-${i % 3}`, work, chunk(x))),
      );
      many.forEach((film, i) => expect(film.region.x).to.equal(i * 8));
      const broken = { ...chunk(0), region: { x: 0, y: 0, width: -1, height: 4 } };
      const fault = await pool.render('scene-0', work, broken).then(
        () => null,
        (error: Error) => error,
      );
      expect(fault).to.be.instanceOf(Error);
      const [again] = await Promise.all([
        pool.render('scene-0', work, chunk(8)),
        pool.render('scene-1', work, chunk(0)),
      ]);
      expect(again.picture).to.deep.equal(many[1].picture);
    } finally {
      await pool.close();
    }
  });
});
