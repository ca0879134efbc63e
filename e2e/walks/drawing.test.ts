// The wall draws with WebGL what the plain form draws on the processor, whose numbers the unit tests check against their
// sources: every transform, channel, way of comparing and kind of difference, pixel by pixel, by the PNG as seen.
import { readFileSync } from 'node:fs';
import { expect } from 'chai';
import { decode } from 'fast-png';
import type { Router } from 'vue-router';
import { DISPLAY_TRANSFORMS } from '@dusting/core/color';
import { fromHalf, toHalf, writeExr } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import { ADDRESS_DEFAULTS, toQuery, type Address } from '../../packages/web/src/bench/address.ts';
import { createCanvasDrawer } from '../../packages/web/src/picture/canvasDrawer.ts';
import { rangeOf } from '../../packages/web/src/picture/rangeOf.ts';
import {
  CHANNELS,
  DIFFERENCES,
  VIEW_DEFAULTS,
  type PlacedPicture,
  type View,
} from '../../packages/web/src/picture/view.ts';
import { openSession, startWithDemo, test, type Session } from '../application.ts';

const [WIDTH, HEIGHT] = [48, 32];
const WINDOW = { x: 0, y: 0, width: WIDTH, height: HEIGHT };

/** Colours from a little below 0 to 3, and a depth that is the same all over the left half. */
function planes(seed: number): Record<string, Float32Array> {
  const plane = (k: number) => new Float32Array(WIDTH * HEIGHT).map((_, i) => 3.2 * hashUnit(i * 8 + k + seed) ** 2 - 0.05); // prettier-ignore
  return { R: plane(0), G: plane(1), B: plane(2), A: plane(3).map((v) => Math.min(1, Math.max(0, v))), 'depth.Z': plane(4).map((v, i) => (i % WIDTH < WIDTH / 2 ? 1 : v)) }; // prettier-ignore
}
const FRAMES = [planes(0), planes(1000)];
const exrOf = (frame: Record<string, Float32Array>) =>
  writeExr({ width: WIDTH, height: HEIGHT, dataWindow: WINDOW, displayWindow: WINDOW, metadata: {}, channels: Object.entries(frame).map(([name, data]) => ({ name, type: 'half', data })) }); // prettier-ignore
function placed(frame: Record<string, Float32Array>, names: string[]): PlacedPicture {
  const halves = Uint16Array.from({ length: WIDTH * HEIGHT * names.length }, (_, i) => toHalf(frame[names[i % names.length]][Math.floor(i / names.length)])); // prettier-ignore
  return { window: WINDOW, picture: { width: WIDTH, height: HEIGHT, channels: names, halves } };
}

/** What the processor draws on a sheet of so many pixels. */
function drawn(
  first: PlacedPicture,
  second: PlacedPicture | null,
  view: Partial<View>,
  width: number,
): Uint8ClampedArray {
  let shown = new Uint8ClampedArray();
  const context = {
    createImageData: (w: number, h: number) => ({ data: new Uint8ClampedArray(w * h * 4) }),
    putImageData: (image: { data: Uint8ClampedArray<ArrayBuffer> }) => (shown = image.data),
  };
  const canvas = { width, height: HEIGHT, getContext: () => context } as unknown as HTMLCanvasElement;
  createCanvasDrawer(canvas).draw(first, second, {
    ...VIEW_DEFAULTS,
    centre: { x: WIDTH / 2, y: HEIGHT / 2 },
    scale: 1,
    ...view,
  });
  return shown;
}

