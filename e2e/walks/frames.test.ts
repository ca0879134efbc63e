// Frames that another renderer wrote: brought in without a scene, their layers recognised and corrected, their sum
// checked, two of them compared.
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { decode as decodePng, encode as encodePng } from 'fast-png';
import { writeExr } from '@dusting/core/formats';
import { makeIdMattes, packIdMattes } from '../../packages/core/test/mattes.ts';
import type { Picture } from '@dusting/core/image';
import { hashUnit } from '@dusting/core/math';
import {
  choose,
  chooseLayer,
  openSession,
  startWithDemo,
  test,
  textOf,
  untilPixel,
  type Session,
} from '../application.ts';

const WIDTH = 160;
const HEIGHT = 90;

/** A frame with layers named as no role is called; `lost` of the light is in none of them, `grain` is in one. */
function frame(light: number, lost: number, grain = 0): Buffer {
  const window = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
  const channels: Picture['channels'] = [];
  const put = (name: string, value: (x: number, y: number) => number) => {
    const data = new Float32Array(WIDTH * HEIGHT).map((_, i) => value(i % WIDTH, Math.floor(i / WIDTH)));
    channels.push({ name, type: 'half', data });
  };
  const honey = (x: number, y: number) => (y < 45 ? 0.25 + grain * (hashUnit(y * WIDTH + x) - 0.5) : 0);
  for (const c of 'RGB') {
    put(`dif_dir.${c}`, (x) => (light * x) / WIDTH);
    put(`dif_ind.${c}`, () => 0.125);
    put(`comb_honey.${c}`, honey);
    put(c, (x, y) => (light * x) / WIDTH + 0.125 + honey(x, y) + (x >= 100 && y >= 60 ? lost : 0));
  }
  put('Z', (_, y) => 2 + y / 10);
  const half = (first: boolean) => new Float32Array(WIDTH * HEIGHT).map((_, i) => (i % WIDTH < 80 === first ? 1 : 0));
  const mattes = packIdMattes(
    makeIdMattes('things', ['comb', 'skep'], [{ number: Int32Array.from(half(false)), coverage: half(true).fill(1) }]),
  );
  const all = [...channels, ...mattes.channels];
  const picture = { width: WIDTH, height: HEIGHT, dataWindow: window, displayWindow: window, channels: all, metadata: mattes.metadata }; // prettier-ignore
  return Buffer.from(writeExr(picture));
}
const file = (name: string, buffer: Buffer) => ({ name, mimeType: '', buffer });
const LOG = '0:01 reading comb.exr\n0:02 WARNING: comb has no UVs\n0:09 error: file missing: straw.exr\n';

const offOf = (text: string) => parseFloat(/([\d.]+) ΔE off/.exec(text)![1]);

