import { expect } from 'chai';
import { encode as encodePng } from 'fast-png';
import {
  applyRoles,
  checkRoles,
  groupFrames,
  proposeRoles,
  readFrame,
  readLogLines,
  sourceLayers,
  sumCheck,
} from '../../src/frames/index.ts';
import { readExr, writeExr } from '../../src/formats/index.ts';
import { findChannel, listLayers, type Picture } from '../../src/image/index.ts';

/** Channels with their values, the same all over. */
function flat(values: Record<string, number>, width = 4, height = 3): Picture {
  const window = { x: 0, y: 0, width, height };
  const channels = Object.entries(values).map(([name, v]) => ({ name, type: 'float' as const, data: new Float32Array(width * height).fill(v) })); // prettier-ignore
  return { width, height, dataWindow: window, displayWindow: window, channels, metadata: {} };
}
const colours = (layer: string, v: number) => Object.fromEntries([...'RGB'].map((c) => [layer ? `${layer}.${c}` : c, v])); // prettier-ignore
const rolesOf = (...layers: string[]) => proposeRoles(flat(Object.assign({}, ...layers.map((l) => colours(l, 1)))));

describe('frames of other renderers', () => {
  // the words are common practice; no program's list is followed
  it('layers are known by the words of their names', () => {
    expect(rolesOf('', 'diffuse_direct', 'DiffuseInd', 'spec.dir', 'indirect specular', 'refraction', 'emit')).to.deep.equal({
      '': 'beauty', diffuse_direct: 'directDiffuse', DiffuseInd: 'indirectDiffuse', 'spec.dir': 'directSpecular',
      'indirect specular': 'indirectSpecular', refraction: 'transmission', emit: 'emission',
    }); // prettier-ignore
    expect(rolesOf('rgba', 'N', 'P_world', 'AO', 'bg', 'sss', 'diffuse_color', 'refl_filter', 'fog', 'zdepth')).to.deep.equal({
      rgba: 'beauty', N: 'normal', P_world: 'position', AO: 'occlusion', bg: 'background', sss: 'otherLight',
      diffuse_color: 'albedo', refl_filter: 'data', fog: 'volume', zdepth: 'depth',
    }); // prettier-ignore
  });

  it('a layer that holds the sum of two others is not counted twice; of two with one role the second adds up', () => {
    expect(rolesOf('', 'diffuse', 'dif_direct', 'dif_indirect').diffuse).to.equal('data');
    expect(rolesOf('', 'diffuse', 'specular')).to.include({ diffuse: 'diffuse', specular: 'specular' });
    expect(rolesOf('', 'transmission', 'refraction').refraction).to.equal('otherLight');
  });

  it('a frame without a telling name is the beauty picture', () => {
    expect(rolesOf('sill')).to.deep.equal({ sill: 'beauty' });
    expect(rolesOf('depth', 'take3')).to.deep.equal({ depth: 'depth', take3: 'beauty' });
  });

  it('what a user said of a layer goes first', () => {
    const picture = flat({ ...colours('', 3), ...colours('honey', 1), ...colours('volume', 1) });
    expect(proposeRoles(picture, { honey: 'volume' })).to.deep.equal({ '': 'beauty', honey: 'volume', volume: 'otherLight' }); // prettier-ignore
  });

  it('layers take the names of their roles, Z and lower-case colours included', () => {
    const picture = flat({ r: 1, g: 1, b: 1, Z: 7, ...colours('N', 0.5), ...colours('matte', 0.25) });
    expect(sourceLayers(picture).map((l) => l.name)).to.deep.equal(['', 'Z', 'N', 'matte']);
    const named = applyRoles(picture, proposeRoles(picture));
    expect([...listLayers(named)]).to.deep.equal([
      ['beauty', ['R', 'G', 'B']],
      ['depth', ['Z']],
      ['normal', ['X', 'Y', 'Z']],
      ['source.matte', ['R', 'G', 'B']],
    ]);
  });

  it('the sum check finds what is missing, how much and where', () => {
    const picture = flat({ ...colours('', 1), ...colours('diffuse', 0.75), ...colours('spec', 0.25) });
    expect(sumCheck(applyRoles(picture, proposeRoles(picture)))).to.deep.include({ off: 0, gap: 0 });
    findChannel(picture, 'beauty', 'G')!.data[6] = 1.5;
    const check = sumCheck(applyRoles(picture, proposeRoles(picture)))!;
    expect(check.parts).to.deep.equal(['diffuse', 'specular']);
    expect(check.off).to.be.closeTo(1 / 12, 1e-9);
    expect(check.worst).to.include({ x: 2, y: 1 });
    // weight of green in Rec. 709 luminance: ITU-R BT.709
    expect(check.worst.gap).to.be.closeTo(0.5 * 0.7152, 1e-4);
    expect(sumCheck(applyRoles(flat(colours('', 1)), { '': 'beauty' })), 'nothing to add up').to.equal(null);
  });

  it('roles that exclude each other are refused by name', () => {
    expect(() => checkRoles({ a: 'beauty', b: 'beauty' })).to.throw('two layers cannot both be beauty: a and b');
    expect(() => checkRoles({ a: 'data', b: 'albedo' })).to.throw('no layer is the beauty picture');
  });

  it('files belong together by the numbers and words of their names', () => {
    const named = (...names: string[]) => names.map((name) => ({ name, bytes: new Uint8Array() }));
    const shape = (files: ReturnType<typeof named>) => groupFrames(files).map((f) => [f.number, ...f.files.map((l) => l.layer)]); // prettier-ignore
    expect(shape([])).to.deep.equal([]);
    expect(shape(named('sill_v02.exr'))).to.deep.equal([[null, '']]);
    expect(shape(named('sill.0102.exr', 'sill.0101.exr'))).to.deep.equal([[101, ''], [102, '']]); // prettier-ignore
    expect(shape(named('sill_beauty.7.png', 'sill_diffuse_direct.7.png', 'sill_diffuse_indirect.7.png'))).to.deep.equal(
      [[7, 'beauty', 'diffuse_direct', 'diffuse_indirect']],
    );
    expect(shape(named('sill.exr', 'sill_depth.exr'))).to.deep.equal([[null, 'beauty', 'depth']]);
  });

  it('a frame of several files is one picture; a PNG is decoded from sRGB', () => {
    const png = encodePng({ width: 2, height: 1, data: new Uint8Array([188, 188, 188, 0, 0, 0]), channels: 3 });
    const frame = (name: string, bytes: Uint8Array) => ({ name, bytes });
    const [group] = groupFrames([
      frame('sill_beauty.png', png),
      frame('sill_depth.exr', writeExr(flat({ Z: 7 }, 2, 1))),
    ]);
    const picture = readFrame(group);
    expect(picture.channels.map((c) => c.name)).to.deep.equal(['beauty.R', 'beauty.G', 'beauty.B', 'depth.Z']);
    // 188 of 255 is 0.5 in linear light: IEC 61966-2-1
    expect(picture.channels[0].data[0]).to.be.closeTo(0.5, 0.005);
    group.files[1].file.bytes = writeExr(flat({ Z: 7 }, 3, 1));
    expect(() => readFrame(group)).to.throw(/3 x 1 at 0, 0.*sill_beauty\.png.*2 x 1/);
  });

  it('the display window is moved to the origin, the data window with it', () => {
    const picture = flat(colours('', 1));
    picture.displayWindow = { x: 10, y: 20, width: 40, height: 30 };
    picture.dataWindow = { x: 8, y: 22, width: 4, height: 3 };
    const [group] = groupFrames([{ name: 'a.exr', bytes: writeExr(picture) }]);
    expect(readFrame(group).dataWindow).to.deep.equal({ x: -2, y: 2, width: 4, height: 3 });
  });

  it('a proof of our own keeps the names of its layers', () => {
    const picture = flat({ ...colours('', 1), ...colours('transmission', 1), ...colours('cut.transmission', 1), 'error.Y': 0.1 }); // prettier-ignore
    picture.metadata.dustingProof = '{}';
    const read = readExr(writeExr(picture));
    const named = applyRoles(read, proposeRoles(read));
    expect([...listLayers(named).keys()]).to.include.members(['error', 'cut.transmission']);
    expect(sumCheck(named)!.parts).to.deep.equal(['transmission']);
  });

  it('lines of a log are told apart by how grave they are', () => {
    const lines = readLogLines(
      '00:01 reading jar.tex\n00:02 WARNING: no UVs\n\n00:03 | error | file missing: comb.exr\n',
    );
    expect(lines.map((l) => l.level)).to.deep.equal(['note', 'warning', 'error']);
    const long = readLogLines(`${'note\n'.repeat(5000)}error: at the end`);
    expect(long).to.have.length(2000);
    expect(long.at(-1)!.level).to.equal('error');
  });
});
