import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { startApplication } from '../../scripts/lib/application.mjs';
import { DATA, demoFolder } from '../application.ts';
import { ask, pause, shotOf, until, type Figure } from './round.ts';

const SHOT = 1;
const TRIED = 'a disk that is full while somebody edits and renders';

/** Works on a disk of its own that is filled to the last byte and emptied again. Only root can set one up. */
export async function fullDisk(): Promise<Figure[]> {
  const disk = resolve(DATA, 'soak-disk');
  mkdirSync(disk, { recursive: true });
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=400m', 'tmpfs', disk], { stdio: 'pipe' });
  } catch {
    return [{ tried: TRIED, times: '0', found: 'not tried: only root can set up a disk of its own', bad: false }];
  }
  const said: string[] = [];
  let application: Awaited<ReturnType<typeof startApplication>> | undefined;
  try {
    const dataFolder = join(disk, 'data');
    execFileSync('cp', ['-a', demoFolder('soak-disk-demo'), dataFolder]);
    application = await startApplication({ dataFolder, port: 0, env: { DUSTING_DEMO: 'scenes' } });
    const { url } = application;
    const render = () =>
      ask<{ id: number }>(url, 'POST', `/shots/${SHOT}/proofs`, { kind: 'proof', use: 'final', region: null });
    const before = (await until('the shot', () => shotOf(url, SHOT))).revision;
    await render();
    await pause(3000);
    const filler = join(disk, 'filler');
    const fill = () => {
      for (;;) {
        const { bavail, bsize } = statfsSync(disk);
        if (bavail === 0) return;
        try {
          writeFileSync(filler, Buffer.alloc(Math.min(bavail * bsize, 2 ** 24)), { flag: 'a' });
        } catch {
          return;
        }
      }
    };
    fill();
    const statuses = new Map<string, number>();
    const refusals = new Set<string>();
    let acknowledged = before;
    for (let i = 0; i < 40; i++) {
      fill(); // what the database has given back
      const shot = await shotOf(url, SHOT);
      const patch = [{ op: 'replace', path: '/final/seed', value: 100 + i }];
      const slip = shot && (await ask<{ edits: number; detail?: string }>(url, 'PUT', `/shots/${SHOT}/slip`, { patch, edits: shot.edits })); // prettier-ignore
      const kept =
        slip?.status === 200
          ? await ask<{ revision: number; detail?: string }>(url, 'POST', `/shots/${SHOT}/revisions`, { reason: `full ${i}`, edits: slip.value.edits }) // prettier-ignore
          : null;
      if (kept?.status === 201) acknowledged = kept.value.revision;
      for (const answer of [slip, kept]) {
        const status = answer ? String(answer.status) : 'none';
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
        if (answer && answer.status >= 400) refusals.add(answer.value.detail ?? '');
      }
      if (i % 10 === 0) await render();
      await pause(500);
    }
    rmSync(filler);
    const shot = await until('the shot after the disk has room again', () => shotOf(url, SHOT));
    said.push(`answers meanwhile: ${[...statuses].map(([status, n]) => `${n} x ${status}`).join(', ')}`);
    said.push(`refused with: ${[...refusals].map((r) => `"${r}"`).join(', ') || 'nothing'}`);
    said.push(`revision ${acknowledged} was acknowledged, ${shot.revision} is there`);
    const done = await until('the end of the renders', async () => {
      const now = await shotOf(url, SHOT);
      return now?.proofs.every(({ state }) => ['done', 'failed', 'cancelled'].includes(state)) && now;
    });
    const failed = done.proofs.filter(({ state }) => state !== 'done');
    said.push(`${done.proofs.length - failed.length} renders finished, ${failed.length} failed${failed.map(({ error }) => ` (${error})`).join('')}`); // prettier-ignore
    const bad = shot.revision < acknowledged || failed.length > 0 || statuses.has('500') || statuses.has('none');
    return [{ tried: TRIED, times: '40 edits', found: said.join('; '), bad }];
  } catch (error) {
    return [{ tried: TRIED, times: '1', found: [...said, (error as Error).message].join('; '), bad: true }];
  } finally {
    await application?.stop();
    execFileSync('umount', [disk]);
  }
}
