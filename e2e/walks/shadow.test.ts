// The way of a lighting TD who misses a shadow on LH-050, the apiary yard: from the place where it should be to a kept fix.
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { closeQuietly, keepPicture, markRegion, openRendered, picturesWanted, test, textOf, type Session } from '../application.ts'; // prettier-ignore

const FRAME = picturesWanted ? { width: 320, height: 180 } : { width: 160, height: 90 };

describe('shadow', function () {
  this.timeout(300_000);
  let session: Session;
  let page: Page;
  const shown = (name: string) => page.locator(test(name)).first();
  before(async () => {
    session = await openRendered('shadow', 'LH-050', { ...FRAME, pixelSamples: picturesWanted ? 16 : 4 });
    page = session.page;
  });
  after(() => closeQuietly(session));

  it('beside the second hive there is no shadow: the hive casts none', async () => {
    await shown('tab-defect').click();
    await markRegion(page, FRAME, [0.375, 0.655], [0.51, 0.72]);
    await shown('mark-shadow').click();
    await shown('explain').click();
    await shown('summary').waitFor();
    expect(await textOf(page, test('summary'))).to.match(/hive 2 stands between evening sun and \d+ % of this region, and is set to cast no shadows/); // prettier-ignore
    await shown('cause-flag:hive-2').waitFor();
    expect(await textOf(page, test('evidence-lights'))).to.contain('passes what stands between');
  });

  it('the shadow of the skep is there, and the second sun fills it', async () => {
    await page.keyboard.press('Escape');
    await markRegion(page, FRAME, [0.7, 0.79], [0.88, 0.85]);
    await shown('mark-shadow').click();
    await shown('explain').click();
    await page.locator(`${test('summary')}:has-text("deep here")`).waitFor();
    expect(await textOf(page, test('summary'))).to.match(/The shadow of evening sun is only [\d.]+ L\* deep here, filled by second sun \(\d+ % of the light here\)/); // prettier-ignore
  });

  it('the mast stands beyond the range of shadows, and the lamp is linked elsewhere: drawn on the picture', async () => {
    await page.keyboard.press('Escape');
    await markRegion(page, FRAME, [0.19, 0.83], [0.84, 0.98]);
    await shown('mark-shadow').click();
    await shown('explain').click();
    await page.locator(`${test('summary')}:has-text("mast stands")`).waitFor();
    expect(await textOf(page, test('summary'))).to.match(/evening sun throws the shadows of what stands nearer than 12 m alone/); // prettier-ignore
    expect(await textOf(page, test('summary'))).to.match(/lies 9\.08 km from the origin/);
    for (const id of ['range:evening-sun', 'notLinked:work-lamp', 'origin']) await shown(`remedy-${id}`).waitFor();
    await shown('evidence-map-evening-sun').waitFor();
    await shown('evidence-scale').waitFor();
    await page.click(`${test('evidence-map-evening-sun')} summary`);
    await page.check('#overlay-map-evening-sun');
    await keepPicture(page, 'shadow');
  });

  it('the mast is named as what should throw it: where its shadow would be, and the rays to each light in the model', async () => {
    await shown('expected-object').click();
    await page.locator('.p-select-filter').fill('mast');
    await page.getByRole('option', { name: 'mast', exact: true }).click();
    await page.locator(`${test('summary')}:has-text("mast stands between evening sun")`).waitFor();
    expect(await textOf(page, test('summary'))).to.contain('None is there, because mast stands outside of the shadow range of the light.'); // prettier-ignore
    await shown('evidence-caster-evening-sun').waitFor();
    await page.click(`${test('evidence-caster-evening-sun')} summary`);
    await page.check('#overlay-caster-evening-sun');
    await keepPicture(page, 'caster');
    await page.click(`${test('evidence-rays')} summary`);
    expect(await textOf(page, test('evidence-rays'))).to.match(/evening sun (nothing between|stopped by).*second sun/);
    await shown('rays-in-model').click();
    await shown('model-canvas').waitFor();
    await page.getByText('Loading the meshes').waitFor({ state: 'detached' });
    await keepPicture(page, 'rays');
    // the question is taken back like any edit
    await page.locator(test('picture')).focus();
    await page.keyboard.press('Control+z');
    await page.locator(`${test('expected-object')}:has-text("Any")`).waitFor();
  });

  it('the sun is dragged in the model, where its shadow is drawn; undo takes it back', async () => {
    await shown('tab-contents').click();
    await page.fill(test('content-search'), 'evening');
    await shown('content-light-evening-sun').click();
    await shown('model-shadow').click();
    await shown('model-drag').click();
    const box = (await shown('model-canvas').boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 40, y - 20, { steps: 4 });
    await page.mouse.up();
    // a quarter of a degree for a pixel: across, and upwards
    const line = page.locator(test('line-lights.evening-sun.transform'));
    await line.waitFor();
    const [, heading, pitch, then, higher] = /(-?\d+)° \/ (-?\d+)° .*?(-?\d+)° \/ (-?\d+)°/.exec((await line.textContent())!)!.map(Number); // prettier-ignore
    expect([then - heading, higher - pitch]).to.deep.equal([10, -5]);
    await keepPicture(page, 'model-shadow');
    await page.locator(test('picture')).focus();
    await page.keyboard.press('Control+z');
    await line.waitFor({ state: 'detached' });
    await shown('model-drag').click();
    await shown('tab-defect').click();
  });

  it('the hop poles at the horizon are cut off by the far distance of the camera', async () => {
    // a region elsewhere leaves the defect that is selected
    await markRegion(page, FRAME, [0.1, 0.19], [0.9, 0.27]);
    await shown('mark-shadow').click();
    await shown('explain').click();
    await page.locator(`${test('summary')}:has-text("shows nothing beyond 430 m")`).waitFor();
    expect(await textOf(page, test('summary'))).to.contain('hop poles');
    await shown('remedy-clipped:far').waitFor();
    // where they would stand
    const map = shown('evidence-clipped');
    await map.evaluate((details: HTMLDetailsElement) => (details.open = true));
    expect(await map.innerText()).to.contain('hop poles');
    await page.locator('#overlay-clipped').check();
    await map.scrollIntoViewIfNeeded();
    await keepPicture(page, 'shadow-clipped');
    await page.locator('#overlay-clipped').uncheck();
  });

  it('the hive is let to cast its shadow; the region grows as dark as was predicted, and it is kept', async () => {
    await shown('defect-1').click();
    await shown('cause-flag:hive-2').waitFor();
    const effects = ['luminance', 'contrast'].map((name) => `${test('remedy-flag:hive-2')} ${test(`effect-${name}`)}`);
    const ranges: number[][] = [];
    for (const effect of effects)
      ranges.push((await textOf(page, `${effect} ${test('predicted')}`)).match(/[\d.]+/g)!.map(Number));
    await shown('take-flag:hive-2').click();
    await shown('line-objects.hive-2.castsShadows').waitFor();
    await shown('try').click();
    await page.locator(`${test('proof-T1')} ${test('noise')}`).waitFor();
    await shown('tab-defect').click();
    for (const [i, effect] of effects.entries()) {
      await page.locator(`${effect} ${test('measured')}`).waitFor();
      const measured = parseFloat(await textOf(page, `${effect} ${test('measured')}`));
      expect(measured, effect).to.be.within(0.95 * Math.min(...ranges[i]), 1.05 * Math.max(...ranges[i]));
    }
    await shown('tab-compare').click();
    await page.fill(test('reason'), 'Its flag was off.');
    await shown('keep').click();
    await page.locator(`${test('decision')}:has-text("kept: Its flag")`).waitFor();
    await shown('defect-1').click();
    await shown('fixed').click();
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
  });

  it('what lies beside the trial that is shown is marked on the proof that shows it', async () => {
    await shown('proof-T1').click();
    await shown('tab-defect').click();
    await markRegion(page, FRAME, [0.05, 0.2], [0.2, 0.3]);
    await shown('mark-shadow').click();
    await page.locator(`${test('proof-P1')}.chosen`).waitFor();
    await shown('explain').click();
    await shown('summary').waitFor();
    expect(await textOf(page, test('summary'))).to.contain('430 m');
  });
});