describe('drawing', () => {
  let session: Session;
  let bench: string;
  before(async () => {
    session = await openSession(await startWithDemo('drawing'));
    const form = new FormData();
    FRAMES.forEach((frame, i) => form.append('files', new Blob([Uint8Array.from(exrOf(frame))]), `tile.000${i + 1}.exr`)); // prettier-ignore
    form.append('name', 'tile');
    const answer = await fetch(`${session.application.url}/api/shots`, { method: 'POST', body: form });
    bench = `/shots/${((await answer.json()) as { id: number }).id}`;
  });
  after(() => session?.close());
  afterEach(function () {
    if (this.currentTest?.state === 'failed') return session.page.screenshot({ path: 'data/failed.png' });
  });

  /** Opens an address by way of the shots, which takes a third less than a new page. */
  const goTo = (path: string) =>
    session.page.evaluate(async (to) => {
      type Root = Element & { __vue_app__: { config: { globalProperties: { $router: Router } } } };
      const { $router } = document.querySelector<Root>('#app')!.__vue_app__.config.globalProperties;
      await $router.push('/');
      await $router.push(to);
    }, path);
  /** The PNG as seen of a view: one pixel for each of the frame. */
  async function seen(
    address: Partial<Address>,
    press = '',
  ): Promise<{ data: ArrayLike<number>; width: number; of: number }> {
    const { page } = session;
    const query = new URLSearchParams(toQuery({ ...ADDRESS_DEFAULTS, proof: 'P2', exposure: 0.25, ...address }));
    await goTo(`${bench}?${query}`);
    await page.locator(`${test('shown')}:has-text("P2")`).waitFor();
    await page.waitForFunction(() => !(document.querySelector('[data-test=export]') as HTMLButtonElement).disabled);
    await page.waitForTimeout(250);
    if (press) await page.keyboard.press(press);
    await page.click(test('export'));
    const [download] = await Promise.all([page.waitForEvent('download'), page.click(test('save-png'))]);
    const { data, width, channels } = decode(readFileSync(await download.path()));
    return { data, width, of: channels };
  }
  /** Compares all pixels that `counts` lets count; a last step of 8 bits may fall either way. */
  async function agree(address: Partial<Address>, view: Partial<View>, counts = (_x: number, _y: number) => true) {
    const names = view.range ? ['depth.Z'] : ['R', 'G', 'B', 'A'];
    const [one, two] = FRAMES.map((frame) => placed(frame, names));
    const compared = view.mode !== undefined && view.mode !== 'one';
    let worst = Infinity;
    // the second picture may still be on its way
    for (let tries = 0; tries < 5 && worst > 1; tries++) {
      const picture = await seen(address);
      const wanted = drawn(compared ? one : two, compared ? two : null, { stops: 0.25, ...view }, picture.width);
      let looked = 0;
      worst = 0;
      for (let i = 0; i < picture.width * HEIGHT; i++) {
        if (!counts(i % picture.width, Math.floor(i / picture.width))) continue;
        looked++;
        for (let k = 0; k < 3; k++) worst = Math.max(worst, Math.abs(picture.data[i * picture.of + k] - wanted[i * 4 + k])); // prettier-ignore
      }
      expect(looked).to.be.above(0.7 * picture.width * HEIGHT);
    }
    expect(worst, JSON.stringify(address)).to.be.at.most(1);
  }

  for (const transform of DISPLAY_TRANSFORMS) it(`through ${transform}`, () => agree({ transform }, { transform }));

  it('with a gamma over the transform', () => agree({ gamma: 2.2 }, { gamma: 2.2 }));

  for (const channel of CHANNELS.slice(1)) it(`channel ${channel} alone`, () => agree({ channel }, { channel }));

  it('a data layer in false colour over its range', () =>
    agree({ layer: 'depth' }, { range: rangeOf(placed(FRAMES[1], ['depth.Z']).picture) }));

  for (const difference of DIFFERENCES)
    it(`the ${difference} difference with a gain`, () =>
      agree({ beside: 'P1', mode: 'difference', difference, gain: 2 }, { mode: 'difference', difference, gain: 2 }));

  for (const angle of [0, 35, 90, 205])
    it(`a wipe turned by ${angle} degrees`, () => {
      const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
      // the line itself is drawn by the wall alone
      const off = (x: number, y: number) => Math.abs((x + 0.5 - WIDTH / 2) * c + (y + 0.5 - HEIGHT / 2) * s) > 1.6;
      return agree({ beside: 'P1', mode: 'wipe', angle }, { mode: 'wipe', wipe: { at: 0.5, angle } }, off);
    });

  it('side by side, each half the same place', () =>
    agree({ beside: 'P1', mode: 'side' }, { mode: 'side' }, (x) => Math.abs(x + 0.5 - WIDTH) > 1.6));

  it('blinking shows the one before first', () => agree({ beside: 'P1', mode: 'blink' }, { mode: 'blink' }));

  it('marks cover what is clipped or below 0, and nothing else; lines of equal value only where values part', async () => {
    const [plain, marked] = [await seen({}), await seen({}, 'm')];
    let [wrong, covered] = [0, 0];
    const { R, G, B } = FRAMES[1];
    for (let i = 0; i < WIDTH * HEIGHT; i++) {
      const colours = [R[i], G[i], B[i]].map((v) => fromHalf(toHalf(v)));
      const odd = colours.some((v) => v < 0 || v * 2 ** 0.25 > 1);
      const changed = [0, 1, 2].some((k) => plain.data[i * plain.of + k] !== marked.data[i * marked.of + k]);
      if (changed && !odd) wrong++;
      if (changed) covered++;
      // stripes leave half of the clipped pixels as they are; what is below 0 is covered whole
      const black = [0, 1, 2].every((k) => plain.data[i * plain.of + k] === 0);
      if (!changed && !black && colours.some((v) => v < 0)) wrong++;
    }
    expect(wrong).to.equal(0);
    expect(covered).to.be.above(300);
    await session.page.keyboard.press('m'); // it is remembered
    const lines = await seen({ layer: 'depth' }, 'i');
    const flat = await seen({ layer: 'depth' }, 'i'); // the lines are gone again
    const inHalf = (right: boolean) =>
      Array.from({ length: WIDTH * HEIGHT }, (_, i) => lines.data[i * lines.of] !== flat.data[i * flat.of] && i % WIDTH > WIDTH / 2 === right).filter(Boolean).length; // prettier-ignore
    expect(inHalf(true)).to.be.above(200);
    expect(inHalf(false), 'at most beside the edge between the halves').to.be.at.most(2 * HEIGHT);
    expect(session.complaints).to.deep.equal([]);
  });
});
