// The commands as a script uses them: exit codes, JSON on standard output and nothing else.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect } from 'chai';
import { encode } from 'fast-png';
import { writeExr } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import { buildLh010 } from '@dusting/demo';
import { main } from '../src/main.ts';

const bin = fileURLToPath(new URL('../bin/dusting.mjs', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'dusting-cli-'));
/** As a process of its own, which takes seconds to start. */
const spawned = (...args: string[]) => spawnSync(process.execPath, [bin, ...args], { cwd: folder, encoding: 'utf8' });
/** The same in here: files are given with their folder. */
const dusting = (...args: string[]) => main(args.map((arg) => (/\.\w{3,4}$/.test(arg) ? join(folder, arg) : arg)));

/** A frame as another renderer writes it: grey, with uniform grain in its refraction alone. */
function grainy(): Uint8Array {
  const [width, height] = [64, 48];
  const window = { x: 0, y: 0, width, height };
  const grain = new Float32Array(width * height).map((_, i) => 0.2 * hashUnit(i));
  const even = grain.map(() => 0.2);
  const planes = (prefix: string, data: Float32Array) => [...'RGB'].map((c) => ({ name: `${prefix}${c}`, type: 'float' as const, data })); // prettier-ignore
  const channels = [...planes('', grain.map((v) => v + 0.2)), ...planes('dif_dir.', even), ...planes('refraction.', grain)]; // prettier-ignore
  return writeExr({ width, height, dataWindow: window, displayWindow: window, channels, metadata: {} });
}

