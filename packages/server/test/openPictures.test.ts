// Large pictures are read in parts: each part is what the whole picture has there.
import { expect } from 'chai';
import { proposeRoles, sumCheck, type LayerMapping } from '@dusting/core/frames';
import { writeExr } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import { streamed } from '../../core/test/streamed.ts';
import { makeIdMattes, packIdMattes } from '../../core/test/mattes.ts';
import { findChannel, listLayers, type Picture } from '@dusting/core/image';
import { layersFor, LIGHT_LAYERS, OPEN_DEFAULTS, OpenPictures } from '../src/pictures/openPictures.ts';
import type { FileStore } from '../src/pictures/sparseFile.ts';

const [WIDTH, HEIGHT] = [20, 40];
const window = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
const plane = (value: (i: number) => number) => new Float32Array(WIDTH * HEIGHT).map((_, i) => value(i));
const mattes = packIdMattes(
  makeIdMattes(
    'objects',
    ['comb', 'skep'],
    [{ number: Int32Array.from(plane((i) => i % 2)), coverage: plane(() => 1) }],
  ),
);
const picture: Picture = {
  width: WIDTH,
  height: HEIGHT,
  dataWindow: window,
  displayWindow: window,
  channels: [
    ...[...'RGB'].map((c, k) => ({ name: c, type: 'float' as const, data: plane((i) => i + k) })),
    ...[...'RGB'].map((c, k) => ({ name: `dif_dir.${c}`, type: 'float' as const, data: plane((i) => i + k) })),
    { name: 'Z', type: 'float', data: plane((i) => i) },
    ...mattes.channels,
  ],
  metadata: mattes.metadata,
};
const bytes = writeExr(picture);
const mapping: LayerMapping = proposeRoles(picture);

describe('open pictures', () => {
  let loads: number;
  let fetched: number;
  /** A store of one file, whatever it is called. */
  const storeOf = (file: Uint8Array): FileStore => ({
    length: async () => (loads++, file.length),
    read: async (_, ranges, into) => {
      for (const [start, end] of ranges) into.set(file.subarray(start, end), start);
      fetched += ranges.reduce((sum, [start, end]) => sum + end - start, 0);
    },
  });
  const open = (options: Partial<typeof OPEN_DEFAULTS> = {}, file = bytes) => {
    loads = fetched = 0;
    return new OpenPictures(storeOf(file), { ...OPEN_DEFAULTS, ...options });
  };
  const layersOf = (p: Picture) => [...listLayers(p).keys()];

  it('small ones are read whole and once', async () => {
    const pictures = open();
    const source = { blob: 'a', mapping };
    const first = await pictures.get(source, { layers: /^depth$/ });
    expect(layersOf(first)).to.include.members(['beauty', 'directDiffuse', 'depth', 'sumGap']);
    expect(await pictures.get(source)).to.equal(first);
    expect(loads).to.equal(1);
    const other = { blob: 'b', mapping };
    const [one, same] = await Promise.all([pictures.get(other), pictures.get(other)]);
    expect(one, 'asked for twice at once').to.equal(same);
  });

  it('of large ones there is what was asked for, under the names of the mapping', async () => {
    const pictures = open({ large: 0 });
    const source = { blob: 'a', mapping };
    const outline = await pictures.outline(source);
    expect(layersOf(outline)).to.have.members(['beauty', 'directDiffuse', 'objects00', 'depth', 'sumGap']);
    const depth = await pictures.get(source, { layers: layersFor('depth', outline) });
    expect(layersOf(depth)).to.deep.equal(['depth']);
    const row = await pictures.get(source, { rows: { y: 17, height: 1 } });
    expect(row.dataWindow).to.deep.equal({ x: 0, y: 17, width: WIDTH, height: 1 });
    expect(findChannel(row, 'depth', 'Z')!.data[3]).to.equal(17 * WIDTH + 3);
    expect(sumCheck(await pictures.get(source, { layers: LIGHT_LAYERS }))).to.include({ off: 0 });
    expect(layersOf(await pictures.get(source, { layers: layersFor('sumGap', outline) }))).to.include('directDiffuse');
    expect(layersOf(await pictures.get(source, { layers: layersFor('matte.objects.comb', outline) }))).to.deep.equal(['objects00']); // prettier-ignore
    expect(loads, 'the file stays while it is looked at').to.equal(1);
  });

  it('the oldest ones are closed when they hold too much', async () => {
    const pictures = open({ kept: 1 });
    const one = await pictures.get({ blob: 'a', mapping: null });
    await pictures.get({ blob: 'b', mapping: null });
    expect(await pictures.get({ blob: 'a', mapping: null })).not.to.equal(one);
    expect(loads).to.equal(3);
  });

  it('a file that could not be loaded is tried again', async () => {
    let fails = true;
    const store = storeOf(bytes);
    const away = async () => {
      throw new Error('the database is away');
    };
    const pictures = new OpenPictures({ ...store, read: (...asked) => (fails ? away() : store.read(...asked)) });
    let said = '';
    await pictures.get({ blob: 'a', mapping: null }).catch((error: Error) => (said = error.message));
    expect(said).to.equal('the database is away');
    fails = false;
    expect((await pictures.get({ blob: 'a', mapping: null })).width).to.equal(WIDTH);
  });

  it('of a large one no more is fetched than what is asked for, and that once, however long its head is', async () => {
    const size = 300;
    const all = { x: 0, y: 0, width: size, height: size };
    const noise = (seed: number) => Float32Array.from({ length: size * size }, (_, i) => hashUnit(i + seed * 1e5));
    const layers = ['R', 'G', 'B', ...['wood', 'wax', 'comb', 'skep', 'sill', 'door'].map((name) => `${name}.Y`)];
    const large: Picture = { width: size, height: size, dataWindow: all, displayWindow: all, channels: layers.map((name, k) => ({ name, type: 'float', data: noise(k) })), metadata: { long: 'x'.repeat(400_000) } }; // prettier-ignore
    const file = await streamed(large);
    const pictures = open({ large: 0 }, file);
    const source = { blob: 'a', mapping: null };
    const wax = await pictures.get(source, { layers: /^wax$/ });
    expect(wax.channels.map(({ name }) => name)).to.deep.equal(['wax.Y']);
    expect(wax.channels[0].data).to.deep.equal(large.channels[4].data);
    // its head of 0.4 MB, and a layer of nine
    expect(fetched / file.length).to.be.within(1 / 9, 0.55);
    const before = fetched;
    await pictures.get(source, { layers: /^(wax|none)$/ });
    expect(fetched, 'it is there').to.equal(before);
    const row = await pictures.get(source, { rows: { y: 200, height: 1 } });
    row.channels.forEach(({ data, name }) => expect(data, name).to.deep.equal(large.channels.find((c) => c.name === name)!.data.subarray(200 * size, 201 * size))); // prettier-ignore
    await pictures.get(source);
    expect(fetched, 'all of it, and nothing twice').to.equal(file.length);
  });
});
