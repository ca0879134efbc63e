import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { BrowserContext, Page } from 'playwright-core';
import { startApplication, type Application } from '../scripts/lib/application.mjs';
import { openBrowser, PATIENCE } from './browser.ts';

export interface Session {
  application: Application;
  page: Page;
  /** Problems that the page reported by itself. */
  complaints: string[];
  close(): Promise<void>;
}

/** Folder of what walks keep. */
export const DATA = process.env.DUSTING_DATA ?? 'data/test';
// tests never work on a database, or at an address, that somebody has set up for use
for (const name of ['DATABASE_URL', 'HOST', 'PORT', 'TOKEN']) delete process.env[`DUSTING_${name}`];
const WITHOUT_PICTURES = { DUSTING_DEMO: 'scenes' };

const DEMO = join(DATA, 'demo');

/** Takes the demo shots in, which lasts longer than all else of a start: it is done once, and each walk begins with a copy. */
export async function makeDemoFolder(): Promise<void> {
  if (existsSync(DEMO)) return;
  const first = await startApplication({ dataFolder: DEMO, port: 0, env: WITHOUT_PICTURES });
  await first.stop();
}

/** A data folder with the demo shots, without their first pictures. */
export function demoFolder(name: string): string {
  const dataFolder = join(DATA, name);
  rmSync(dataFolder, { recursive: true, force: true });
  const copied = spawnSync('cp', ['-a', DEMO, dataFolder], { encoding: 'utf8' });
  if (copied.status !== 0) throw new Error(copied.stderr);
  return dataFolder;
}

/** The application on a database of its own, with the demo shots and without their first pictures. */
export async function startWithDemo(name: string): Promise<Application> {
  return startApplication({ dataFolder: demoFolder(name), port: 0, env: WITHOUT_PICTURES });
}

/** Makes a frame of a shot smaller, as its second revision: what a walk shows does not need more pixels. */
export async function makeSmall(
  url: string,
  shot: number,
  frame: Record<string, number>,
  use: 'final' | 'preview' = 'final',
): Promise<void> {
  const send = async (method: string, path: string, body: object) => {
    const answer = await fetch(`${url}/api/shots/${shot}/${path}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }); // prettier-ignore
    if (!answer.ok) throw new Error(await answer.text());
  };
  const patch = Object.entries(frame).map(([key, value]) => ({ op: 'replace', path: `/${use}/${key}`, value }));
  await send('PUT', 'slip', { patch, edits: 0 });
  await send('POST', 'revisions', { reason: 'A small frame', edits: 1 });
}

/** The application, and a browser on it. */
export async function openSession(application: Application): Promise<Session> {
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

/** A walk on one shot: its final frame made smaller and rendered, open on the bench. */
export async function openRendered(walk: string, shot: string, final: Record<string, number>): Promise<Session> {
  const session = await openSession(await startWithDemo(walk));
  const { application, page } = session;
  const shots = (await (await fetch(`${application.url}/api/shots`)).json()) as { id: number; name: string }[];
  await makeSmall(application.url, shots.find(({ name }) => name === shot)!.id, final);
  await page.click(test(`open-${shot}`));
  await page.locator(test('render-final')).first().click();
  await page.locator(`${test('proof-P1')} ${test('noise')}`).waitFor();
  return session;
}

/** Ends a walk, in which the page must not have reported a problem. */
export async function closeQuietly({ close, complaints }: Session): Promise<void> {
  await close();
  if (complaints.length > 0) throw new Error(`The page reported: ${complaints.join('; ')}`);
}

/** Where pictures of the views go, if they are wanted. */
const folder = process.env.DUSTING_SCREENSHOTS;
export const picturesWanted = !!folder;

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
  const until = Date.now() + PATIENCE;
  for (;;) {
    const seen = await pixelAt(page, u, v);
    if (wanted(seen)) return;
    if (Date.now() > until) throw new Error(`the picture shows ${seen} at ${u}, ${v}`);
    await page.waitForTimeout(100);
  }
}

/** Chooses from a list. */
export async function choose(page: Page, list: string, name: string): Promise<void> {
  await page.click(test(list));
  await page.locator(`[role=option]:has(:text-is("${name}"))`).first().click();
  await page.locator(`${test(list)}:has-text("${name}")`).waitFor();
  await page.locator('[role=option]').first().waitFor({ state: 'detached' });
}

/** Chooses a layer of the picture, and waits until the keys belong to the picture again. */
export async function chooseLayer(page: Page, name: string): Promise<void> {
  await choose(page, 'layer', name);
  await page.waitForFunction(() => document.activeElement === document.body);
}
