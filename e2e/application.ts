import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { BrowserContext, Page } from 'playwright-core';
import { startApplication, type Application } from '../scripts/lib/application.mjs';
import { openBrowser } from './browser.ts';

export interface Session {
  application: Application;
  page: Page;
  /** Problems that the page reported by itself. */
  complaints: string[];
  close(): Promise<void>;
}

/**
 * The whole application on a database of its own, and a browser on it.
 * @param demo the demo shots without their first pictures, unless it is 'on'
 */
export async function openSession(name: string, demo = 'scenes'): Promise<Session> {
  const folder = join(process.env.DUSTING_DATA ?? 'data/test', name);
  const application = await startApplication({ dataFolder: folder, port: 0, env: { DUSTING_DEMO: demo } });
  const context: BrowserContext = await openBrowser();
  const page = context.pages()[0] ?? (await context.newPage());
  const complaints: string[] = [];
  page.on('pageerror', (error) => complaints.push(error.message));
  await page.goto(application.url);
  return {
    application,
    page,
    complaints,
    close: async () => {
      await context.close();
      await application.stop();
    },
  };
}

/** Where pictures of the views go, if they are wanted. */
const folder = process.env.DUSTING_SCREENSHOTS;

/** Keeps a picture of the page under a name, once it has come to rest. */
export async function keepPicture(page: Page, name: string): Promise<void> {
  if (!folder) return;
  mkdirSync(folder, { recursive: true });
  await page.waitForTimeout(700);
  await page.screenshot({ path: join(folder, `${name}.png`) });
}

export const test = (name: string) => `[data-test="${name}"]`;

/** Text of an element, its white space folded. */
export async function textOf(page: Page, selector: string): Promise<string> {
  return (await page.locator(selector).first().innerText()).replace(/\s+/g, ' ').trim();
}

/** Drags over the picture between two points given as shares of the frame, which must be shown fitted. */
export async function markRegion(
  page: Page,
  frame: { width: number; height: number },
  from: number[],
  to: number[],
): Promise<void> {
  await page
    .locator(test('picture'))
    .focus()
    .catch(() => {});
  await page.keyboard.press('0');
  const box = (await page.locator(test('picture')).boundingBox())!;
  const scale = Math.min((box.width - 16) / frame.width, (box.height - 16) / frame.height);
  const at = ([u, v]: number[]) =>
    [
      box.x + box.width / 2 + (u - 0.5) * frame.width * scale,
      box.y + box.height / 2 + (v - 0.5) * frame.height * scale,
    ] as const;
  await page.mouse.move(...at(from));
  await page.mouse.down();
  await page.mouse.move(...at(to), { steps: 6 });
  await page.mouse.up();
}

/** Colour of the drawn picture at a share of the canvas, 0..255. */
export function pixelAt(page: Page, u: number, v: number): Promise<number[]> {
  return page.locator(test('picture')).evaluate(
    (element, [x, y]) => {
      const canvas = element as unknown as HTMLCanvasElement;
      const copy = document.createElement('canvas');
      copy.width = canvas.width;
      copy.height = canvas.height;
      const context = copy.getContext('2d')!;
      context.drawImage(canvas, 0, 0);
      return [
        ...context.getImageData(Math.floor(x * canvas.width), Math.floor(y * canvas.height), 1, 1).data.slice(0, 3),
      ];
    },
    [u, v],
  );
}

/** Waits until the drawn picture shows what is expected at a place. */
export async function untilPixel(page: Page, u: number, v: number, wanted: (rgb: number[]) => boolean): Promise<void> {
  const until = Date.now() + 30_000;
  for (;;) {
    const seen = await pixelAt(page, u, v);
    if (wanted(seen)) return;
    if (Date.now() > until) throw new Error(`the picture shows ${seen} at ${u}, ${v}`);
    await page.waitForTimeout(100);
  }
}
