import type { Region } from '@dusting/core/image';
import { bandsOf, emptyFilm, mergeFilm, planChunks, reuseFilm, unpackNumbers, type CompiledScene, type Film, type FilmExtra, type PackedFilm } from '@dusting/core/render'; // prettier-ignore
import type { RenderSettings } from '@dusting/core/scene';
import { RenderPool } from './renderPool.ts';

export interface ThreadOptions {
  threads?: number;
  /** Renders on these threads, and leaves them open for further renders: starting threads takes longer than a small region. */
  pool?: RenderPool;
  /** Share of the chunks that are done, 0..1. */
  onProgress?: (done: number) => void;
  extras?: readonly FilmExtra[];
  /** Planned as a proof is: one that nobody looks at before it is done is planned in fewer chunks. */
  watched?: boolean;
  /** Of the region, what is rendered: see `planChunks`. Bands in which nothing is are not handed over. */
  parts?: readonly Region[];
}

/** Renders so far: each has a key of its own in its pool. */
let renders = 0;

/**
 * Renders a region on worker threads, band by band from the top: no more than two bands are held at once. The same bits for
 * any number of threads: parts are merged in the order of the plan.
 * @param onBand is given each band with all its samples; its film is filled again for the next
 */
export async function renderOnThreads(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  onBand: (band: Film) => void,
  { extras = [], onProgress, parts, pool: given, threads, watched }: ThreadOptions = {},
): Promise<void> {
  const plan = planChunks(region, settings, { watched, parts });
  const chunks = bandsOf(region).flatMap((band) => plan.filter((chunk) => chunk.region.y === band.y).map((chunk) => ({ band, chunk }))); // prettier-ignore
  const early = new Map<number, PackedFilm>();
  const pool = given ?? new RenderPool(threads);
  const key = `render ${renders++}`;
  /** Memory of one band, filled again for each. */
  let memory: ReturnType<typeof emptyFilm> | null = null;
  let film: Film | null = null;
  /** Memory of the numbers of a part. */
  let numbers = new Float32Array(0);
  let [merged, done, next] = [0, 0, 0];
  /** Merges what has come in its turn; a band whose last part this was is handed over. */
  const mergeInTurn = () => {
    for (let part = early.get(merged); part; part = early.get(merged)) {
      const { band } = chunks[merged];
      film ??= reuseFilm((memory ??= emptyFilm(band, part.stride)), band);
      const count = part.region.width * part.region.height * part.stride;
      if (numbers.length < count) numbers = new Float32Array(count);
      mergeFilm(film, { ...part, data: unpackNumbers(part.numbers, count, numbers) });
      early.delete(merged++);
      if (chunks[merged]?.band === band) continue;
      onBand(film);
      film = null;
    }
  };
  const work = async () => {
    while (next < chunks.length) {
      const index = next++;
      early.set(index, await pool.render(key, { scene, settings, extras }, chunks[index].chunk));
      mergeInTurn();
      onProgress?.(++done / chunks.length);
    }
  };
  try {
    await Promise.all(Array.from({ length: pool.size }, work));
  } finally {
    if (!given) await pool.close();
  }
}
