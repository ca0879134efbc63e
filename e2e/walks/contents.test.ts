// The contents in their breadth: searched, many changed at once, the environment swapped, lights linked, single objects seen,
// and two windows that edit at the same time.
import { expect } from 'chai';
import type { Page } from 'playwright-core';
import { writeHdr } from '@dusting/core/formats';
import type { Shot } from '../../packages/web/src/api.ts';
import {
  keepPicture,
  openSession,
  startWithDemo,
  pixelAt,
  test,
  textOf,
  untilPixel,
  type Session,
} from '../application.ts';

const MINUTES = 60_000;

describe('the contents of a shot', function () {
  this.timeout(5 * MINUTES);
  let session: Session;
  let page: Page;
  const shown = (name: string) => page.locator(test(name));
  const rows = () => page.locator(`${test('content-list')} li`).count();
  const shot = async (): Promise<Shot> => (await fetch(`${session.application.url}/api/shots/1`)).json();
  /** The slip as the server has it, once it has heard of so many lines: the page shows an edit before that. */
  /** The slip, once it has so many lines on the server, and says something. */
  async function slipOf(lines: number, said = '') {
    for (let i = 0; ; i++) {
      const { slip } = await shot();
      if (slip.length === lines && JSON.stringify(slip).includes(said)) return slip;
      if (i > 50) throw new Error(`the slip has ${slip.length} lines, not ${lines}`);
      await page.waitForTimeout(100);
    }
  }
  async function all() {
    if (await shown('content-back').isVisible()) await shown('content-back').click();
    await shown('content-search').fill('');
  }
  async function open(kind: string, name: string) {
    await all();
    await shown('content-search').fill(name);
    await page.locator(`[data-test^="content-${kind}-"]`).first().click();
    await shown('content-name').waitFor();
  }
  /** Puts the focus on the page, so that keys are no text. */
  const leave = () => page.locator('body').click({ position: { x: 500, y: 5 } });

  before(async () => {
    session = await openSession(await startWithDemo('contents'));
    page = session.page;
    await page.getByText('Open the bench').first().click();
    await shown('tab-contents').click();
    await shown('content-list').waitFor();
  });
  after(async () => {
    expect(session.complaints, 'problems that the page reported').to.deep.equal([]);
    await session.close();
  });

  it('are found by name, kind and state, and by what they are used with', async () => {
    const every = await rows();
    await shown('content-search').fill('honey');
    expect(await rows()).to.be.lessThan(every);
    await shown('kind-surface').click();
    expect(await rows(), 'clear and set honey').to.equal(2);
    await all();
    await shown('kind-surface').click();
    await shown('content-state').selectOption({ label: 'lets light through' });
    const clear = await rows();
    await shown('content-state').selectOption({ label: 'used by nothing' });
    expect([clear > 5, await rows()]).to.deep.equal([true, 0]);
    expect(await page.getByText('Nothing is found').count()).to.equal(1);
    await shown('content-state').selectOption({ label: 'in any state' });
    await open('surface', 'lid');
    await shown('list-these').click();
    expect(await rows(), 'its seven lids').to.equal(7);
    await page.getByLabel('Show all').click();
  });

  it('a flag of all jars is one edit, and they are found by it', async () => {
    await open('surface', 'jar glass');
    await shown('select-all').click();
    expect(await textOf(page, test('content-name'))).to.equal('13 objects');
    await shown('parameter-castsShadows').locator('input').uncheck();
    await shown('line-objects.jar-13.castsShadows').waitFor();
    await slipOf(13);
    await all();
    await shown('content-state').selectOption({ label: 'casts no shadow' });
    expect(await rows()).to.equal(13);
    await shown('content-state').selectOption({ label: 'changed on the slip' });
    expect(await rows()).to.equal(13);
    await shown('content-state').selectOption({ label: 'in any state' });
    await leave();
    await page.keyboard.press('Control+z');
    await shown('line-objects.jar-13.castsShadows').waitFor({ state: 'detached' });
    await slipOf(0);
  });

  it('one object is seen alone, in grey', async () => {
    await open('object', 'jar 1');
    await shown('isolate-objects').click();
    await shown('isolated').waitFor();
    await untilPixel(page, 0.9, 0.9, ([r, g, b]) => Math.abs(r - g) + Math.abs(g - b) < 60); // no sill any more
    await shown('isolate-grey').click();
    expect(await textOf(page, test('isolated'))).to.contain('only jar 1, grey surfaces');
    await shown('isolate-end').click();
    await shown('isolated').waitFor({ state: 'detached' });
  });

  it('the sky is a gradient, then another picture, and the camera sees something else', async () => {
    await open('environment', 'environment');
    await shown('environment-gradient').click();
    await shown('line-environment.gradient').waitFor();
    await untilPixel(page, 0.2, 0.25, ([r, , b]) => b > r + 5); // a bluish sky behind the jars
    const bytes = writeHdr(
      4,
      2,
      Float32Array.from({ length: 24 }, (_, i) => (i % 3 === 1 ? 1 : 0.05)),
    );
    await shown('replace-environment').setInputFiles({ name: 'meadow.hdr', mimeType: 'image/vnd.radiance', buffer: Buffer.from(bytes) }); // prettier-ignore
    await page.locator(`${test('line-environment.picture')}:has-text("meadow.hdr")`).waitFor();
    await untilPixel(page, 0.2, 0.25, ([r, g, b]) => g > 2 * r && g > 2 * b);
    await shown('own-background').check();
    await untilPixel(page, 0.2, 0.25, ([r, g, b]) => Math.abs(r - g) < 4 && Math.abs(g - b) < 4 && g > 150);
    await page.getByText('Throw away').click();
    await untilPixel(page, 0.2, 0.25, ([r, g, b]) => g > r && g > b && r > 60); // the orchard
  });

  it('what the preview cannot follow is said, and the next edit is followed', async () => {
    await open('environment', 'environment');
    await page.route('**/api/blobs/*', (route) => route.abort());
    const bytes = writeHdr(4, 2, new Float32Array(24).fill(0.4));
    await shown('replace-environment').setInputFiles({ name: 'mist.hdr', mimeType: 'image/vnd.radiance', buffer: Buffer.from(bytes) }); // prettier-ignore
    await shown('live-fault').waitFor();
    expect(await textOf(page, test('live-fault'))).to.contain('The preview could not follow');
    await page.unroute('**/api/blobs/*');
    await page.getByText('Throw away').click();
    await shown('live-fault').waitFor({ state: 'detached' });
    await slipOf(0);
  });

  it('the camera gets a lens: radius and focus are edited in units, and stand on the slip', async () => {
    await open('camera', 'shot camera');
    await page.getByText('Depth of field').click();
    const type = async (key: string, value: string) => {
      await shown(`parameter-${key}`).locator('input').fill(value);
      await page.keyboard.press('Enter');
    };
    await type('focusDistance', '0.5 m');
    await type('apertureRadius', '40 mm');
    await page.locator(`${test('line-cameras.shot-camera.apertureRadius')}:has-text("0.04")`).waitFor();
    await slipOf(2, 'focusDistance');
    await keepPicture(page, 'depth-of-field');
    await page.getByText('Throw away').click();
    await slipOf(0);
  });

  it('a light that is linked to the sill alone lights nothing else', async () => {
    await open('light', 'door');
    await shown('choose-linked').click();
    await page.getByRole('button', { name: 'none', exact: true }).click();
    await page.getByLabel('Search the objects').fill('sill');
    await page.getByRole('checkbox', { name: 'sill', exact: true }).check();
    await page.locator(`${test('line-lights.door-panel.linked')}:has-text("sill")`).waitFor();
    // what was chosen before is saved first
    expect(await slipOf(1, 'sill')).to.deep.include({ op: 'replace', path: '/lights/door-panel/linked', value: ['sill'] }); // prettier-ignore
    await all();
    await shown('content-state').selectOption({ label: 'lights only some objects' });
    expect(await rows()).to.equal(1);
    await shown('content-state').selectOption({ label: 'in any state' });
    await page.getByText('Throw away').click();
    await slipOf(0);
  });

  it('a name is dragged, and the value follows; it is one step back', async () => {
    await open('surface', 'set honey');
    const name = shown('parameter-specular_roughness').locator('label');
    await name.scrollIntoViewIfNeeded();
    const box = (await name.boundingBox())!;
    await page.mouse.move(box.x + 10, box.y + 10);
    await page.mouse.down();
    for (let i = 1; i <= 8; i++) await page.mouse.move(box.x + 10 + i * 5, box.y + 10);
    const value = async () => Number(await shown('parameter-specular_roughness').locator('input').inputValue());
    expect(await value(), 'while it is dragged').to.be.greaterThan(0.5);
    expect((await shot()).slip, 'and not before it is let go').to.deep.equal([]);
    await page.mouse.up();
    await shown('line-surfaces.set-honey.specular_roughness').waitFor();
    await page.keyboard.press('Control+z');
    await shown('line-surfaces.set-honey.specular_roughness').waitFor({ state: 'detached' });
    await shown('parameter-specular_roughness').locator('input').fill('0.3');
    await page.keyboard.press('Enter');
    await page.getByLabel('roughness as imported').click();
    await shown('line-surfaces.set-honey.specular_roughness').waitFor({ state: 'detached' });
  });

  it('two windows that edit at once: neither goes over the other unasked', async () => {
    const second = await page.context().newPage();
    await second.goto(page.url());
    await second.locator(test('tab-contents')).click();
    await second.locator(test('content-list')).waitFor();
    // the second hears nothing of the first before its own edit is on its way
    let hears = false;
    await second.route('**/api/shots/1', (route) => (hears ? route.continue() : route.abort()));
    await second.route('**/api/shots/1/slip', (route) => {
      hears = true;
      return route.continue();
    });
    await page.bringToFront();
    await open('surface', 'set honey');
    await shown('parameter-specular_ior').locator('input').fill('1.4');
    await page.keyboard.press('Enter');
    await shown('line-surfaces.set-honey.specular_ior').waitFor();
    await slipOf(1);
    await second.bringToFront();
    await second.locator(test('content-search')).fill('lid');
    await second.locator('[data-test^="content-surface-"]').first().click();
    await second.locator(`${test('parameter-specular_roughness')} input`).fill('0.5');
    await second.keyboard.press('Enter');
    await second.locator(test('other-window')).waitFor();
    const told = await textOf(second, test('other-window'));
    expect(told).to.contain('set honey: IOR 1.4');
    await second.locator(test('keep-mine')).click();
    await second.locator(test('other-window')).waitFor({ state: 'detached' });
    await page.bringToFront();
    await shown('other-window').waitFor();
    expect(await textOf(page, test('other-window'))).to.contain('lid: specular roughness 0.5');
    await second.close();
  });

  it('the picture under the pointer is read, and the colour is that of the preview', async () => {
    await shown('other-window').locator('button').first().click();
    const box = (await shown('picture').boundingBox())!;
    await page.mouse.move(box.x + box.width * 0.2, box.y + box.height * 0.25);
    await page.locator(`${test('live-readout')}:has-text("background")`).waitFor();
    const [, sent] = /shown (\d+ \d+ \d+)/.exec(await textOf(page, test('live-readout')))!;
    const seen = await pixelAt(page, 0.2, 0.25);
    sent.split(' ').forEach((c, k) => expect(Number(c)).to.be.closeTo(seen[k], 2));
  });
});
