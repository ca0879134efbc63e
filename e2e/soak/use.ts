import { readFileSync } from 'node:fs';
import { openSession, startWithDemo } from '../application.ts';
import { ask, shotOf, until, type Figure } from './round.ts';

const REGION = { x: 0, y: 0, width: 96, height: 64 };

/** Resident memory of a process in MB (proc(5)). */
const memoryOf = (pid: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? NaN) / 1024;

/** Opens shots, renders and closes them in a browser, and watches the memory of every process. */
export async function use(seconds: number): Promise<Figure[]> {
  const session = await openSession(await startWithDemo('soak-use'));
  const { application, page, complaints } = session;
  const { url } = application;
  const memory = async () => ({
    server: memoryOf(application.pid('server')),
    node: memoryOf(application.pid('node')),
    page: await page.evaluate(() => (performance as unknown as { memory: { usedJSHeapSize: number } }).memory.usedJSHeapSize / 2 ** 20), // prettier-ignore
  });
  type Memory = Awaited<ReturnType<typeof memory>>;
  let early: Memory | null = null;
  let rounds = 0;
  let failed = 0;
  const shots = (await ask<{ id: number; name: string }[]>(url, 'GET', '/shots'))!.value;
  const end = Date.now() + seconds * 1000;
  for (; Date.now() < end; rounds++) {
    const shot = shots[rounds % shots.length];
    await page.click(`[data-test="open-${shot.name}"]`);
    await page.waitForSelector('[data-test="back"], a[href="/"]');
    const sent = await ask<{ id: number }>(url, 'POST', `/shots/${shot.id}/proofs`, { kind: 'proof', use: 'preview', region: REGION }); // prettier-ignore
    const proof = sent!.value.id;
    const done = await until('a render', async () => {
      const found = (await shotOf(url, shot.id))?.proofs.find(({ id }) => id === proof);
      return found && ['done', 'failed'].includes(found.state) && found;
    });
    if (done.state !== 'done') failed++;
    await ask(url, 'DELETE', `/proofs/${proof}`);
    await page.goto(url);
    await page.waitForSelector(`[data-test="open-${shot.name}"]`);
    // every shot has been compiled and drawn once: what grows from here on is not warmth
    if (rounds === 3 * shots.length) early = await memory();
  }
  const late = await memory();
  await session.close();
  const grown = early && (Object.keys(late) as (keyof Memory)[]).map((name) => `${name} ${early![name].toFixed(0)} to ${late[name].toFixed(0)} MB`); // prettier-ignore
  return [
    {
      tried: 'open, render, close',
      times: String(rounds),
      found: `${failed} renders failed, ${complaints.length} errors in the page; ${grown ? `memory ${grown.join(', ')}` : 'too short to compare memory'}`, // prettier-ignore
      bad: failed + complaints.length > 0 || (early !== null && (['server', 'node', 'page'] as const).some((name) => late[name] > 2 * early![name] + 200)), // prettier-ignore
    },
  ];
}
