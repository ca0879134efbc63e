// "The shadows crawl" in LH-030: from the complaint to settings that meet the limit, by somebody who does not know what a
// component is.
import AxeBuilder from '@axe-core/playwright';
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { keepPicture, makeSmall, markRegion, openSession, picturesWanted, startWithDemo, test, textOf, type Session } from '../application.ts'; // prettier-ignore

const MINUTES = 60_000;
const FRAME = picturesWanted ? { width: 320, height: 180 } : { width: 208, height: 117 };
const LIMIT = 1.2;

describe('the shadows crawl in the extracting room', function () {
  this.timeout(8 * MINUTES);
  let session: Session;
  let page: Page;
  const shown = (name: string) => page.locator(test(name));
  const picture = (name: string) => keepPicture(page, name);
  const finished = (name: string) => page.locator(`${test(`proof-${name}`)} ${test('noise')}`).waitFor({ timeout: 4 * MINUTES }); // prettier-ignore
  /** Noise and seconds that an option foretells. */
  async function foretold(id: string) {
    const text = await textOf(page, test(`option-${id}`));
    const [, noise] = /([\d.]+) L\*/.exec(text)!;
    const [, time, unit] = /(?:limit|over), ([\d.]+) (s|min)/.exec(text)!;
    return { text, noise: Number(noise), seconds: Number(time) * (unit === 'min' ? 60 : 1) };
  }

  before(async () => {
    session = await openSession(await startWithDemo('extracting'));
    page = session.page;
    const shots = (await (await fetch(`${session.application.url}/api/shots`)).json()) as {
      id: number;
      name: string;
    }[];
    if (!picturesWanted)
      await makeSmall(session.application.url, shots.find(({ name }) => name === 'LH-030')!.id, FRAME);
    await shown('open-LH-030').click();
    await shown('render-final').click();
    await finished('P1');
  });
  after(async () => {
    expect(session.complaints, 'problems that the page reported').to.deep.equal([]);
    await session.close();
  });

  it('the shadows below the table are marked and explained', async () => {
    await shown('tab-defect').click();
    await markRegion(page, FRAME, [0.55, 0.5], [0.95, 0.9]);
    await shown('mark-noise').click();
    await shown('explain').click();
    expect(await textOf(page, test('summary'))).to.match(/of the visible noise in this region is indirect diffuse\. It stands at [\d.]+ L\* \([\d.]+ to [\d.]+ L\*\), the limit is 1\.2 L\*/); // prettier-ignore
    await shown('to-plan').click();
  });

  it('a pilot is rendered, with its progress, and can be stopped', async () => {
    expect(await page.locator('.side').innerText()).to.contain('A pilot is a cheap render');
    await shown('pilot').click();
    await shown('pilot-running').waitFor();
    await shown('cancel-L1').click();
    await shown('pilot-running').waitFor({ state: 'detached' });
    await shown('pilot').click();
    await shown('pilot-running').waitFor();
    await shown('plan-summary').waitFor({ timeout: 4 * MINUTES });
  });

  it('the plan says what meets the limit in the least time, and what else could be had', async () => {
    expect(await textOf(page, test('plan-summary'))).to.match(
      /^As it is set now: [\d.]+ L\* in .* a frame\. The limit of 1\.2 L\* is met in the least time with \d+ pixel samples, \d+ diffuse, .* a frame\.$/,
    );
    const [now, plan, same, less] = [await foretold('present'), await foretold('plan'), await foretold('sameTime'), await foretold('sameNoise')]; // prettier-ignore
    expect(now.noise, 'as measured').to.be.above(LIMIT);
    expect(now.text).to.contain('16 pixel, 1 diffuse');
    expect(plan.noise).to.be.at.most(LIMIT + 0.05);
    expect(same.noise).to.be.below(now.noise);
    expect(less.seconds).to.be.below(now.seconds);
    expect(await page.locator(`${test('plan-chart')} .apexcharts-line-series path`).count()).to.be.above(0);
    await picture('plan');
    await page.getByText('Where the current noise comes from').click();
    expect(await textOf(page, test('plan-levels'))).to.match(/^within the diffuse samples \d+ %/);
    const { violations } = await new AxeBuilder({ page }).exclude('.apexcharts-canvas').analyze();
    expect(violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id)).to.deep.equal([]); // prettier-ignore
  });

  it('a stricter limit plans again; undo brings the old one back', async () => {
    const { seconds } = await foretold('plan');
    await shown('limit-sequence').click();
    await page.locator(`${test('plan-summary')}:has-text("limit of 0.5 L*")`).waitFor();
    expect((await foretold('plan')).seconds).to.be.above(2 * seconds);
    await page.keyboard.press('Control+z');
    await page.locator(`${test('plan-summary')}:has-text("limit of 1.2 L*")`).waitFor();
  });

  it('the plan goes on the slip, is tried on the region, and keeps its word', async () => {
    const plan = await foretold('plan');
    await shown('take-plan').click();
    await shown('line-final.diffuseSamples').waitFor();
    await shown('by-pilot').waitFor();
    const slip = await textOf(page, test('prediction'));
    expect(Number(/noise ([\d.]+) L\*/.exec(slip)![1]), slip).to.be.closeTo(plan.noise, 0.11);
    await shown('try').click();
    await finished('T1');
    const noise = parseFloat(await textOf(page, `${test('proof-T1')} ${test('noise')}`));
    // what splits bring is known to a factor of 0.6 to 1.4 of the variance, and either number is rounded to 0.1 L*
    expect(noise, 'measured, of what was predicted').to.be.within(Math.sqrt(0.6) * plan.noise - 0.1, 1.2 * plan.noise);
    await shown('tab-compare').click();
    expect(await textOf(page, test('predicted'))).to.match(/Predicted [\d.]+ (s|min), measured [\d.]+ (s|min)/);
    await page.fill(test('reason'), 'The walls carry the noise.');
    await shown('keep').click();
    await page.locator(`${test('decision')}:has-text("kept: The walls")`).waitFor();
    await shown('defect-1').click();
    await shown('fixed').click();
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
  });

  it('a sweep shows values side by side, marks the knee, and puts one on the slip; stopping keeps what is done', async () => {
    await shown('tab-settings').click();
    await shown('way-sweep').click();
    await shown('axis-values').fill('1, x');
    await shown('sweep-start').click();
    expect(await textOf(page, test('sweep-fault'))).to.contain('not a list of numbers');
    await shown('axis-values').fill('2, 4, 16, 4000');
    await shown('sweep-start').click();
    await shown('trial-16').waitFor({ timeout: 4 * MINUTES });
    await shown('sweep-stop').click();
    await shown('sweep-stop').waitFor({ state: 'detached' });
    expect(await page.locator('[data-test^="trial-"]').count(), 'of those that are done').to.equal(3);
    expect(await textOf(page, `${test('trial-4')} ${test('knee')}`)).to.contain('knee');
    await picture('sweep');
    await shown('trial-4').getByText('Put on the slip').click();
    await shown('line-final.pixelSamples').waitFor();
    await page.keyboard.press('Control+z');
    await shown('line-final.pixelSamples').waitFor({ state: 'detached' });
    await shown('sweep-delete').click();
    await shown('sweep-delete-yes').click();
    await page.locator('[data-test^="trial-"]').first().waitFor({ state: 'detached' });
  });

  it('a sweep over a surface, with a count of its own besides, tells how far each is from the scene as it is', async () => {
    const choose = async (list: string, label: string) => {
      await shown(list).last().click();
      await page.locator(`[role=option]:has(:text-is("${label}"))`).first().click();
    };
    await choose('axis-part', 'limewash');
    await choose('axis-parameter', 'base weight');
    await shown('axis-values').fill('0.4, 2');
    await shown('sweep-start').click();
    expect(await textOf(page, test('sweep-fault'))).to.contain('base weight: 2 is not within 0 to 1');
    await shown('axis-values').fill('0.4, 1');
    await shown('sweep-two').click();
    await choose('axis-parameter', 'pixel samples');
    await shown('axis-values').last().fill('4');
    await shown('sweep-start').click();
    await shown('trial-1-4').waitFor({ timeout: 4 * MINUTES });
    await page.locator(`${test('trial-1-4')} >> text=unchanged`).waitFor();
    expect(await textOf(page, test('trial-1-4'))).not.to.contain('ΔE');
    expect(await textOf(page, test('trial-0.4-4'))).to.match(/\d\.\d\d ΔE off unchanged/);
    const [sheet] = await Promise.all([page.waitForEvent('download'), shown('sweep-save').click()]);
    expect(sheet.suggestedFilename()).to.equal('LH-030_sweep.png');
    await shown('trial-0.4-4').getByText('Put on the slip').click();
    await page.locator(`${test('line-surfaces.limewash.base_weight')}:has-text("0.4")`).waitFor();
    await page.keyboard.press('Control+z');
    await shown('line-surfaces.limewash.base_weight').waitFor({ state: 'detached' });
    await shown('proof-P1').locator('.pick').click();
  });

  it('the plan of the kept settings calls them within the limit', async () => {
    await shown('tab-settings').click();
    await shown('way-plan').click();
    await page.locator(`${test('option-present')}:has-text("within the limit")`).waitFor();
    expect((await foretold('present')).text).to.not.contain('1 diffuse');
  });
});
