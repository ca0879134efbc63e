// From a complaint about black glass to the kept fix: what limits cut off, the limits that would keep it, a trial of them.
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import type { Shot } from '../../packages/web/src/api.ts';
import {
  keepPicture,
  makeSmall,
  markRegion,
  openSession,
  startWithDemo,
  test,
  textOf,
  type Session,
} from '../application.ts';

const MINUTES = 60_000;
const FRAME = { width: 96, height: 54 };

describe('light that limits cut off', function () {
  this.timeout(5 * MINUTES);
  let session: Session;
  let page: Page;
  let id: number;
  const ask = (method: string, path: string, body?: object) =>
    fetch(`${session.application.url}/api/${path}`, { method, headers: { 'content-type': 'application/json' }, body: body && JSON.stringify(body) }); // prettier-ignore
  const shot = async () => (await (await ask('GET', `shots/${id}`)).json()) as Shot;
  const finished = (proof: string) => page.locator(`${test(`proof-${proof}`)} ${test('noise')}`).waitFor({ timeout: 3 * MINUTES }); // prettier-ignore
  const effect = async (column: 'predicted' | 'measured', measure: string) => parseFloat(await textOf(page, `${test('remedy-depths-90')} ${test(`effect-${measure}`)} ${test(column)}`)); // prettier-ignore

  before(async () => {
    session = await openSession(await startWithDemo('cutOff'));
    page = session.page;
    const shots = (await (await ask('GET', 'shots')).json()) as { id: number; name: string }[];
    id = shots.find(({ name }) => name === 'LH-010')!.id;
    await makeSmall(session.application.url, id, { ...FRAME, pixelSamples: 8 });
  });
  after(() => session?.close());
  afterEach(function () {
    if (this.currentTest?.state === 'failed') return page.screenshot({ path: 'data/failed.png' });
  });

  it('is marked where the glass is black, and explained by a render with open limits', async () => {
    await page.click(test('open-LH-010'));
    await page.click(test('render-final'));
    await finished('P1');
    await page.click(test('tab-defect'));
    await markRegion(page, FRAME, [0.3, 0.42], [0.45, 0.74]);
    await page.click(test('mark-other'));
    await page.click(test('explain'));
    await page.locator(test('summary')).waitFor({ timeout: 2 * MINUTES });
    expect(await textOf(page, test('summary'))).to.match(
      /^Limits cut off \d+ % of the light of this region \(measured by probes\), \d+ % of that by the total depth of 8\./,
    );
    expect(await textOf(page, test('cause-total'))).to.match(/^Light cut off by the total depth of 8 \d+ %$/);
    await page
      .locator(`${test('evidence-depths')} .apexcharts-line-series path`)
      .first()
      .waitFor();
    // its render was for this answer alone: nothing of it stays
    expect((await shot()).proofs.map(({ kind }) => kind)).to.deep.equal(['proof']);
    await keepPicture(page, 'cut-off');
  });

  it('shows its map on the picture, opens evidence large, and leads to pixels and settings', async () => {
    await page.click(`${test('evidence-map')} summary`);
    await page.check('#overlay-map');
    expect(await page.locator('svg.overlay rect').count()).to.be.above(5);
    await page.click(test('large-depths'));
    await page
      .locator(`${test('large')} .apexcharts-line-series path`)
      .first()
      .waitFor();
    await page.keyboard.press('Escape');
    await page.locator(test('large')).waitFor({ state: 'detached' });
    await page.click(`${test('evidence-path')} summary`);
    await page.click(test('path-in-model'));
    await page.locator(test('model-canvas')).waitFor();
    await keepPicture(page, 'path-in-model');
    await page.click(test('model-toggle'));
    await page.click(`${test('evidence-limits')} summary`);
    await page.click(`${test('evidence-limits')} button:has-text("total depth")`);
    await page.locator('[id="set-depth/total"]').waitFor();
    await page.click(test('defect-1'));
  });

  it('its remedy is tried, and measured beside what was predicted', async () => {
    await page.click(test('take-depths-90'));
    await page.locator(test('line-final.depth.total')).waitFor();
    await page.click(test('try'));
    await finished('T1');
    await page.click(test('tab-defect'));
    await page
      .locator(`${test('remedy-depths-90')} ${test('measured')}`)
      .first()
      .waitFor();
    const [predicted, measured] = [await effect('predicted', 'luminance'), await effect('measured', 'luminance')];
    // few pixels with caustics in them: their own noise is a few percent
    expect(measured / predicted).to.be.within(0.85, 1.15);
    expect(await effect('measured', 'lightCutOff')).to.be.below(20);
    await keepPicture(page, 'cut-off-measured');
  });

  it('is kept; the answer of before is out of date then, and is given again on request', async () => {
    await page.click(test('tab-compare'));
    await page.fill(test('reason'), 'The honey needs deeper paths.');
    await page.click(test('keep'));
    await page.locator(test('decision')).waitFor();
    await page.click(test('tab-defect'));
    await page.locator(test('out-of-date')).waitFor();
    expect(await textOf(page, test('out-of-date'))).to.contain('the shot was at revision 2 and is at 3');
    await page.click(test('explain-again'));
    await page.locator(test('out-of-date')).waitFor({ state: 'detached', timeout: 2 * MINUTES });
    await page.click(test('fixed'));
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
    expect(session.complaints).to.deep.equal([]);
  });

  it('one that is under way is cancelled, and leaves no render behind', async () => {
    const { defects, proofs } = await shot();
    const proof = proofs.find(({ kind }) => kind === 'proof')!.id;
    const path = `defects/${defects[0].id}/diagnosis`;
    const started = (await (await ask('POST', path, { proof, again: true })).json()) as { id: number; state: string };
    expect(started.state).to.equal('running');
    await ask('POST', `diagnoses/${started.id}/cancel`);
    const known = (await (await ask('GET', `${path}?proof=${proof}`)).json()) as { state: string };
    expect(known.state).to.equal('cancelled');
    expect((await shot()).proofs.map(({ kind }) => kind)).to.deep.equal(['proof', 'trial']);
  });
});
