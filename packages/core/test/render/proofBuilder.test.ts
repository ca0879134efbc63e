// A proof is the same however its bands arrive, and a file the same whether it is written in one piece or in many.
import { expect } from 'chai';
import { plainDeflate, readExr, unpackPicture, writeExr, type Level } from '@dusting/core/formats';
import { findChannel, splitChannelName } from '@dusting/core/image';
import {
  bandsOf,
  filmStatistics,
  frameOf,
  ProofBuilder,
  ProofFile,
  renderHere,
  type RenderStatistics,
} from '@dusting/core/render';
import { bandOf } from '../../src/render/bands.ts';
import { streamed } from '../streamed.ts';
import { compileTest, MATT, square } from '../scenes.ts';

const NAMES = { groups: [], objects: ['board'], surfaces: ['grey'] };
const { compiled, settings } = compileTest({
  objects: [{ mesh: square(2), surface: MATT }],
  lights: [{ kind: 'sphere', radius: 0.3, strength: 4, transform: [1, 0, 0, 0.4, 0, 1, 0, 0, 0, 0, 1, 1.2] }],
  view: 1,
  settings: { width: 30, height: 80, pixelSamples: 8 },
});
const film = renderHere(compiled, settings, frameOf(settings));

function builtFrom(order: (bands: ReturnType<typeof bandsOf>) => ReturnType<typeof bandsOf>, layers?: RegExp) {
  const builder = new ProofBuilder(film.region, settings, NAMES, 1, layers);
  for (const band of order(bandsOf(film.region))) builder.addBand(bandOf(film, band));
  let recorded: RenderStatistics | null = null;
  const { picture, statistics } = builder.finish((of) => {
    recorded = of;
    return { noise: of.noise };
  });
  expect(recorded, 'the record is made from the statistics').to.equal(statistics);
  return { picture, statistics };
}

describe('a proof put together from bands', () => {
  const { picture, statistics } = builtFrom((bands) => bands);

  it('covers the region once', () => {
    const bands = bandsOf({ x: 3, y: 7, width: 5, height: 70 });
    expect(bands.map(({ y, height }) => [y, height])).to.deep.equal([[7, 32], [39, 32], [71, 6]]); // prettier-ignore
    expect(bands.every(({ x, width }) => x === 3 && width === 5)).to.equal(true);
  });

  it('is the same to the bit in any order of them', () => {
    const turned = builtFrom((bands) => bands.toReversed());
    expect(turned.picture.channels.map(({ name }) => name)).to.deep.equal(picture.channels.map(({ name }) => name));
    for (const [i, { data, name }] of picture.channels.entries())
      expect(Buffer.compare(Buffer.from(data.buffer), Buffer.from(turned.picture.channels[i].data.buffer)), name).to.equal(0); // prettier-ignore
    expect(turned.statistics.noise).to.be.closeTo(statistics.noise, 1e-9);
  });

  it('holds the layers that are asked for and no others, with the same bits and the same statistics', () => {
    const few = builtFrom((bands) => bands, /^(beauty|error|error\.directDiffuse|rays|cut\..*)$/);
    const names = few.picture.channels.map(({ name }) => name);
    expect(names).to.include.members(['R', 'G', 'B', 'error.Y', 'error.directDiffuse.Y', 'rays.shadow', 'cut.clamp.R']);
    const layers = new Set(names.map((name) => splitChannelName(name).layer));
    expect(
      [...layers].filter((layer) => !/^(beauty|error|error\.directDiffuse|rays|cut\..*)$/.test(layer)),
    ).to.deep.equal([]);
    for (const { data, name } of few.picture.channels) {
      const whole = picture.channels.find((c) => c.name === name)!.data;
      expect(Buffer.compare(Buffer.from(data.buffer), Buffer.from(whole.buffer)), name).to.equal(0);
    }
    expect(few.statistics).to.deep.equal(statistics);
  });

  it('has the statistics of the whole film, and planes of zeros in memory once', () => {
    const whole = filmStatistics(film, 1);
    for (const key of ['noise', 'meanLuminance', 'samples', 'pixels'] as const)
      expect(statistics[key], key).to.be.closeTo(whole[key], 1e-9);
    const empty = picture.channels.filter(({ data, type }) => type === 'half' && data.every((v) => v === 0));
    expect(empty.length).to.be.above(5);
    expect(new Set(empty.map(({ data }) => data)).size).to.equal(1);
  });

  it('is written in pieces, the same whatever block is deflated first, and read back to the bit', async () => {
    const file = writeExr(picture);
    // the later a block, the sooner it is done
    let blocks = 0;
    const deflate = async (raw: Uint8Array, level: Level) => {
      const turns = 100 - blocks++;
      for (let i = 0; i < turns; i++) await null;
      return plainDeflate(raw, level);
    };
    const turned = await streamed(picture, deflate);
    expect(blocks).to.be.above(4);
    expect(Buffer.compare(Buffer.from(turned), Buffer.from(await streamed(picture)))).to.equal(0);
    const read = readExr(turned);
    for (const { data, name } of readExr(file).channels)
      expect(read.channels.find((c) => c.name === name)!.data, name).to.deep.equal(data);
    const plain = unpackPicture(picture);
    for (const layer of ['beauty', 'error', 'directDiffuse'])
      expect(findChannel(read, layer, 'R')!.data, layer).to.deep.equal(findChannel(plain, layer, 'R')!.data);
    expect(JSON.parse(read.metadata.dustingProof).noise).to.equal(statistics.noise);
  });

  it('is the same file where its bands are deflated as they come: only errors wait for the last', async () => {
    let blocks = 0;
    const deflate = async (raw: Uint8Array, level: Level) => (blocks++, plainDeflate(raw, level));
    const file = new ProofFile(film.region, new ProofBuilder(film.region, settings, NAMES, 1), { deflate }, /^(beauty|depth)$/); // prettier-ignore
    for (const band of bandsOf(film.region).toReversed()) await file.addBand(bandOf(film, band));
    const early = blocks;
    const { picture: left, pieces } = await file.finish(({ noise }) => ({ noise }));
    expect(Buffer.compare(Buffer.concat(pieces), Buffer.from(await streamed(picture)))).to.equal(0);
    // the errors are one part of the file, in five blocks of 16 lines
    expect(blocks - early).to.equal(5);
    expect(early).to.be.above(100);
    const layers = new Set(left.channels.map(({ name }) => splitChannelName(name).layer.split('.')[0]));
    expect([...layers]).to.have.members(['beauty', 'depth', 'error']);
    for (const { data, name } of left.channels)
      expect(data, name).to.deep.equal(picture.channels.find((c) => c.name === name)!.data);
  });
});
