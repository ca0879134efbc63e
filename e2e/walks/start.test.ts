// The first minute: pictures stand on the page of shots before anybody renders, and say where to begin.
import { join } from 'node:path';
import { expect } from 'chai';
import { startApplication } from '../../scripts/lib/application.mjs';
import { DATA, keepPicture, openSession, test, textOf, type Session } from '../application.ts';

describe('the first start', function () {
  this.timeout(300_000);
  let session: Session;
  before(async () => {
    session = await openSession(await startApplication({ dataFolder: join(DATA, 'start'), port: 0 }));
  });
  after(() => session?.close());

  it('shows each demo shot by a preview that was rendered in the background, and says where to begin', async () => {
    const { page } = session;
    expect(await textOf(page, test('begin'))).to.match(/^Begin with a demo shot/);
    for (const name of ['LH-010', 'LH-020', 'LH-030']) {
      const canvas = page.locator(`${test(`shot-${name}`)} canvas`);
      await canvas.waitFor();
      // a picture is more than one colour
      await page.waitForFunction(
        (selector) => {
          const element = document.querySelector<HTMLCanvasElement>(selector);
          const data = element?.getContext('2d')?.getImageData(0, 0, element.width, element.height).data;
          return data !== undefined && new Set(data.filter((_, i) => i % 4 === 0)).size > 20;
        },
        `${test(`shot-${name}`)} canvas`,
      );
      await page.locator(`${test(`shot-${name}`)}:has-text("P1")`).waitFor();
    }
    await keepPicture(page, 'start');
  });

  it('a render says before what it is expected to take, and the picture of before stays until it has one', async () => {
    const { page } = session;
    await page.locator(`${test('shot-LH-010')}:has-text("1 in all")`).waitFor();
    await page.click(test('open-LH-010'));
    await page.locator(`${test('render-final')}:has-text("about")`).waitFor();
    expect(await textOf(page, test('render-preview'))).to.match(/^Preview about [\d.]+ (s|min)$/);
    await page.click(test('render-preview'));
    await page.locator(test('proof-P2')).waitFor();
    const black = await page.locator(test('picture')).evaluate((element) => {
      const canvas = element as HTMLCanvasElement;
      const copy = document.createElement('canvas');
      Object.assign(copy, { width: canvas.width, height: canvas.height });
      const context = copy.getContext('2d')!;
      context.drawImage(canvas, 0, 0);
      const [r, g, b] = context.getImageData(canvas.width / 2, canvas.height / 2, 1, 1).data;
      return r + g + b === 0;
    });
    expect(black).to.equal(false);
    expect(session.complaints).to.deep.equal([]);
  });
});
