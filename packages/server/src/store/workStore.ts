// What a render node asks of the database. A chunk is claimed by one statement that skips what others hold, so a row is
// both the work and its record, and a dead node's claims are simply given back.
import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { Chunk, PackedTallies, RenderStatistics, SceneMemory } from '@dusting/core/render';
import type { LargeTexture } from '@dusting/core/shade';
import type { Database } from '../db/connect.ts';
import { notify, notifyProof } from '../db/notices.ts';
import { chunks, nodes, proofs, type LogLine } from '../db/schema.ts';
import { saveBlob } from './blobStore.ts';
import type { Proof } from './proofStore.ts';

export type Claim = Chunk & { proof: number; place: number };
const DEAD_AFTER = '10 seconds';

export async function reportAlive(db: Database, id: string, threads: number): Promise<void> {
  await db
    .insert(nodes)
    .values({ id, threads })
    .onConflictDoUpdate({ target: nodes.id, set: { threads, seenAt: sql`now()` } });
}

/** Gives back what a node had claimed: its own after a restart, or those of nodes that have fallen silent. */
export async function releaseClaims(db: Database, own?: string): Promise<void> {
  const whose =
    own === undefined
      ? sql`is not null and node not in (select id from nodes where seen_at > now() - interval '${sql.raw(DEAD_AFTER)}')`
      : sql`= ${own}`;
  await db.execute(sql`update chunks set node = null where not done and node ${whose}`);
  await db.execute(sql`update proofs set state = 'rendering', node = null where state = 'merging' and node ${whose}`);
  await db.execute(sql`update proofs set node = null where state in ('queued', 'rendering') and node ${whose}`);
}

/** Takes the next chunk, or null. */
export async function claimChunk(db: Database, node: string): Promise<Claim | null> {
  const { rows } = await db.execute<Claim & Record<string, unknown>>(sql`
    update chunks set node = ${node}
    where (proof, place) = (
      select proof, place from chunks where not done and node is null
      order by priority, proof, place limit 1 for update skip locked)
    returning proof, place, region, sample_start as "sampleStart", sample_count as "sampleCount"`);
  return rows[0] ?? null;
}

/** Takes a proof that has no coarse picture yet, to make it, whatever waits before it; null where there is none. */
export async function claimFirstLook(db: Database, node: string): Promise<number | null> {
  const { rows } = await db.execute<{ id: number }>(sql`
    update proofs set node = ${node}
    where id = (
      select id from proofs where state in ('queued', 'rendering') and coarse is null and node is null
      order by id limit 1 for update skip locked)
    returning id`);
  return rows[0]?.id ?? null;
}

export async function startProof(db: Database, proof: number): Promise<void> {
  await db
    .update(proofs)
    .set({ state: 'rendering', startedAt: sql`now()` })
    .where(and(eq(proofs.id, proof), eq(proofs.state, 'queued')));
}

export async function saveFirstLook(
  db: Database,
  proof: { id: number; shot: number },
  look: { coarse: Uint8Array; memory: SceneMemory; textures: LargeTexture[]; log: LogLine[] },
): Promise<void> {
  await db
    .update(proofs)
    .set({ ...look, node: null })
    .where(and(eq(proofs.id, proof.id), inArray(proofs.state, ['queued', 'rendering'])));
  await notify(db, { type: 'proof', shot: proof.shot, proof: proof.id });
}

/**
 * Records a finished chunk. A chunk that was given away meanwhile is the same to the bit, so the first one stands; one of a render
 * that was cancelled is nowhere to be recorded.
 */
export async function finishChunk(
  db: Database,
  proof: Pick<Proof, 'id' | 'shot' | 'diagnosis'>,
  place: number,
  result: { film: Uint8Array; paths?: PackedTallies | null; picture: Uint8Array; milliseconds: number },
): Promise<void> {
  await db
    .update(chunks)
    .set({ ...result, done: true, doneOrder: sql`nextval('chunk_order')::int` })
    .where(and(eq(chunks.proof, proof.id), eq(chunks.place, place), eq(chunks.done, false)));
  await notifyProof(db, proof);
}

export async function giveBack(db: Database, { proof, place }: Pick<Claim, 'proof' | 'place'>): Promise<void> {
  await db
    .update(chunks)
    .set({ node: null })
    .where(and(eq(chunks.proof, proof), eq(chunks.place, place), eq(chunks.done, false)));
}

/** Gives back a proof that was claimed for its first look or for merging, and was neither. */
export async function giveBackProof(db: Database, id: number, node: string): Promise<void> {
  await db
    .update(proofs)
    .set({ node: null, state: sql`case when ${proofs.state} = 'merging' then 'rendering' else ${proofs.state} end` })
    .where(and(eq(proofs.id, id), eq(proofs.node, node), sql`${proofs.state} in ('queued', 'rendering', 'merging')`));
}

