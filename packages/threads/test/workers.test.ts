// Own guarantee: the same input gives the same bits for any number of workers.
import { expect } from 'chai';
import { compileScene, FILM, frameOf } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { buildLh010 } from '@dusting/demo';
import { renderOnThreads } from '@dusting/threads';

describe('worker threads', () => {
  it('1, 2 and 5 of them give the same bits', async () => {
    const { document, blobs } = await importShot(await buildLh010());
    const settings = { ...document.final, width: 96, height: 54, pixelSamples: 5 };
    const compiled = compileScene(document, settings, (id) => blobs.get(id)!.bytes, sharedBuffer);
    const films = [];
    for (const threads of [1, 2, 5]) {
      const film = await renderOnThreads(compiled, settings, frameOf(settings), { threads });
      // the clock is not part of the input: the time of a pixel, of each kind, of each light
      for (let at = 0; at < film.data.length; at += FILM.stride) film.data.fill(0, at + FILM.time, at + FILM.rays);
      films.push(film.data);
    }
    expect(films[0].some((v) => v > 0)).to.equal(true);
    expect(Buffer.compare(Buffer.from(films[0].buffer), Buffer.from(films[1].buffer))).to.equal(0);
    expect(Buffer.compare(Buffer.from(films[0].buffer), Buffer.from(films[2].buffer))).to.equal(0);
  });
});
