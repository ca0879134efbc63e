// From a complaint about fireflies to the kept cure, on the storm lantern: which paths made them, and what each cure leaves.
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { readExr } from '@dusting/core/formats';
import { effectOf, type Remedy } from '@dusting/core/diagnose';
import type { Shot } from '../../packages/web/src/api.ts';
import { keepPicture, makeSmall, markRegion, openSession, picturesWanted, startWithDemo, test, textOf, type Session } from '../application.ts'; // prettier-ignore

const MINUTES = 60_000;
const FRAME = picturesWanted ? { width: 400, height: 225 } : { width: 96, height: 54 };

describe('fireflies', function () {
  this.timeout(5 * MINUTES);
  let session: Session;
  let page: Page;
  let id: number;
  const get = async (path: string) => (await fetch(`${session.application.url}/api/${path}`)).json();
  const finished = (proof: string) => page.locator(`${test(`proof-${proof}`)} ${test('noise')}`).waitFor({ timeout: 3 * MINUTES }); // prettier-ignore
  const effect = async (column: 'predicted' | 'measured') => parseFloat(await textOf(page, `${test('remedy-standIn')} ${test('effect-fireflies')} ${test(column)}`)); // prettier-ignore

  before(async () => {
    session = await openSession(await startWithDemo('fireflies'));
    page = session.page;
    const shots = (await get('shots')) as { id: number; name: string }[];
    id = shots.find(({ name }) => name === 'LH-020')!.id;
    await makeSmall(session.application.url, id, { ...FRAME, pixelSamples: 16 });
  });
  after(() => session?.close());
  afterEach(function () {
    if (this.currentTest?.state === 'failed') return page.screenshot({ path: 'data/failed.png' });
  });

  it('are marked, and explained by the flame behind glass', async () => {
    await page.click(test('open-LH-020'));
    await page.click(test('render-final'));
    await finished('P1');
    await page.click(test('tab-defect'));
    await markRegion(page, FRAME, [0.02, 0.04], [0.98, 0.96]);
    await page.click(test('mark-fireflies'));
    await page.click(test('explain'));
    await page.locator(test('summary')).waitFor({ timeout: 3 * MINUTES });
    expect(await textOf(page, test('summary'))).to.match(
      /^\d+ fireflies in this region, one pixel in \d+\.\s*The brightest, at \(\d+, \d+\), is [\d.]+ times as bright as its surroundings\.\s*(\d+ of \d+|Of the \d+ brightest, \d+) come from flame through chimney glass onto (bench top|back wall)[.,]/,
    );
    expect(await textOf(page, test('cause-behindGlass'))).to.match(/^A small emitter behind glass, hit by chance \d+ %$/); // prettier-ignore
    // the clamp that takes the light of the flame away is said as well
    expect(await textOf(page, test('other'))).to.match(/The clamp \(indirect 6\) cuts off about [\d.]+ % of the light here\./); // prettier-ignore
    // of all renders that were made for the answer, none stays
    expect(((await get(`shots/${id}`)) as Shot).proofs.length).to.equal(1);
    await keepPicture(page, 'fireflies');
  });

  it('are marked on the picture, listed, and each shows its path', async () => {
    const pixels = page.locator(test('evidence-pixels'));
    if ((await pixels.getAttribute('open')) === null) await pixels.locator('summary').click();
    await page.check('#overlay-pixels');
    expect(await page.locator('.wall .mark').count()).to.be.above(10);
    await page.uncheck('#overlay-pixels');
    expect(await page.locator('.wall .mark').count()).to.equal(0);
    const paths = page.locator(test('evidence-paths'));
    if ((await paths.getAttribute('open')) === null) await paths.locator('summary').click();
    expect(await textOf(page, test('marked-vertex'))).to.match(/^◆ (chosen by chance, with a density of|throughput grows)/); // prettier-ignore
    await paths.locator(test('path-in-model')).first().click();
    await page.locator(test('model-canvas')).waitFor();
    await page.click(test('model-toggle'));
    await pixels.locator('button.link').first().click();
    await page.locator(test('region')).waitFor();
    await page.click(test('defect-1'));
  });

  it('the frame is repaired: its fireflies are replaced, and a mask says where', async () => {
    await page.click(test('export'));
    const [download] = await Promise.all([page.waitForEvent('download'), page.click(test('save-export/repaired'))]);
    expect(download.suggestedFilename()).to.match(/^LH-020_P1_repaired/);
    const { channels } = readExr(readFileSync(await download.path()));
    const replaced = channels.find(({ name }) => name === 'repaired.Y')!.data.reduce((sum, v) => sum + v, 0);
    expect(replaced).to.be.above(10);
  });

  it('cures are compared; stand-in lights and glass that lets them through are tried, measured and kept', async () => {
    const cures = page.locator(test('evidence-cures'));
    if ((await cures.getAttribute('open')) === null) await cures.locator('summary').click();
    expect(await cures.locator('tbody tr').count()).to.be.above(3);
    await page.click(test('take-standIn'));
    await page.locator(test('line-final.clearShadows')).waitFor();
    await keepPicture(page, 'fireflies-slip');
    await page.click(test('try'));
    await finished('T1');
    await page.click(test('tab-defect'));
    await page
      .locator(`${test('remedy-standIn')} ${test('measured')}`)
      .first()
      .waitFor();
    const { result } = (await get('defects/1/diagnosis?proof=1')) as { result: { remedies: Remedy[] } };
    const { now } = effectOf(
      result.remedies.find((r) => r.id === 'standIn')!,
      'fireflies',
    )!;
    expect(now).to.be.above(30);
    expect(await effect('measured')).to.be.below(0.6 * now!);
    expect(await effect('measured')).to.be.within(0.5 * (await effect('predicted')) - 3, 2 * (await effect('predicted')) + 3); // prettier-ignore
    await keepPicture(page, 'fireflies-measured');
    await page.click(test('tab-compare'));
    await page.fill(test('reason'), 'Lights stand in for the flame, and shine through its glass.');
    await page.click(test('keep'));
    await page.locator(test('decision')).waitFor();
    await page.click(test('defect-1'));
    await page.click(test('fixed'));
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
    expect(session.complaints).to.deep.equal([]);
  });
});