describe('command line', () => {
  before(async () => {
    for (const { name, bytes } of await buildLh010()) writeFileSync(join(folder, name), bytes);
  });
  const scene = ['LH-010.glb', '--settings', 'LH-010.json', '--size', '64x36', '--set', 'final.pixelSamples=4'];

  it('render, inspect and diagnose work on each other', async () => {
    const rendered = spawned('render', ...scene, '--out', 'p.exr', '--threads', '2', '--json');
    expect(rendered.status, rendered.stderr).to.equal(0);
    const report = JSON.parse(rendered.stdout);
    expect(report).to.include({ width: 64, height: 36, samples: 64 * 36 * 4 });
    expect(report.rays.camera).to.equal(64 * 36 * 4);
    expect(report.rays.transmission).to.be.above(1000);
    expect(report.noise).to.be.above(0);
    expect(report.findings[0]).to.include({ id: 'cut-total', severity: 'error' });
    expect(report.findings[0].text).to.match(/^The total depth of 8 cuts off about [\d.]+ % of the light\.$/);
    expect(report.findings[0].about).to.deep.equal([{ type: 'setting', path: 'depth.total' }]);
    expect(report.noiseRange.low).to.be.below(report.noise);
    expect(report.seconds).to.have.all.keys('import', 'compile', 'render', 'write', 'total');

    const inspected = JSON.parse((await dusting('inspect', 'p.exr', '--json')).out);
    expect(inspected).to.include({ width: 64, height: 36, compression: 'ZIP' });
    const mean = (layer: string) => inspected.layers[layer].R.mean;
    const parts = [
      'directDiffuse',
      'indirectDiffuse',
      'directSpecular',
      'indirectSpecular',
      'transmission',
      'emission',
      'background',
    ];
    expect(parts.reduce((sum, layer) => sum + mean(layer), 0)).to.be.closeTo(mean('beauty'), 1e-5);
    expect(inspected.layers.beauty.R).to.include({ negative: 0, infinite: 0, nan: 0, type: 'float' });

    const diagnosed = await dusting('diagnose', 'noise', 'p.exr', '--region', '0,10,64,20', '--json');
    const diagnosis = JSON.parse(diagnosed.out);
    expect(diagnosis).to.include({ kind: 'noise' });
    expect(diagnosis.causes.map((c: { share: number }) => c.share)).to.satisfy((s: number[]) =>
      s.every((v, i) => i === 0 || v <= s[i - 1]),
    );
  });

  it('a frame of another renderer is explained from its pixels', async () => {
    writeFileSync(join(folder, 'frame.exr'), grainy());
    const { status, out } = await dusting('diagnose', 'noise', 'frame.exr', '--json');
    expect(status).to.equal(0);
    const { measured, causes, summary } = JSON.parse(out);
    expect(causes.map((c: { id: string }) => c.id)).to.deep.equal(['transmission']);
    expect(summary).to.contain('estimated from the picture alone');
    // a spread of 0.2 / sqrt(12) at 0.3 of light, twice as bright: 116 / 3 (0.6)^(-2/3) 2 x 0.058 L* a pixel, 0.235 of it seen
    expect(measured.noise).to.be.within(1.2, 2);
  });

  it('a look without noise and a repaired frame are written, and read again', async () => {
    const look = await dusting('denoise', 'p.exr', '--out', 'look.exr', '--json');
    expect(JSON.parse(look.out)).to.include({ width: 64, height: 36 });
    const seen = JSON.parse((await dusting('inspect', 'look.exr', '--json')).out).layers;
    expect(Object.keys(seen)).to.deep.equal(['beauty']);
    const { layers } = JSON.parse((await dusting('inspect', 'p.exr', '--json')).out);
    // what was bright by chance is gone, so it is a little darker
    expect(seen.beauty.G.mean).to.be.within(0.7 * layers.beauty.G.mean, 1.02 * layers.beauty.G.mean);
    const { out } = await dusting('repair', 'p.exr', '--after', 'p.exr', '--out', 'repaired.exr', '--json');
    const { replaced } = JSON.parse(out);
    const mask = JSON.parse((await dusting('inspect', 'repaired.exr', '--json')).out).layers.repaired.Y;
    expect(mask.mean * 64 * 36).to.be.closeTo(replaced, 1e-3);
    const refused = await dusting('denoise', 'frame.exr', '--out', 'x.exr');
    expect([refused.status, refused.complaint]).to.deep.equal([1, 'dusting: this picture carries no statistics (no layer "error"): a look without noise needs them\n']); // prettier-ignore
  });

  it('a region has its place in the frame, and the same pixels', async () => {
    await dusting('render', ...scene, '--out', 'part.exr', '--region', '20,10,16,8');
    const part = JSON.parse((await dusting('inspect', 'part.exr', '--json')).out);
    expect(part.dataWindow).to.deep.equal({ x: 20, y: 10, width: 16, height: 8 });
    const whole = JSON.parse((await dusting('inspect', 'p.exr', '--region', '20,10,16,8', '--json')).out);
    expect(part.layers.transmission).to.deep.equal(whole.layers.transmission);
  });

  it('a layer called beauty is inspected, and every picture that is read can be diagnosed', async () => {
    const window = { x: 0, y: 0, width: 32, height: 32 };
    const channels = ['beauty.R', 'beauty.G', 'beauty.B', 'R'].map((name, k) => ({ name, type: 'float' as const, data: new Float32Array(1024).fill(k) })); // prettier-ignore
    writeFileSync(join(folder, 'named.exr'), writeExr({ width: 32, height: 32, dataWindow: window, displayWindow: window, channels, metadata: {} })); // prettier-ignore
    const { layers } = JSON.parse((await dusting('inspect', 'named.exr', '--json')).out);
    expect([layers.beauty.R.mean, layers.beauty.G.mean, layers['beauty (named)'].R.mean]).to.deep.equal([3, 1, 0]);
    const data = Uint8Array.from({ length: 64 * 64 * 3 }, (_, i) => 100 + 40 * hashUnit(i));
    writeFileSync(join(folder, 'frame.png'), encode({ width: 64, height: 64, channels: 3, depth: 8, data }));
    const diagnosis = JSON.parse((await dusting('diagnose', 'noise', 'frame.png', '--json')).out);
    expect(diagnosis.measured.noise).to.be.above(0);
  });

  it('the tint for a colour behind walls of glass; a brighter one than the reflections leave is said', async () => {
    const answer = JSON.parse((await dusting('tint', '--wanted', '0.5,0.2,0.9', '--walls', '2', '--thickness', '0.01', '--json')).out); // prettier-ignore
    // four faces of n = 1.5 reflect 4 % each; four interfaces tint, and 20 mm absorb
    const left = 0.96 ** 4;
    [0.5, 0.2].forEach((wanted, k) => {
      expect(left * answer.tint[k] ** 4).to.be.closeTo(wanted, 1e-9);
      expect(left * answer.colour[k]).to.be.closeTo(wanted, 1e-9);
    });
    expect([answer.tooBright, answer.transmission_depth]).to.deep.equal([[2], 0.02]);
  });

  it('the drift between preview and final settings', async () => {
    const { out } = await dusting('drift', 'LH-010.glb', '--settings', 'LH-010.json', '--set', 'preview.depth.total=16', '--json'); // prettier-ignore
    const total = JSON.parse(out).find(({ path }: { path: string }) => path === 'depth/total');
    expect(total).to.deep.equal({ path: 'depth/total', preview: 16, final: 8, effect: 'light', finalShowsLess: true });
  });

  it('bad input ends with 1 and a reason, wrong usage with 2', async () => {
    writeFileSync(join(folder, 'cut.glb'), readFileSync(join(folder, 'LH-010.glb')).subarray(0, 5000));
    const cases: [number, RegExp, string[]][] = [
      [1, /cut\.glb: the file is cut off/, ['render', 'cut.glb', '--out', 'x.exr']],
      [1, /nowhere\.glb: there is no such file/, ['render', 'nowhere.glb', '--out', 'x.exr']],
      [1, /final\.width is 100000/, ['render', ...scene, '--size', '100000x100000', '--out', 'x.exr']],
      [1, /too large to render/, ['render', ...scene, '--size', '16000x8000', '--out', 'x.exr']],
      [1, /no setting "final\.nothing"/, ['render', ...scene, '--set', 'final.nothing=1', '--out', 'x.exr']],
      [1, /no camera "other"; the scene has shot camera/, ['render', ...scene, '--camera', 'other', '--out', 'x.exr']],
      [1, /not a PNG, JPEG, TIFF, OpenEXR or Radiance HDR/, ['inspect', 'LH-010.json']],
      [1, /outside the frame/, ['render', ...scene, '--region', '60,0,10,10', '--out', 'x.exr']],
      [2, /--out PROOF\.exr is missing/, ['render', 'LH-010.glb']],
      [2, /must end in \.exr/, ['render', 'LH-010.glb', '--out', 'x.png']],
      [2, /no command "paint"/, ['paint']],
      [1, /the scene has no object "flagpole"/, ['diagnose', 'shadow', ...scene, '--expect', 'flagpole']],
      [2, /--expect names an object of a scene/, ['diagnose', 'shadow', 'p.exr', '--expect', 'jar']],
      [2, /name frames beside a picture/, ['diagnose', 'fireflies', ...scene, '--before', 'p.exr']],
      [1, /frame\.exr has 64 x 48 pixels, and the picture 64 x 36/, ['diagnose', 'fireflies', 'look.exr', '--after', 'frame.exr']], // prettier-ignore
      [2, /no diagnosis "weather"/, ['diagnose', 'weather', 'p.exr']],
      [2, /--size takes/, ['render', 'LH-010.glb', '--out', 'x.exr', '--size', 'big']],
      [2, /expected 1 argument/, ['inspect']],
    ];
    for (const [status, words, args] of cases) {
      const result = await dusting(...args);
      expect(result.status, args.join(' ')).to.equal(status);
      expect(result.complaint).to.match(words);
      expect(result.out).to.equal('');
    }
    const [[status, words, args]] = cases;
    const apart = spawned(...args);
    expect([apart.status, words.test(apart.stderr), apart.stdout]).to.deep.equal([status, true, '']);
    expect((await dusting('render', '--help')).out).to.contain('--region x,y,w,h');
  });
});
