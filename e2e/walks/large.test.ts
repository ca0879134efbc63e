// A frame of 4K with many layers stays fluent; every main view is in reach of the keyboard and of assistive technology.
import { expect } from 'chai';
import AxeBuilder from '@axe-core/playwright';
import { writeExr } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import { chooseLayer, openSession, startWithDemo, test, textOf, untilPixel, type Session } from '../application.ts';

const WIDTH = 3840;
const HEIGHT = 2160;
const FRAMES = 40;

/** Milliseconds of each frame while the picture is dragged and its exposure changed, in order, and of one drawing alone; a text, to run in the page. */
const PAN_AND_EXPOSE = `(async () => {
  const canvas = document.querySelector('[data-test=picture]');
  canvas.setPointerCapture = () => {}; // there is no real pointer behind these events
  const box = canvas.getBoundingClientRect();
  const send = (type, x, buttons) =>
    canvas.dispatchEvent(new PointerEvent(type, { clientX: box.x + x, clientY: box.y + 200, button: 1, buttons, movementX: 3, pointerId: 1, bubbles: true }));
  const gl = canvas.getContext('webgl2');
  const spans = [];
  const wait = () => gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4)); // for what is drawn
  send('pointerdown', 300, 4);
  let last = performance.now();
  for (let i = 0; i < ${FRAMES}; i++) {
    send('pointermove', 300 + 3 * i, 4);
    if (i % 10 === 0) document.body.dispatchEvent(new KeyboardEvent('keydown', { key: i % 20 === 0 ? 'e' : 'E', bubbles: true }));
    await new Promise(requestAnimationFrame);
    wait();
    spans.push(performance.now() - last);
    last = performance.now();
  }
  send('pointerup', 300, 0);
  wait();
  const began = performance.now();
  for (let i = 0; i < ${FRAMES}; i++) gl.drawArrays(gl.TRIANGLES, 0, 3);
  wait();
  return { frames: spans.sort((a, b) => a - b), drawing: (performance.now() - began) / ${FRAMES} };
})()`;

/** Enough channels that the picture is read in parts. */
function largeFrame(): Buffer {
  const window = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
  const even = (v: number) => new Float32Array(WIDTH * HEIGHT).fill(v);
  const slope = even(0).map((_, i) => (i % WIDTH) / WIDTH);
  const layers = ['diffuse_direct', 'diffuse_indirect', 'specular', 'transmission', 'volume'];
  const channels: Picture['channels'] = [...'RGB'].map((name) => ({ name, type: 'half', data: slope }));
  layers.forEach((layer, k) =>
    [...'RGB'].forEach((c) => channels.push({ name: `${layer}.${c}`, type: 'half', data: even(k / 8) })),
  );
  return Buffer.from(writeExr({ width: WIDTH, height: HEIGHT, dataWindow: window, displayWindow: window, channels, metadata: {} })); // prettier-ignore
}

describe('large frames, and the reach of every view', () => {
  let session: Session;
  before(async () => {
    session = await openSession(await startWithDemo('large'));
  });
  after(() => session?.close());
  afterEach(function () {
    if (this.currentTest?.state === 'failed') return session.page.screenshot({ path: 'data/failed.png' });
  });
  const faults = async () => {
    const { violations } = await new AxeBuilder({ page: session.page }).analyze();
    return violations
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map(
        (v) =>
          `${v.id}: ${v.nodes
            .map((n) => n.target.join(' '))
            .slice(0, 4)
            .join(', ')}`,
      );
  };

  it('4K is panned and exposed, layer by layer; the time of a drawing is printed', async function () {
    const { page, application } = session;
    const form = new FormData();
    form.append('files', new Blob([new Uint8Array(largeFrame())]), 'yard.exr');
    form.append('name', 'yard');
    const answer = await fetch(`${application.url}/api/shots`, { method: 'POST', body: form });
    expect(answer.status, await answer.clone().text()).to.equal(201);
    const { id } = (await answer.json()) as { id: number };
    await page.goto(`${application.url}/shots/${id}`);
    await untilPixel(page, 0.9, 0.5, ([r]) => r > 200);
    await chooseLayer(page, 'transmission');
    await untilPixel(page, 0.1, 0.5, ([r]) => r > 150 && r < 200); // 3/8 in light
    const { frames, drawing } = (await page.evaluate(PAN_AND_EXPOSE)) as { frames: number[]; drawing: number };
    const median = frames[FRAMES >> 1];
    console.log(`      4K in software: a drawing takes ${drawing.toFixed(1)} ms, a frame of the browser ${median.toFixed(1)} ms in the middle, ${frames[FRAMES - 2].toFixed(1)} ms at most of 19 in 20`); // prettier-ignore
    // the aim is 30 ms a drawing on a quiet machine; what a busy one takes says nothing
    await page.keyboard.press('0');
  });

  it('no serious fault on any view, and the layers of a frame are told', async () => {
    const { page } = session;
    for (const tab of ['defect', 'layers', 'look', 'compare', 'history']) {
      await page.click(test(`tab-${tab}`));
      await page.waitForTimeout(300);
      expect(await faults(), tab).to.deep.equal([]);
    }
    await page.click(test('tab-layers'));
    await page.locator(`${test('sum')}:has-text("5 parts of the light do not add up")`).waitFor({ timeout: 120_000 });
    await page.keyboard.press('?');
    expect(await textOf(page, '.keys')).to.contain('pin the pixel');
    expect(await faults(), 'keys').to.deep.equal([]);
    await page.locator('a.home').click();
    await page.locator(test('shot-LH-010')).waitFor();
    expect(await faults(), 'shots').to.deep.equal([]);
    await page.click(test('open-LH-010'));
    await page.click(test('tab-settings'));
    await page.locator('#set-pixelSamples').waitFor();
    expect(await faults(), 'settings').to.deep.equal([]);
    await page.goto(`${page.url().split('?')[0]}/sheet`);
    await page.locator('text=No proof is finished yet').waitFor();
    expect(await faults(), 'sheet').to.deep.equal([]);
    expect(session.complaints).to.deep.equal([]);
  });

  it('the bench is worked by the keyboard alone: tabs, layer, region of the whole', async () => {
    const { page } = session;
    await page.goBack();
    await page.locator(test('tab-settings')).waitFor();
    await page.locator(test('tab-settings')).focus();
    await page.keyboard.press('Tab');
    await page.keyboard.press('Enter');
    expect(await page.locator('[role=tab][aria-selected=true]').innerText()).to.equal('Look');
  });
});
