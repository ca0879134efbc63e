import { startWithDemo } from '../application.ts';
import { ask, numbers, pause, shotOf, until, type Figure, type ShotState } from './round.ts';

const SHOT = 1;
const TARGETS = [['server'], ['node'], ['database'], ['server', 'node', 'database']] as const;
/** Of three bands: what is put together while the rest is rendered is lost as well. */
const REGION = { x: 0, y: 0, width: 48, height: 72 };

/** Ends processes with kill -9 while somebody works, and holds what was acknowledged against what is there afterwards. */
export async function kills(seconds: number): Promise<Figure[]> {
  const application = await startWithDemo('soak-kills');
  const { url } = application;
  const random = numbers(1);
  const kept: { revision: number; reason: string }[] = [];
  const rendered: number[] = [];
  const counts = new Map<string, number>();
  let stopped = false;
  const work = async () => {
    for (let i = 0; !stopped; i++) {
      const shot = await shotOf(url, SHOT);
      if (!shot) await pause(100);
      else if (i % 3 === 0) {
        const sent = await ask<{ id: number }>(url, 'POST', `/shots/${SHOT}/proofs`, { kind: 'proof', use: 'preview', region: REGION }); // prettier-ignore
        if (sent?.status === 201) rendered.push(sent.value.id);
      } else {
        const patch = [{ op: 'replace', path: '/final/seed', value: 10 + i }];
        const slip = await ask<{ edits: number }>(url, 'PUT', `/shots/${SHOT}/slip`, { patch, edits: shot.edits });
        if (slip?.status !== 200) continue;
        const reason = `edit ${i}`;
        const saved = await ask<{ revision: number }>(url, 'POST', `/shots/${SHOT}/revisions`, { reason, edits: slip.value.edits }); // prettier-ignore
        if (saved?.status === 201) kept.push({ revision: saved.value.revision, reason });
      }
    }
  };
  const lost: string[] = [];
  let longest = 0;
  const worker = work();
  try {
    const end = Date.now() + seconds * 1000;
    while (Date.now() < end) {
      await pause(200 + random(2500));
      const names = TARGETS[random(TARGETS.length)];
      for (const name of names) {
        try {
          process.kill(application.pid(name), 'SIGKILL');
        } catch {
          continue; // it is just being started again
        }
      }
      counts.set(names.join(' and '), (counts.get(names.join(' and ')) ?? 0) + 1);
      const from = Date.now();
      // what is acknowledged while the question is on its way need not be in the answer
      const known = [kept.slice(), rendered.slice()] as const;
      const shot = await until('an answer after a kill', () => shotOf(url, SHOT));
      longest = Math.max(longest, Date.now() - from);
      lost.push(...missing(shot, ...known));
    }
  } finally {
    stopped = true;
    await worker;
  }
  const done = await until('the end of all renders', async () => {
    const shot = await shotOf(url, SHOT);
    return shot?.proofs.every(({ state }) => ['done', 'failed', 'cancelled'].includes(state)) && shot;
  });
  lost.push(...missing(done, kept, rendered));
  const failed = done.proofs.filter(({ state }) => state !== 'done');
  await application.stop();
  const total = [...counts.values()].reduce((sum, n) => sum + n, 0);
  return [
    {
      tried: 'kill -9 while somebody edits and renders',
      times: `${total} (${[...counts].map(([names, n]) => `${names} ${n}`).join(', ')})`,
      found: `of ${kept.length} revisions and ${rendered.length} renders that were acknowledged ${new Set(lost).size} lost, ${failed.length} renders failed; an answer again after ${(longest / 1000).toFixed(1)} s at most${[...new Set(lost)].map((l) => `; ${l}`).join('')}${failed.map(({ error }) => `; ${error}`).join('')}`, // prettier-ignore
      bad: lost.length + failed.length > 0,
    },
  ];
}

/** What was acknowledged and is not there. */
function missing(
  shot: ShotState,
  kept: readonly { revision: number; reason: string }[],
  rendered: readonly number[],
): string[] {
  const reasons = new Map(shot.revisions.map(({ number, reason }) => [number, reason]));
  const ids = new Set(shot.proofs.map(({ id }) => id));
  return [
    ...kept.filter(({ revision, reason }) => reasons.get(revision) !== reason).map((k) => `revision ${k.revision}`),
    ...rendered.filter((id) => !ids.has(id)).map((id) => `proof ${id}`),
  ];
}
