// The walk of a lighting TD through LH-010, from complaint to kept fix, in one go.
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { readExr, writeExr } from '@dusting/core/formats';
import { splitChannelName } from '@dusting/core/image';
import { PROOF_ATTRIBUTE } from '@dusting/core/render';
import type { Shot } from '../../packages/web/src/api.ts';
import {
  chooseLayer,
  keepPicture,
  makeSmall,
  markRegion,
  openSession,
  picturesWanted,
  pixelAt,
  startWithDemo,
  test,
  textOf,
  untilPixel,
  type Session,
} from '../application.ts';

/** Layers as another house might call them. */
const HOUSE_NAMES: Record<string, string> = {
  beauty: '',
  directDiffuse: 'dif_dir',
  indirectDiffuse: 'dif_ind',
  directSpecular: 'spec_dir',
  indirectSpecular: 'spec_ind',
  transmission: 'refraction',
  emission: 'emit',
  background: 'bg',
  depth: 'zdepth',
  normal: 'N',
  albedo: 'base_color',
};
const MINUTES = 60_000;
/** The frame of the demo shot where pictures are wanted, and fewer pixels else. */
const FRAME = picturesWanted ? { width: 400, height: 225 } : { width: 160, height: 90 };
const REVISION = picturesWanted ? 1 : 2;

