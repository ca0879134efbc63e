// A shot from an OBJ file with fog: its volume layer, a link that opens the same view, the picture saved as seen, and
// deleting, which asks first.
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { decode } from 'fast-png';
import { readExr } from '@dusting/core/formats';
import {
  chooseLayer,
  markRegion,
  openSession,
  startWithDemo,
  pixelAt,
  test,
  textOf,
  untilPixel,
  type Session,
} from '../application.ts';

const BOX = [[-1, -1], [1, -1], [1, 1], [-1, 1]].flatMap(([x, z]) => [`v ${x} 0 ${z}`, `v ${x} 1 ${z}`]).join('\n'); // prettier-ignore
const SCENE = `o sill
v -4 0 -4
v -4 0 4
v 4 0 4
v 4 0 -4
usemtl wood
f 1 2 3 4
o haze
${BOX}
usemtl haze
f 5 7 9 11
f 6 12 10 8
f 5 6 8 7
f 7 8 10 9
f 9 10 12 11
f 11 12 6 5
mtllib sill.mtl
`;
const SETTINGS = {
  cameras: {
    front: { name: 'front', transform: [1, 0, 0, 0, 0, 0.94, 0.34, 2, 0, -0.34, 0.94, 5], verticalAngle: 32 },
  },
  lights: { lamp: { kind: 'sphere', radius: 0.2, strength: 60, transform: [1, 0, 0, 1.5, 0, 1, 0, 2.5, 0, 0, 1, 1] } },
  surfaces: { haze: { transmission_weight: 1, specular_ior: 1, transmission_depth: 1, transmission_scatter: [0.6, 0.6, 0.6] } }, // prettier-ignore
  final: { width: 96, height: 64, pixelSamples: 4, volumeSamples: 2 },
};
const file = (name: string, text: string) => ({ name, mimeType: '', buffer: Buffer.from(text) });