/** Takes a proof that is still rendered, to put it together alone; false where another node does, or it is no longer. */
export async function claimAssembly(db: Database, proof: number, node: string): Promise<boolean> {
  const { rows } = await db.execute(sql`
    update proofs set node = ${node}
    where id = ${proof} and state = 'rendering' and coarse is not null and (node is null or node = ${node})
    returning id`);
  return rows.length > 0;
}

/** Of these proofs, those that are still rendered or put together. */
export async function unfinished(db: Database, ids: number[]): Promise<number[]> {
  const rows = await db
    .select({ id: proofs.id })
    .from(proofs)
    .where(and(inArray(proofs.id, ids), inArray(proofs.state, ['rendering', 'merging'])));
  return rows.map(({ id }) => id);
}

/** The row above which all chunks of a proof are done; infinite where all are. */
export async function doneAbove(db: Database, proof: number): Promise<number> {
  const [{ row }] = await db
    .select({ row: sql<number | null>`min((${chunks.region}->>'y')::int)` })
    .from(chunks)
    .where(and(eq(chunks.proof, proof), eq(chunks.done, false)));
  return row ?? Infinity;
}

/** Takes a proof whose chunks are all done, to finish it; null where there is none, or another node has begun with it. */
export async function claimMerge(db: Database, node: string): Promise<number | null> {
  const { rows } = await db.execute<{ id: number }>(sql`
    update proofs set state = 'merging', node = ${node}
    where id = (
      select id from proofs p where state = 'rendering' and coarse is not null and (node is null or node = ${node})
        and not exists (select 1 from chunks c where c.proof = p.id and not c.done)
      order by id limit 1 for update skip locked)
    returning id`);
  return rows[0]?.id ?? null;
}

/** The chunks of a proof whose tiles begin at a row, in the order of the plan. */
export function chunksOfBand(db: Database, proof: number, y: number) {
  return db
    .select({ place: chunks.place, region: chunks.region, paths: chunks.paths, milliseconds: chunks.milliseconds })
    .from(chunks)
    .where(and(eq(chunks.proof, proof), sql`(${chunks.region}->>'y')::int = ${y}`))
    .orderBy(asc(chunks.place));
}

/** The films of some chunks, by their places. */
export async function filmsAt(db: Database, proof: number, places: number[]): Promise<Map<number, Uint8Array>> {
  if (places.length === 0) return new Map();
  const rows = await db
    .select({ place: chunks.place, film: chunks.film })
    .from(chunks)
    .where(and(eq(chunks.proof, proof), inArray(chunks.place, places)));
  return new Map(rows.map(({ film, place }) => [place, film!]));
}

/** Keeps a proof that was put together. */
export async function finishProof(
  db: Database,
  proof: Pick<Proof, 'id' | 'shot' | 'diagnosis'>,
  result: { pieces: Uint8Array[]; coarse: Uint8Array; statistics: RenderStatistics; seconds: number; log: LogLine[] },
): Promise<void> {
  await db.transaction(async (tx) => {
    const blob = await saveBlob(tx, result.pieces, 'image/x-exr');
    const { coarse, statistics, seconds, log } = result;
    await tx
      .update(proofs)
      .set({
        state: 'done',
        node: null,
        blob,
        coarse,
        statistics,
        noise: statistics.noise,
        seconds,
        log,
        finishedAt: sql`now()`,
      })
      .where(eq(proofs.id, proof.id));
    await notifyProof(tx, proof);
  });
  // seconds for a large frame, and nobody waits for it
  await db.delete(chunks).where(eq(chunks.proof, proof.id));
}

/** Removes the chunks of proofs that were finished by somebody who then had no time for that. */
export async function removeLeftChunks(db: Database): Promise<void> {
  await db.execute(sql`delete from chunks using proofs where proofs.id = chunks.proof and proofs.state = 'done'`);
}

/** Ends a proof with a reason; false where it had ended before. */
export async function failProof(db: Database, id: number, error: string): Promise<boolean> {
  return db.transaction(async (tx) => {
    const [failed] = await tx
      .update(proofs)
      .set({ state: 'failed', error, finishedAt: sql`now()` })
      .where(and(eq(proofs.id, id), sql`${proofs.state} in ('queued', 'rendering', 'merging')`))
      .returning({ shot: proofs.shot });
    await tx.delete(chunks).where(eq(chunks.proof, id));
    if (failed) await notify(tx, { type: 'proof', shot: failed.shot, proof: id });
    return failed !== undefined;
  });
}