describe('the jars on the sill', function () {
  this.timeout(15 * MINUTES);
  let session: Session;
  let page: Page;
  const picture = (name: string) => keepPicture(page, name);
  const noiseOf = async (proof: string) => parseFloat(await textOf(page, `${test(`proof-${proof}`)} ${test('noise')}`));
  const setField = async (path: string, value: number) => {
    const field = page.locator(`[id="set-${path}"]`);
    await field.fill(String(value));
    await page.waitForTimeout(1000); // the shot is read again after the edit before this one
    expect(await field.inputValue(), 'what is being typed stays').to.equal(String(value));
    await field.press('Enter');
    await page.locator(test(`line-final.${path.replace('/', '.')}`)).waitFor();
  };
  const finished = (proof: string) =>
    page.locator(`${test(`proof-${proof}`)} ${test('noise')}`).waitFor({ timeout: 10 * MINUTES });

  before(async () => {
    session = await openSession(await startWithDemo('jars'));
    if (!picturesWanted) await makeSmall(session.application.url, 1, FRAME);
    page = session.page;
  });
  after(() => session?.close());
  afterEach(function () {
    if (this.currentTest?.state === 'failed') return page.screenshot({ path: 'data/failed.png' });
  });

  it('opens the shot and renders a proof that gets sharper, and survives a reload', async () => {
    expect(await textOf(page, test('shot-LH-010'))).to.contain('limit 2.0 L*');
    await page.click(test('open-LH-010'));
    await page.locator('text=This shot has not been rendered yet').waitFor();
    await page.click(test('render-final'));
    // a coarse picture: the wall gives way to the orchard
    await page.locator(test('proof-P1')).waitFor();
    await untilPixel(page, 0.5, 0.3, ([r, g, b]) => r + g + b > 200 && g !== r);
    await page.locator(`${test('progress')}:has-text("left")`).waitFor({ timeout: 2 * MINUTES });
    await picture('rendering');
    await page.reload();
    await page.locator(test('cancel-P1')).waitFor();
    await finished('P1');
    expect(await noiseOf('P1')).to.be.above(2);
    // light that is missing counts before noise, on the shelf and where it leads to
    expect(await textOf(page, test('findings-P1'))).to.match(/^✕ \d+ % cut off$/);
    await page.click(test('findings-P1'));
    await page.getByText(/✕ The total depth of 8 cuts off about [\d.]+ % of the light\./).waitFor();
  });

  it('looks: layers, exposure, shadow check, single pixels with their standard error', async () => {
    const dark = await pixelAt(page, 0.38, 0.6);
    await page.keyboard.press('s');
    await page.waitForTimeout(200);
    const lifted = await pixelAt(page, 0.38, 0.6);
    expect(lifted[0] + lifted[1] + lifted[2]).to.be.above(dark[0] + dark[1] + dark[2]);
    await page.keyboard.press('s');
    await page.keyboard.press('s');
    const box = (await page.locator(test('picture')).boundingBox())!;
    expect((box.width * box.height) / (1280 * 800), 'share of the window that is picture').to.be.at.least(0.55);
    await page.mouse.move(box.x + box.width * 0.38, box.y + box.height * 0.6);
    await page.locator(test('pixel-error')).waitFor();
    expect(await textOf(page, test('readout'))).to.match(/R [\d.]+ G [\d.]+ B [\d.]+ ± [\d.]+ .*16 samples/);
    await page.mouse.wheel(0, -2200);
    await page.waitForTimeout(300);
    await picture('pixels');
    await page.mouse.move(0, 0);
    await chooseLayer(page, 'transmission');
    await page.keyboard.press('0');
    await page.waitForTimeout(600);
    await untilPixel(page, 0.5, 0.2, (c) => c.every((v) => v === 0)); // the orchard is not transmitted light
    await chooseLayer(page, 'beauty');
  });

  it('points at the black glass and at the noise', async () => {
    await page.click(test('tab-defect'));
    await markRegion(page, FRAME, [0.3, 0.42], [0.45, 0.74]);
    await page.click(test('mark-glass'));
    expect(await textOf(page, test('defect-1'))).to.contain('D1');
    await page.mouse.move(640, 5);
    expect(await textOf(page, test('cut-off'))).to.match(/Light cut off: total depth \d+ %/);
    await page.keyboard.press('Escape');
    await markRegion(page, FRAME, [0.55, 0.45], [0.69, 0.76]);
    await page.click(test('mark-noise'));
    expect(await textOf(page, test('defect-state'))).to.contain('open');
  });

  it('learns the cause in numbers', async () => {
    await page.click(test('explain'));
    await page.locator(test('summary')).waitFor();
    expect(await textOf(page, test('summary'))).to.match(
      /^\d+ % of the visible noise in this region is transmission\. It stands at [\d.]+ L\* \([\d.]+ to [\d.]+ L\*\), the limit is 2\.0 L\*\. .*(transmission|pixel) samples .* a frame\./,
    );
    await page
      .locator(`${test('evidence-shares')} .apexcharts-bar-area`)
      .nth(1)
      .waitFor();
    // what else is wrong in the same place
    expect(await textOf(page, test('other'))).to.match(
      /^✕ The \w+ depth of \d cuts off about [\d.]+ % of the light here\./,
    );
    await page.check('#overlay-map');
    expect(await page.locator('svg.overlay rect').count()).to.be.above(8);
    await page.locator(`${test('defect-state')}:has-text("explained")`).waitFor();
    await page.mouse.move(640, 5);
    await picture('bench');
    await page.uncheck('#overlay-map');
  });

  it('changes limits and samples on the slip, which says what bites and what it will cost', async () => {
    await page.click(test('take-transmissionSamples'));
    await page.locator(test('line-final.transmissionSamples')).waitFor();
    await page.click(test('tab-settings'));
    await setField('transmissionSamples', 4);
    await setField('depth/transmission', 32);
    expect(await textOf(page, test('slip-note'))).to.contain(
      'total depth of 8 bites before the transmission depth of 32',
    );
    await setField('depth/total', 48);
    await page.locator(test('slip-note')).waitFor({ state: 'detached' });
    await page.locator(`${test('prediction')}:has-text("a frame")`).waitFor();
    await picture('change-slip');
    // what the trial will be held against is predicted for the region that it is tried on
    await page.click(test('defect-1'));
    await page.locator('.wall').focus();
    await page.keyboard.press('Control+z');
    await page.locator(test('slip-note')).waitFor();
    await page.keyboard.press('Control+Shift+z');
    await page.locator(test('slip-note')).waitFor({ state: 'detached' });
    await page.locator(`${test('prediction')}:has-text("a frame")`).waitFor();
  });

  it('tries them on the region, compares, and keeps the change with a reason', async () => {
    await page.click(test('defect-1'));
    await page.click(test('try'));
    await finished('T1');
    await page.click(test('tab-compare'));
    const measured = await textOf(page, test('predicted'));
    expect(measured).to.match(/Predicted [\d.]+ (s|min), measured [\d.]+ (s|min)/);
    const rows = await textOf(page, test('comparison'));
    expect(rows).to.match(/Noise [\d.]+ L\* [\d.]+ L\*/);
    // a trial of the region against the frame: only what is of the region, or of neither, stands there
    expect(rows).to.match(/Time of the region [\d.]+ s [\d.]+ s/);
    expect(rows).to.match(/Memory of the scene, without film [\d.]+ MB [\d.]+ MB/);
    expect(rows).to.not.contain('Frame time');
    const [, before, after] = /Mean luminance ([\d.]+) ([\d.]+)/.exec(rows)!.map(Number);
    expect(after, 'the glass is brighter').to.be.above(1.2 * before);
    const apart = await textOf(page, test('apart'));
    expect(apart).to.match(/RMSE.*[\d.]+.*Structural similarity.*0\.\d{3}.*CIEDE2000.*[\d.]+ ΔE/);
    expect(await textOf(page, test('pay-off'))).to.match(/T1 is [\d.]+ times as efficient as P1/);
    const differs = await textOf(page, test('differs'));
    for (const line of ['final.depth.transmission 8 32', 'final.depth.total 8 48', 'final.transmissionSamples 2 4'])
      expect(differs).to.contain(line);
    for (const [mode, name] of [
      ['Wipe', 'wipe'],
      ['Side', 'side-by-side'],
      ['Difference', 'difference'],
    ]) {
      await page.click(`[aria-label^="Comparing"] button:has-text("${mode}")`);
      await picture(`compare-${name}`);
    }
    await page.click('[aria-label^="Comparing"] button:has-text("Wipe")');
    await page.fill(test('reason'), 'Three rows of jars need 18 crossings and more.');
    await page.click(test('keep'));
    await page.locator(test('decision')).waitFor();
    expect(await textOf(page, test('decision'))).to.contain('kept: Three rows');
    expect(await textOf(page, test('slip'))).to.contain('No pending changes');
  });

  it('takes the decision back and makes it again: the changes go back to the slip meanwhile', async () => {
    await page.click(test('undo'));
    await page.locator(test('line-final.depth.transmission')).waitFor();
    await page.locator(test('keep')).waitFor();
    await page.click(test('redo'));
    await page.locator(`${test('decision')}:has-text("kept: Three rows")`).waitFor();
    await page.locator(`${test('slip')}:has-text("No pending changes")`).waitFor();
  });

  it('renders P2 in full and marks the defect as fixed', async () => {
    await page.click(test('render-final'));
    await finished('P2');
    await page.click(test('tab-history'));
    expect(await textOf(page, test(`revision-${REVISION + 1}`))).to.contain('Three rows of jars');
    await page.click(test('defect-1'));
    await page.click(test('fixed'));
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
    await page.mouse.move(640, 5);
    await picture('fixed');
    await page.keyboard.press('Escape');
    await page.click(test('tab-look'));
    await page.locator(test('histogram')).waitFor();
    await page.click(`${test('mix-transmission')} .name`);
    await page.locator(test('mixed')).waitFor();
    await untilPixel(page, 0.5, 0.2, (c) => c.every((v) => v === 0)); // the orchard is not transmitted light
    await picture('look-mix');
    await page.click(test('mix-reset'));
    await page.click(test('sheet'));
    await page.locator(`${test('cell-P2')}:has-text("noise")`).waitFor();
    await page.waitForTimeout(3000);
    await picture('contact-sheet');
    await page.click('a.home');
    await page.locator(`${test('shot-LH-010')}:has-text("P2")`).waitFor();
    expect(await textOf(page, test('shot-LH-010')))
      .to.contain('noise')
      .and.to.not.contain('glass');
    await picture('shots');
    expect(session.complaints).to.deep.equal([]);
  });

  it('its layers, under the names of another house, come in as frames and add up; jars are known by their mattes', async () => {
    const { application } = session;
    const proof = await fetch(`${application.url}/api/proofs/1/file`);
    const { channels, metadata, ...own } = readExr(new Uint8Array(await proof.arrayBuffer()));
    delete metadata[PROOF_ATTRIBUTE];
    const named = channels.flatMap((c) => {
      const { layer, channel } = splitChannelName(c.name);
      const name = /^(objects|surfaces)\d\d$/.test(layer) ? layer : HOUSE_NAMES[layer];
      return name === undefined ? [] : [{ ...c, name: name ? `${name}.${channel}` : channel }];
    });
    const bytes = writeExr({ ...own, metadata, channels: named }, { compression: 'PIZ' });
    await page.setInputFiles(test('files'), { name: 'jars_0001.exr', mimeType: '', buffer: Buffer.from(bytes) });
    await page.click(test('import'));
    await page.click(test('tab-layers'));
    await page.locator(`${test('sum')}:has-text("7 parts of the light: they add up")`).waitFor();
    await page.mouse.move(400, 300);
    await page.locator(`${test('names')}:has-text("surfaces")`).waitFor();
    await page.mouse.move(640, 5);
    await picture('frames');
    await page.click(test('layer'));
    expect(await page.locator('[role=option]:has-text("jar")').count()).to.be.above(3);
    await page.keyboard.press('Escape');
    await page.click('a.home');
    expect(session.complaints).to.deep.equal([]);
  });

  it('what is left of the noise in the jars is planned away: pilot, plan, trial, kept', async () => {
    const number = (text: string, pattern: RegExp) => Number(pattern.exec(text)?.[1]);
    await page.click(test('open-LH-010'));
    await page.click(test('defect-2'));
    expect(await textOf(page, test('evidence-shares'))).to.contain('transmission');
    // what is enough for the shot is not for a still of it
    await page.click(test('tab-settings'));
    await page.click(test('way-plan'));
    await page.click(test('limit-still'));
    await page.click(test('pilot'));
    await page.locator(test('plan-summary')).waitFor({ timeout: 5 * MINUTES });
    const [now, plan] = [await textOf(page, test('option-present')), await textOf(page, test('option-plan'))];
    expect(now, 'by name').to.contain('4 transmission');
    expect(plan).to.contain('within the limit');
    const predicted = number(plan, /([\d.]+) L\*/);
    await page.click(test('take-plan'));
    await page.locator(test('by-pilot')).waitFor();
    await page.click(test('try'));
    await finished('T2');
    const measured = await noiseOf('T2');
    expect(measured / predicted, `${measured} of ${predicted} L*`).to.be.within(0.8, 1.2);
    await page.click(test('tab-compare'));
    await page.fill(test('reason'), 'The glass takes the samples.');
    await page.click(test('keep'));
    await page.locator(`${test('decision')}:has-text("kept: The glass")`).waitFor();
    await page.click(test('tab-settings'));
    await page.click(test('way-plan'));
    await page.locator(`${test('option-present')}:has-text("within the limit")`).waitFor();
    await page.click('a.home');
    expect(session.complaints).to.deep.equal([]);
  });

  for (const name of ['server', 'node', 'database'] as const)
    it(`everything is still there after the ${name} is killed`, async () => {
      const { application } = session;
      const read = async () => {
        for (let i = 0; ; i++)
          try {
            const answer = await fetch(`${application.url}/api/shots/1`);
            if (answer.ok) return (await answer.json()) as Shot;
            throw new Error(`status ${answer.status}`);
          } catch (error) {
            if (i > 120) throw error;
            await new Promise((resolve) => setTimeout(resolve, 500));
          }
      };
      const before = await read();
      const post = (path: string, body: object) =>
        fetch(`${application.url}/api/${path}`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        });
      await post('shots/1/proofs', { kind: 'proof', use: 'preview', region: { x: 20, y: 20, width: 160, height: 84 } });
      // it is under way
      for (let i = 0; i < 600 && (await read()).proofs.at(-1)!.state === 'queued'; i++) await new Promise((resolve) => setTimeout(resolve, 50)); // prettier-ignore
      const killed = application.pid(name);
      process.kill(killed, 'SIGKILL');
      let now = await read();
      for (let i = 0; i < 240 && now.proofs.at(-1)!.state !== 'done'; i++) {
        await new Promise((resolve) => setTimeout(resolve, 500));
        now = await read();
      }
      for (let i = 0; i < 240 && application.pid(name) === killed; i++) await new Promise((resolve) => setTimeout(resolve, 500)); // prettier-ignore
      expect(application.pid(name)).to.not.equal(killed);
      expect(now.proofs.at(-1)!.state, 'the render that was under way was finished').to.equal('done');
      expect(now.proofs.length).to.equal(before.proofs.length + 1);
      expect(now.defects).to.deep.equal(before.defects);
      expect(now.revisions).to.deep.equal(before.revisions);
      const proof = now.proofs[0].id;
      const layer = await fetch(`${application.url}/api/proofs/${proof}/layers/beauty`);
      expect((await layer.arrayBuffer()).byteLength).to.equal(FRAME.width * FRAME.height * 3 * 2);
    });
});