describe('looking', () => {
  let session: Session;
  before(async () => {
    session = await openSession(await startWithDemo('looking'));
  });
  after(() => session?.close());

  it('an OBJ with its materials and a settings file becomes a shot and a proof with a volume layer', async () => {
    const { page } = session;
    await page.setInputFiles(test('files'), [
      file('sill.obj', SCENE),
      file('sill.mtl', 'newmtl wood\nKd 0.5 0.4 0.3\nnewmtl haze\nKd 1 1 1\n'),
      file('set.json', JSON.stringify(SETTINGS)),
    ]);
    await page.fill('input[aria-label="Name of the shot"]', 'sill');
    await page.click(test('import'));
    // the bench of what was brought in opens by itself, and proposes the quicker look
    expect(await textOf(page, test('render-preview'))).to.match(/^Render the preview/);
    await page.locator(test('render-final')).click();
    await page.locator(`${test('proof-P1')} ${test('noise')}`).waitFor();
    await page.click(test('tab-settings'));
    expect(await page.locator('label:has-text("Volume samples")').count()).to.equal(1);
    expect(await page.locator('#set-volumeSamples').inputValue()).to.equal('2');
    await page.locator(test('layer')).click();
    await page.locator('[role=option]:has-text("volume")').first().click();
    const [answer] = await Promise.all([
      fetch(`${session.application.url}/api/proofs/1/layers/volume`),
      page.locator(`${test('layer')}:has-text("volume")`).waitFor(),
    ]);
    const halves = new Uint16Array(await answer.arrayBuffer());
    expect(halves.some((h) => h > 0x2000)).to.equal(true);
  });

  it('the address follows the view, and opens it again in another window', async () => {
    const { page } = session;
    await page.locator('body').click({ position: { x: 700, y: 5 } });
    await page.keyboard.press('e');
    await page.keyboard.press('s');
    await page.keyboard.press('c');
    await page.waitForURL(/proof=P1.*layer=volume|layer=volume.*proof=P1/);
    await page.waitForURL(/exposure=0\.5/);
    const link = page.url();
    expect(link).to.contain('shadowCheck=1').and.to.contain('channel=R');
    const other = await page.context().newPage();
    await other.goto(link);
    await other.locator(`${test('layer')}:has-text("volume")`).waitFor();
    await other.waitForFunction(() => (document.querySelector('input[aria-label="Exposure in stops"]') as HTMLInputElement)?.value === '+0.5 EV'); // prettier-ignore
    expect(await other.locator('[aria-label="Shadow check"] [aria-pressed=true]').innerText()).to.equal('+1');
    await other.close();
  });

  it('graphs and pinned pixels stand beside the picture; a mix of the light is seen without a render', async () => {
    const { page } = session;
    await page.click(test('tab-look'));
    await page.locator(`${test('histogram')}:has-text("brighter than display white")`).waitFor();
    await page.keyboard.press('c'); // from R on to colour again
    for (let i = 0; i < 4; i++) await page.keyboard.press('c');
    await chooseLayer(page, 'beauty');
    const box = (await page.locator(test('picture')).boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.55);
    await page.keyboard.press('k');
    await page.locator(`${test('pin-1')}:has-text("± ")`).waitFor();
    expect(await textOf(page, test('pin-1'))).to.match(/samples .*beauty [\d.]+ [\d.]+ [\d.]+ ± .*shown \d+ \d+ \d+/);
    const sum = ([r, g, b]: number[]) => r + g + b;
    const whole = sum(await pixelAt(page, 0.5, 0.55));
    await page.uncheck(`${test('mix-volume')} input[type=checkbox]`);
    await page.locator(test('mixed')).waitFor();
    await untilPixel(page, 0.5, 0.55, (c) => sum(c) < 0.97 * whole);
    await page.click(`${test('mix-volume')} .name`); // the volume alone, and all of them again
    await untilPixel(page, 0.02, 0.98, (c) => sum(c) < 12);
    await page.click(test('mix-reset'));
    await untilPixel(page, 0.5, 0.55, (c) => sum(c) === whole);
    // a single pixel may stand at its mean by chance
    const alongRow = async () => {
      const all: number[] = [];
      for (const x of [0.3, 0.4, 0.5, 0.6, 0.7]) all.push(sum(await pixelAt(page, x, 0.55)));
      return all;
    };
    const noisy = await alongRow();
    // one that takes its time is announced, and can be left for what is seen
    let go = () => {};
    const held = new Promise<void>((resolve) => (go = resolve));
    await page.route('**/layers/denoised', async (route) => {
      await held;
      await route.continue().catch(() => {}); // nobody may be waiting for it any more
    });
    await page.keyboard.press('n');
    await page.locator(`${test('opening')}:has-text("look without noise")`).waitFor();
    await page.click(test('leave-opening'));
    await page.locator(`${test('layer')}:has-text("beauty")`).waitFor();
    await page.locator(test('opening')).waitFor({ state: 'detached' });
    go();
    await page.unroute('**/layers/denoised');
    await page.keyboard.press('n');
    await page.locator(test('denoised-note')).waitFor();
    await page.locator(`${test('layer')}:has-text("denoised")`).waitFor();
    while ((await alongRow()).every((y, i) => y === noisy[i])) await page.waitForTimeout(50);
    for (const [i, y] of (await alongRow()).entries()) expect(y).to.be.closeTo(noisy[i], 150);
    await page.keyboard.press('n');
    await page.locator(test('denoised-note')).waitFor({ state: 'detached' });
    await chooseLayer(page, 'volume');
    await page.keyboard.press('c');
    await page.waitForURL(/channel=R/);
  });

  it('a linear picture that is shown raw says so', async () => {
    const { page } = session;
    for (let i = 0; i < 4; i++) await page.keyboard.press('d');
    await page.locator(test('transform-note')).waitFor();
    await page.keyboard.press('d');
    await page.locator(test('transform-note')).waitFor({ state: 'detached' });
  });

  it('the picture is saved as it is seen, pixel for pixel', async () => {
    const { page } = session;
    await page.click(test('export'));
    const [download] = await Promise.all([page.waitForEvent('download'), page.click(test('save-png'))]);
    expect(download.suggestedFilename()).to.equal('sill_P1_volume_+1.5EV.png');
    const { width, height, data, channels } = decode(readFileSync(await download.path()));
    expect([width, height]).to.deep.equal([96, 64]);
    // the middle shows the haze, a corner none, both in grey: one channel is looked at
    const at = (x: number, y: number) => [...data.slice((y * width + x) * channels, (y * width + x) * channels + 3)];
    const [middle, corner] = [at(48, 36), at(2, 62)];
    expect(middle[0]).to.be.above(20);
    expect(new Set(middle).size).to.equal(1);
    expect(corner[0]).to.be.below(middle[0]);
  });

  it('a region, a layer, all layers and the numbers are saved as files', async () => {
    const { page } = session;
    await page.click(test('export'));
    const [download] = await Promise.all([page.waitForEvent('download'), page.click(test('save-export/exr'))]);
    expect(download.suggestedFilename()).to.equal('sill_P1_volume.exr');
    expect(readExr(readFileSync(await download.path())).channels.map((c) => c.name)).to.have.members(['volume.R', 'volume.G', 'volume.B']); // prettier-ignore
    await markRegion(page, { width: 96, height: 64 }, [0.25, 0.25], [0.75, 0.75]);
    await page.click(test('export'));
    const [table] = await Promise.all([page.waitForEvent('download'), page.click(test('save-table'))]);
    expect(table.suggestedFilename()).to.match(/^sill_P1_numbers_2[345]-1[567]_/);
    const [head, ...rows] = readFileSync(await table.path(), 'utf8')
      .trim()
      .split('\r\n');
    expect(head).to.equal('layer,channel,mean,least,most,spread,error,notFinite');
    expect(rows.some((r) => /^volume,R,0\.\d+,/.test(r))).to.equal(true);
    await page.click(test('export'));
    const [png] = await Promise.all([page.waitForEvent('download'), page.click(test('save-export/png16'))]);
    const sixteen = decode(readFileSync(await png.path()));
    expect(sixteen.depth).to.equal(16);
    expect(sixteen.width).to.be.within(46, 50);
    await page.keyboard.press('Escape');
  });

  it('deleting a proof and a shot asks first, and frees what nothing else needs', async () => {
    const { page } = session;
    const shot = /shots\/(\d+)/.exec(page.url())![1];
    await page.click(test('tab-history'));
    await page.click(test('delete-proof'));
    await page.keyboard.press('Enter'); // the harmless answer has the focus
    expect(await page.locator(test('proof-P1')).count()).to.equal(1);
    await page.click(test('delete-proof'));
    await page.click(test('delete-proof-yes'));
    await page.locator(test('proof-P1')).waitFor({ state: 'detached' });
    expect(await textOf(page, test('shelf'))).to.contain('No proofs yet');
    await page.locator('a.home').click();
    await page.click(test('delete-sill'));
    await page.click(test('delete-sill-yes'));
    await page.locator(test('shot-sill')).waitFor({ state: 'detached' });
    expect((await fetch(`${session.application.url}/api/shots/${shot}`)).status).to.equal(404);
    expect(session.complaints).to.deep.equal([]);
  });
});