describe('frames of another renderer', () => {
  let session: Session;
  afterEach(function () {
    if (this.currentTest?.state === 'failed') return session.page.screenshot({ path: 'data/failed.png' });
  });
  before(async () => {
    session = await openSession(await startWithDemo('frames'));
  });
  after(() => session?.close());

  it('are refused with the reason where they cannot be read', async () => {
    const { page } = session;
    await page.setInputFiles(test('files'), [file('comb.0101.exr', frame(0.5, 0).subarray(0, 900))]);
    await page.click(test('import'));
    await page.locator(test('import-error')).waitFor();
    expect(await textOf(page, test('import-error'))).to.contain('comb.0101.exr');
    await page.click('button:has-text("Clear")');
  });

  it('become a shot without a scene, with their layers and their log', async () => {
    const { page } = session;
    await page.setInputFiles(test('files'), [
      file('comb.0101.exr', frame(0.5, 0.5)),
      file('comb.0102.exr', frame(1, 0)),
      file('comb.log', Buffer.from(LOG)),
    ]);
    expect(await page.locator('input[aria-label="Name of the shot"]').inputValue()).to.equal('comb');
    await page.click(test('import'));
    await page.locator(test('proof-P2')).waitFor();
    expect(await textOf(page, `${test('proof-P1')} ${test('frame')}`)).to.equal('frame 101');
    expect(await page.locator('[data-test^="render-"]').count()).to.equal(0);
    await page.click(test('tab-history'));
    expect(await textOf(page, test('log-missing'))).to.contain('straw.exr');
    await page.locator('text=▲ 0:02 WARNING: comb has no UVs').waitFor();
    await page.locator('text=✕ 0:09 error: file missing: straw.exr').waitFor();
    expect(await textOf(page, test('log-times'))).to.match(/spans 8(\.0)? s/);
  });

  it('a pattern of the house says how grave a line is; one that is none is refused', async () => {
    const { page } = session;
    await page.click('text=Patterns for logs of this house');
    await page.selectOption(test('log-pattern-kind'), 'error');
    await page.fill(test('log-pattern'), 'no UVs (');
    await page.keyboard.press('Enter');
    await page.locator('[role=alert]:has-text("is no pattern")').waitFor();
    await page.fill(test('log-pattern'), 'has no UVs');
    await page.keyboard.press('Enter');
    await page.locator('text=✕ 0:02 WARNING: comb has no UVs').waitFor();
    await page.click(test('undo'));
    await page.locator('text=▲ 0:02 WARNING: comb has no UVs').waitFor();
  });

  it('a pattern that would take for ever is stopped and named; the page goes on, and it can be removed', async () => {
    const { page } = session;
    await page.fill(test('log-pattern'), '^(.+)+X$');
    await page.keyboard.press('Enter');
    await page.locator(`${test('log-pattern-stopped')}:has-text("(.+)+X")`).waitFor();
    await page.locator('text=▲ 0:02 WARNING: comb has no UVs').waitFor();
    await page.click('[aria-label="Remove ^(.+)+X$"]');
    await page.locator(test('log-pattern-stopped')).waitFor({ state: 'detached' });
  });

  it('its layers are known by their names', async () => {
    const { page } = session;
    await page.locator(test('proof-P1')).locator('button').first().click();
    await page.click(test('tab-layers'));
    expect(await textOf(page, test('role-dif_ind'))).to.contain('indirect diffuse');
    expect(await textOf(page, test('role-Z'))).to.contain('depth');
    expect(await textOf(page, test('role-comb_honey'))).to.contain('not light');
  });

  it('the sum check says what is missing and where; a corrected layer adds up', async () => {
    const { page } = session;
    expect(await textOf(page, test('sum'))).to.match(/^2 parts of the light do not add up: 6\d % of the pixels/);
    await page.click(test('role-comb_honey'));
    await page.locator('[role=option]:has-text("transmission")').click();
    await page.click(test('keep-mapping'));
    await page.locator(`${test('sum')}:has-text("3 parts")`).waitFor();
    // 60 x 30 of 160 x 90 pixels were left out
    expect(await textOf(page, test('sum'))).to.match(/1[23] % of the pixels are off/);
    await page.click(test('show-worst'));
    await page.locator(`${test('layer')}:has-text("beauty minus its parts")`).waitFor();
    await untilPixel(page, 0.2, 0.9, ([r, g, b]) => r + g + b < 30);
    await untilPixel(page, 0.8, 0.9, ([r, g, b]) => r + g + b > 300);
    await page.locator(test('proof-P2')).locator('button').first().click();
    await page.locator(`${test('sum')}:has-text("add up to the beauty picture")`).waitFor();
  });

  it('two layers of one role are refused at the place, and nothing is lost', async () => {
    const { page } = session;
    await page.click(test('role-comb_honey'));
    await page.locator('[role=option]:has(:text-is("depth"))').click();
    await page.click(test('keep-mapping'));
    await page.locator(test('error')).waitFor();
    expect(await textOf(page, test('error'))).to.contain('two layers cannot both be depth');
    await page.click('button:has-text("As it was")');
    await page.locator(`${test('role-comb_honey')}:has-text("transmission")`).waitFor();
  });

  it('are read by the pixel, compared, and more of them are added', async () => {
    const { page } = session;
    await page.setInputFiles(test('more-frames'), [file('comb.0103.exr', frame(0.75, 0, 0.4))]);
    await page.locator(test('proof-P3')).waitFor();
    await page.locator(`${test('sum')}:has-text("3 parts of the light: they add up")`).waitFor();
    await chooseLayer(page, 'beauty');
    await page.click(test('tab-compare'));
    await page.click(test('against'));
    await page.locator('[role=option]:has(:text-is("P2"))').click();
    await page.locator(test('comparison')).waitFor();
    expect(await textOf(page, test('comparison')))
      .to.contain('Mean luminance')
      .and.to.contain('Noise, about');
    expect(await textOf(page, test('apart'))).to.match(/RMSE.*0\.1\d/);
    const box = (await page.locator(test('picture')).boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.4);
    await page.locator(`${test('readout')}:has-text("transmission")`).waitFor();
    expect(await textOf(page, test('names'))).to.equal('things skep');
    await chooseLayer(page, 'comb');
    await page.click('[aria-label^="Comparing"] button:has-text("One")');
    const sum = (c: number[]) => c[0] + c[1] + c[2];
    await untilPixel(page, 0.2, 0.5, (c) => sum(c) > 400); // yellow: all of it
    await untilPixel(page, 0.8, 0.5, (c) => sum(c) < 200); // dark blue: nothing
    await chooseLayer(page, 'beauty');
    // one picture is the one that is chosen, not what it is compared with: that is brighter here
    await untilPixel(page, 0.75, 0.9, (c) => sum(c) > 600 && sum(c) < 690);
    await page.mouse.move(640, 5);
  });

  it('noise is explained from the picture alone, by the part that carries it; the mark is taken back', async () => {
    const { page } = session;
    await page.locator('[role=listbox]').waitFor({ state: 'detached' });
    await page.keyboard.press('a');
    await page.locator(`${test('region-reading')}:has-text("160 × 90 px")`).waitFor();
    await page.locator(`${test('region-reading')}:has-text("noise about")`).waitFor();
    await page.click(test('tab-defect'));
    await page.click(test('mark-noise'));
    await page.click(test('explain'));
    await page.locator(test('summary')).waitFor();
    const told = await textOf(page, test('summary'));
    expect(told).to.match(/^About (9\d|100) % of the visible noise in this region is transmission/);
    // uniform grain of 0.4 has a spread of 0.4 / sqrt(12): at 0.4 of light, twice as bright, 6 L* a pixel, of which the eye sees a quarter
    expect(told).to.match(/about [0-3]\.\d L\* \([0-3]\.\d to [0-3]\.\d\), estimated from the picture alone/);
    await page.click(test('undo'));
    await page.locator(test('defect-1')).waitFor({ state: 'detached' });
    await page.click(test('redo'));
    await page.click(test('defect-1'));
    await page.locator(`${test('summary')}:has-text("transmission")`).waitFor();
    // another meaning of the layer: what was found before is found anew
    await page.click(test('tab-layers'));
    for (const role of ['emission', 'transmission']) {
      await page.click(test('role-comb_honey'));
      await page.locator(`[role=option]:has(:text-is("${role}"))`).click();
      await page.click(test('keep-mapping'));
      await page.locator(`${test('keep-mapping')}:disabled`).waitFor();
      await page.click(test('tab-defect'));
      await page.locator(`${test('summary')}:has-text("in this region is ${role}")`).waitFor();
      await page.click(test('tab-layers'));
    }
    await page.keyboard.press('Escape');
  });

  it('cracks are candidates at most in a frame: the page asks for mesh and map', async () => {
    const { page } = session;
    await page.keyboard.press('a');
    await page.locator(`${test('region-reading')}:has-text("160 × 90 px")`).waitFor();
    await page.click(test('tab-defect'));
    await page.click(test('mark-displacement'));
    await page.click(test('explain'));
    await page.locator(`${test('summary')}:has-text("thin dark line")`).waitFor();
    expect(await textOf(page, test('summary'))).to.match(/is computed from mesh and map: bring both in, and ask there/);
    await page.click(test('undo'));
    await page.locator(test('defect-2')).waitFor({ state: 'detached' });
    await page.keyboard.press('Escape');
  });

  it('a note, a pin and a reference are kept; the contact sheet shows all, sorted, and is saved as one picture', async () => {
    const { page } = session;
    await page.click(test('tab-history'));
    await page.fill(test('proof-note'), 'comb warmer');
    await page.click(test('pin-proof'));
    await page.locator(`${test('shelf')} > div:first-of-type:has-text("P3")`).waitFor();
    await page.click(test('reference'));
    await page.locator(`${test('proof-P3')}:has-text("reference")`).waitFor();
    await page.locator(`${test('proof-P1')} ${test('apart-from-reference')}`).waitFor();
    const off = async (proof: string) => parseFloat(await textOf(page, `${test(`proof-${proof}`)} ${test('apart-from-reference')}`)); // prettier-ignore
    expect(await off('P1')).to.be.above(1);
    await page.reload();
    await page.locator(`${test('proof-P3')}:has-text("reference")`).waitFor();
    await page.click(test('sheet'));
    await page.locator(`${test('cell-P3')}:has-text("comb warmer")`).waitFor();
    await page.locator(`${test('cell-P1')}:has-text("ΔE off")`).waitFor();
    await choose(page, 'sheet-order', 'nearest to the reference first');
    const order = await page
      .locator('[data-test^=cell-]')
      .evaluateAll((all) => all.map((c) => c.getAttribute('data-test')));
    expect(order.indexOf('cell-P2') < order.indexOf('cell-P1')).to.equal(
      offOf(await textOf(page, test('cell-P2'))) < offOf(await textOf(page, test('cell-P1'))),
    );
    const [download] = await Promise.all([page.waitForEvent('download'), page.click(test('save-sheet'))]);
    const sheet = decodePng(readFileSync(await download.path()));
    expect([sheet.width, sheet.height > 100]).to.deep.equal([16 + 3 * (320 + 16), true]);
    await page.click(test('cell-P2'));
    await page.locator(`${test('shown')}:has-text("P2")`).waitFor();
  });

  it('of a sequence, fireflies are kept apart from highlights by the frames before and after', async () => {
    const { page } = session;
    await page.click(test('tab-defect'));
    await page.keyboard.press('a');
    await page.click(test('mark-fireflies'));
    await page.click(test('explain'));
    await page.locator(`${test('summary')}:has-text("Estimated from pixels, and from the frames before and after")`).waitFor(); // prettier-ignore
  });

  it('what was corrected is known in another shot, of one PNG for each layer', async () => {
    const { page } = session;
    await page.locator('a.home').click();
    // one PNG a layer, of another shot: the name that was corrected before is known
    const flat = (v: number) => Buffer.from(encodePng({ width: 4, height: 4, data: new Uint8Array(48).fill(v), channels: 3 })); // prettier-ignore
    await page.setInputFiles(test('files'), [file('hive.png', flat(200)), file('hive_comb_honey.png', flat(200))]);
    await page.click(test('import'));
    await page.locator(test('proof-P1')).waitFor();
    await page.click(test('tab-layers'));
    await page.locator(`${test('role-comb_honey')}:has-text("transmission")`).waitFor();
    await page.locator('text=hive').first().waitFor();
    expect(await textOf(page, test('sum'))).to.contain('One part of the light: it makes the beauty picture');
    expect(session.complaints).to.deep.equal([]);
  });

  it('mesh and map are brought in beside the frame, and asked there', async () => {
    const { page } = session;
    await page.keyboard.press('a');
    await page.click(test('tab-defect'));
    await page.click(test('mark-displacement'));
    await page.click(test('explain'));
    await page.locator(test('bring-mesh')).waitFor({ state: 'attached' });
    // a tile of four faces, and a map that is brighter towards one side
    const at = [...Array(9).keys()].map((i) => [(i % 3) / 2, Math.floor(i / 3) / 2]);
    const faces = [1, 2, 4, 5].map((a) => `f ${[a, a + 1, a + 4, a + 3].map((v) => `${v}/${v}`).join(' ')}`);
    const mesh = [...at.map(([x, y]) => `v ${x} ${y} 0`), ...at.map(([x, y]) => `vt ${x} ${y}`), ...faces].join('\n');
    const map = encodePng({ width: 64, height: 64, channels: 1, data: Uint8Array.from({ length: 64 * 64 }, (_, i) => 2 * (i % 64) + 64) }); // prettier-ignore
    await page.setInputFiles(test('bring-mesh'), {
      name: 'tile.obj',
      mimeType: 'text/plain',
      buffer: Buffer.from(mesh),
    });
    await page.locator(`${test('bring-mesh-fault')}:has-text("has no camera")`).waitFor();
    await page.setInputFiles(test('bring-mesh'), [{ name: 'tile.obj', mimeType: 'text/plain', buffer: Buffer.from(mesh) }, { name: 'tile-height.png', mimeType: 'image/png', buffer: Buffer.from(map) }]); // prettier-ignore
    await page.locator('header:has-text("mesh and map")').waitFor();
    await page.click(test('tab-history'));
    await page.locator('text=a camera and a sun were put before it').first().waitFor();
    await page.locator(test('render-preview')).first().click();
    await page.locator(`${test('proof-P1')} ${test('noise')}`).waitFor();
    await page.click(test('tab-defect'));
    await page.keyboard.press('a');
    await page.click(test('mark-displacement'));
    await page.click(test('explain'));
    await page.locator(`${test('summary')}:has-text("of its size, and level")`).waitFor();
  });
});
