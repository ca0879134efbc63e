// The way of a lighting TD who sees a swollen, cracked skep and a comb without cells on LH-040: from the marks to a kept fix.
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { closeQuietly, keepPicture, markRegion, openRendered, picturesWanted, test, textOf, type Session } from '../application.ts'; // prettier-ignore

const FRAME = picturesWanted ? { width: 320, height: 180 } : { width: 128, height: 72 };

describe('displacement', function () {
  this.timeout(300_000);
  let session: Session;
  let page: Page;
  const shown = (name: string) => page.locator(test(name)).first();
  before(async () => {
    session = await openRendered('displacement', 'LH-040', { ...FRAME, pixelSamples: picturesWanted ? 16 : 2 });
    page = session.page;
  });
  after(() => closeQuietly(session));

  afterEach(function () {
    if (this.currentTest?.state === 'failed') return page.screenshot({ path: 'data/failed.png' });
  });

  it('the skep is swollen and cracked: its neutral value, and the rule that pulls its UV borders in', async () => {
    await shown('tab-defect').click();
    await markRegion(page, FRAME, [0.08, 0.14], [0.5, 0.8]);
    await shown('mark-displacement').click();
    await shown('explain').click();
    await shown('summary').waitFor();
    expect(await textOf(page, test('summary'))).to.match(/The whole of skep swells by 11 mm: the map rests at 0\.5/);
    await shown('cause-neutral:skep').waitFor();
    await shown('cause-rule:skep').waitFor();
    expect(await shown('evidence-rules:skep').textContent()).to.match(/none \(now\).*boundaries\s*0(\.0\d*)? px/s);
    await keepPicture(page, 'displacement');
  });

  it('both remedies are tried on the region, keep their word, and are kept', async () => {
    const effect = `${test('remedy-neutral:skep')} ${test('effect-luminance')}`;
    const range = (await textOf(page, `${effect} ${test('predicted')}`)).match(/[\d.]+/g)!.map(Number);
    await shown('take-neutral:skep').click();
    await shown('line-surfaces.straw.displacement_neutral').waitFor();
    await shown('try').click();
    await page.locator(`${test('proof-T1')} ${test('noise')}`).waitFor();
    await shown('tab-defect').click();
    await page.locator(`${effect} ${test('measured')}`).waitFor();
    const measured = parseFloat(await textOf(page, `${effect} ${test('measured')}`));
    expect(measured).to.be.within(0.95 * Math.min(...range), 1.05 * Math.max(...range));
    await shown('take-rule:skep').click();
    await shown('line-objects.skep.uvRule').waitFor();
    await shown('try').click();
    await page.locator(`${test('proof-T2')} ${test('noise')}`).waitFor();
    await shown('tab-compare').click();
    await page.fill(test('reason'), 'Rests at a half; seams closed.');
    await shown('keep').click();
    await page.locator(`${test('decision')}:has-text("kept: Rests")`).waitFor();
    await shown('tab-defect').click();
    await shown('defect-1').click();
    await shown('fixed').click();
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
  });

  it('the comb has too few faces and grooves along its edges; subdivision stands beside its other settings', async () => {
    await shown('proof-P1').click();
    await page.keyboard.press('Escape');
    await markRegion(page, FRAME, [0.53, 0.34], [0.79, 0.76]);
    await shown('mark-displacement').click();
    await shown('explain').click();
    await shown('cause-padding:comb').waitFor();
    await shown('cause-coarse:comb').waitFor();
    // the widest seam: both of its sides in the map, and its place in the picture
    await shown('evidence-uv:comb').evaluate((e) => ((e as HTMLDetailsElement).open = true));
    await shown('evidence-uv:comb').locator(test('uv-seam-0')).click();
    await shown('uv-sides').waitFor();
    expect(await shown('uv-sides').textContent()).to.match(/-?[\d.e-]+ mm at U 0\.\d{3} V 0\.\d{3}.*mm at U/s);
    await page.locator(`${test('region-reading')}:has-text("Region 1 × 1 px")`).waitFor();
    // and in the model
    await shown('uv-in-model').click();
    await shown('model-canvas').waitFor();
    await page.getByText('Loading the meshes').waitFor({ state: 'detached' });
    const triangles = async () => Number((await textOf(page, test('model-status'))).match(/[\d,]+(?= triangles)/)![0].replaceAll(',', '')); // prettier-ignore
    const plain = await triangles();
    await shown('model-shaped').click();
    await page.waitForFunction(([of, before]) => Number(document.querySelector(of as string)!.textContent!.match(/[\d,]+(?= triangles)/)![0].replaceAll(',', '')) > 3 * (before as number), [test('model-status'), plain]); // prettier-ignore
    await keepPicture(page, 'seam-model');
    await shown('tab-contents').click();
    await page.fill(test('content-search'), 'comb');
    await shown('content-object-comb').click();
    expect(await page.locator(`${test('parameter-subdivisionLevels')} input`).inputValue()).to.equal('1');
    expect(await page.locator(`${test('parameter-uvRule')} select`).inputValue()).to.equal('cornersPlus1');
  });

  it('padding is kept in the map: a copy of it takes the place of the file, in one step', async () => {
    await shown('content-back').click();
    await page.fill(test('content-search'), 'comb-height');
    await page.locator('[data-test^="content-texture-"]').first().click();
    const padding = page.locator(`${test('parameter-padding')} input`).first();
    await padding.fill('8');
    await padding.press('Enter');
    await page.locator('[data-test^="line-textures."][data-test$=".padding"]').waitFor();
    await shown('bake-padding').click();
    const line = page.locator('[data-test^="line-textures."][data-test$=".name"]');
    await line.waitFor();
    expect(await line.innerText()).to.contain('padded.png');
    await keepPicture(page, 'padded-map');
    await shown('undo').click();
    await line.waitFor({ state: 'detached' });
  });
});
