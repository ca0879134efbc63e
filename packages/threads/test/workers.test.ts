// Own guarantee: the same input gives the same bits for any number of workers.
import { expect } from 'chai';
import { compileScene, FILM, frameOf, type Film } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { sharedBuffer } from '@dusting/core/trace';
import { buildLh010 } from '@dusting/demo';
import { renderOnThreads } from '@dusting/threads';

describe('worker threads', () => {
  it('1, 2 and 4 of them give the same bits', async () => {
    const { document, blobs } = await importShot(await buildLh010());
    const settings = { ...document.final, width: 40, height: 36, pixelSamples: 2 };
    const compiled = compileScene(document, settings, (id) => blobs.get(id)!.bytes, sharedBuffer);
    const films = [];
    for (const threads of [1, 2, 4]) {
      const bands: Film[] = [];
      await renderOnThreads(
        compiled,
        settings,
        frameOf(settings),
        (band) => bands.push({ ...band, data: band.data.slice() }),
        { threads },
      );
      expect(bands.map(({ region }) => [region.y, region.height])).to.deep.equal([
        [0, 32],
        [32, 4],
      ]);
      const film = Float64Array.from(bands.flatMap(({ data }) => [...data]));
      // the clock is not part of the input: the time of a pixel, of each kind, of each light
      for (let at = 0; at < film.length; at += FILM.stride) film.fill(0, at + FILM.time, at + FILM.rays);
      films.push(film);
    }
    expect(films[0].some((v) => v > 0)).to.equal(true);
    expect(Buffer.compare(Buffer.from(films[0].buffer), Buffer.from(films[1].buffer))).to.equal(0);
    expect(Buffer.compare(Buffer.from(films[0].buffer), Buffer.from(films[2].buffer))).to.equal(0);
  });
});
