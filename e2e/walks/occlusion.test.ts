// The way of a lighting TD from an occlusion layer that is wrong to one that is kept: black in the extracting room (LH-030), blind
// behind the cover of the scale (LH-060), empty in the yard (LH-050).
import { expect } from 'chai';
import type { Explanation } from '@dusting/core/diagnose';
import type { Page } from 'playwright-core';
import { chooseLayer, closeQuietly, keepPicture, makeSmall, markRegion, openRendered, picturesWanted, test, textOf, untilPixel, type Session } from '../application.ts'; // prettier-ignore

const FRAME = picturesWanted ? { width: 320, height: 180 } : { width: 128, height: 72 };

describe('occlusion', function () {
  this.timeout(300_000);
  let session: Session;
  let page: Page;
  const shown = (name: string) => page.locator(test(name)).first();
  before(async () => {
    session = await openRendered('occlusion', 'LH-030', { ...FRAME, pixelSamples: 4, specularSamples: 1 });
    page = session.page;
  });
  const effect = (remedy: string) => `${test(`remedy-${remedy}`)} ${test('effect-openness')}`;
  /** Marks all of the layer, and asks what is wrong with it. */
  async function askedWhy(): Promise<string> {
    await chooseLayer(page, 'occlusion');
    await shown('tab-defect').click();
    await markRegion(page, FRAME, [0.02, 0.02], [0.98, 0.98]);
    await shown('mark-occlusion').click();
    await shown('explain').click();
    await shown('summary').waitFor();
    return textOf(page, test('summary'));
  }
  /** Opens another shot, renders it, and has its layer explained. */
  async function explained(shot: string): Promise<string> {
    const { url } = session.application;
    const shots = (await (await fetch(`${url}/api/shots`)).json()) as { id: number; name: string }[];
    await makeSmall(url, shots.find(({ name }) => name === shot)!.id, { ...FRAME, pixelSamples: 4 });
    await page.goto(url);
    await page.click(test(`open-${shot}`));
    await shown('render-final').click();
    await page.locator(`${test('proof-P1')} ${test('noise')}`).waitFor();
    return askedWhy();
  }
  /** Takes a remedy and tries it: the mean of the layer is what was predicted of it. */
  async function tried(remedy: string): Promise<void> {
    const predicted = await textOf(page, `${effect(remedy)} ${test('predicted')}`);
    const [low, high] = /(\d+) to (\d+) %/.exec(predicted)!.slice(1).map(Number);
    await shown(`take-${remedy}`).click();
    await shown('try').click();
    await page.locator(`${test('proof-T1')} ${test('noise')}`).waitFor();
    // the layer that was looked at is shown again
    await page.locator(`${test('layer')}:has-text("occlusion")`).waitFor();
    await shown('tab-defect').click();
    await page.locator(`${effect(remedy)} ${test('measured')}`).waitFor();
    await keepPicture(page, `occlusion-tried-${remedy}`);
    expect(parseInt(await textOf(page, `${effect(remedy)} ${test('measured')}`))).to.be.within(low, high);
  }
  async function kept(reason: string): Promise<void> {
    await shown('tab-compare').click();
    await page.fill(test('reason'), reason);
    await shown('keep').click();
    await page.locator(`${test('decision')}:has-text("kept: ${reason.slice(0, 8)}")`).waitFor();
    await shown('defect-1').click();
    await shown('fixed').click();
    await page.locator(`${test('defect-state')}:has-text("fixed")`).waitFor();
  }

  after(() => closeQuietly(session));

  it('the layer is black, is marked, and explained: no limit in a closed room', async () => {
    const summary = await askedWhy();
    expect(summary).to.match(
      /^Without a distance limit (100|99\.\d) % of the rays meet something: the layer is 0 % open/,
    );
    expect(summary).to.match(/[\d.]+ m tells the surfaces apart best \([\d.]+ m to [\d.]+ m still read\)/);
    await shown('cause-distance').waitFor();
    await keepPicture(page, 'occlusion');
  });

  it('the layer follows a distance that is dragged, without a render; the distance goes on the slip', async () => {
    const mean = async () => Number(/mean (\d+) %/.exec(await textOf(page, test('evidence-distances')))![1]);
    const dial = shown('dial');
    await shown('dial-mean').waitFor();
    await dial.focus();
    await page.keyboard.press('End');
    const far = await mean();
    await page.keyboard.press('Home');
    expect(await mean()).to.be.above(95);
    expect(far).to.be.below(5);
    for (let i = 0; i < 40; i++) await page.keyboard.press('ArrowRight');
    expect(await mean()).to.be.within(far, 99);
    // what lies farther closes less, and contrast darkens what is half open
    const plain = await mean();
    await shown('dial-falloff').fill('2');
    const faded = await mean();
    expect(faded).to.be.above(plain);
    await shown('dial-contrast').fill('3');
    expect(await mean()).to.be.below(faded);
    await shown('dial-contrast').fill('1');
    await keepPicture(page, 'occlusion-dial');
    // for every pixel, over the picture
    await page.check('#dial-shown');
    await shown('dial-picture').waitFor({ state: 'detached' });
    const layer = shown('layer-on-picture');
    await layer.waitFor();
    const grays = () => layer.evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
    const before = await grays();
    const wide = await layer.evaluate((canvas: HTMLCanvasElement) => canvas.width);
    expect(await textOf(page, test('evidence-distances'))).to.match(/every pixel, \d+ rays each/);
    expect(wide).to.be.above(100);
    await keepPicture(page, 'occlusion-on-picture');
    await shown('dial-falloff').fill('0');
    for (let i = 0; i < 100 && (await grays()) === before; i++) await page.waitForTimeout(50);
    expect(await grays()).not.to.equal(before);
    await page.uncheck('#dial-shown');
    await layer.waitFor({ state: 'detached' });
    await shown('dial-picture').waitFor();
    await shown('dial-falloff').fill('2');
    await shown('dial-set').click();
    await shown('line-final.occlusion.distance').waitFor();
    await shown('line-final.occlusion.falloff').waitFor();
    await page.keyboard.press('Control+z');
    await shown('line-final.occlusion.distance').waitFor({ state: 'detached' });
  });

  it('the recommended distance is tried on the region, keeps its word, and is kept', async () => {
    await tried('distance');
    await kept('The room is closed.');
  });

  it('the kept layer is multiplied into the picture, with what it takes; corners are darkened twice', async () => {
    await page.keyboard.press('Escape');
    await shown('proof-T1').click();
    await chooseLayer(page, 'beauty');
    await shown('tab-look').click();
    await page.check('#mix-occlusion');
    const takes = async () =>
      Number(/It takes ([\d.]+) L\* on average/.exec(await textOf(page, test('occlusion-takes')))![1]);
    await shown('occlusion-takes').waitFor();
    expect(await textOf(page, test('occlusion-takes'))).to.contain('corners are darkened twice');
    const full = await takes();
    await shown('mixed').waitFor();
    await keepPicture(page, 'occlusion-composite');
    await shown('occlusion-strength').fill('0.5');
    for (let i = 0; i < 100 && (await takes()) >= full; i++) await page.waitForTimeout(100);
    expect(await takes()).to.be.within(0.3 * full, 0.6 * full);
    await shown('mix-reset').click();
    await shown('mixed').waitFor({ state: 'detached' });
  });

  it('the scale: what stands behind its cover comes back into the layer, as far as the cover is clear', async () => {
    const summary = await explained('LH-060');
    expect(summary).to.match(/nothing of what stands behind it: .*dial/);
    await tried('clear');
    await kept('The dial belongs into the layer.');
  });

  it('the yard: a distance of 0.2 m is next to nothing there; one that reads is kept, and the yard is looked at in clay', async () => {
    const summary = await explained('LH-050');
    expect(summary).to.match(
      /Only [\d.]+ % of the rays meet something within 0\.2 m, which is [\d.]+ px at the median depth/,
    );
    await tried('distance');
    await kept('Hives stand on the ground.');
    await shown('tab-settings').click();
    await page.locator('#set-clay').click();
    await page.locator('[role="option"]:has-text("yes")').click();
    await shown('line-final.clay').waitFor();
    await shown('try').click();
    await page.locator(`${test('proof-T2')} ${test('noise')}`).waitFor();
    await chooseLayer(page, 'beauty');
    // nothing is lit: the ground is white, and so are the hives where they stand free
    await untilPixel(page, 0.5, 0.9, ([r, g, b]) => r > 200 && r === g && g === b);
    await keepPicture(page, 'clay');
  });

  it('hit distances of every pixel stay as long as what they explain, and go with it', async () => {
    const { url } = session.application;
    const call = (path: string, method = 'GET') => fetch(`${url}/api/${path}`, { method });
    const { id } = ((await (await call('shots')).json()) as { id: number; name: string }[]).find(({ name }) => name === 'LH-050')!; // prettier-ignore
    const shot = (await (await call(`shots/${id}`)).json()) as { defects: { id: number }[]; proofs: { id: number; kind: string }[] }; // prettier-ignore
    const proof = shot.proofs.find(({ kind }) => kind === 'proof')!;
    const { result } = (await (await call(`defects/${shot.defects[0].id}/diagnosis?proof=${proof.id}`)).json()) as { result: Explanation }; // prettier-ignore
    const [{ kept }] = result.evidence.flatMap((e) => (e.type === 'dial' && 'kept' in e.shares ? [e.shares] : []));
    expect((await call(`blobs/${kept}`)).status).to.equal(200);
    expect((await call(`shots/${id}`, 'DELETE')).status).to.equal(200);
    expect((await call(`blobs/${kept}`)).status).to.equal(404);
  });
});
