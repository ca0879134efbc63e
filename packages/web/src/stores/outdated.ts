// Which proofs show something else than the present revision, and what has changed since.
import { defineStore } from 'pinia';
import { shallowRef, watch } from 'vue';
import { api } from '../api.ts';
import { useBench } from './bench.ts';

export const useOutdated = defineStore('outdated', () => {
  const bench = useBench();
  /** Lines in words, by the id of the proof. */
  const changes = shallowRef(new Map<number, string[]>());
  watch(
    [() => bench.shot?.id, () => bench.shot?.revision, () => bench.shot?.proofs.length],
    async () => {
      const { shot } = bench;
      if (!shot || bench.isFrames) return void (changes.value = new Map());
      const found = await bench.load(() => api.outdated(shot.id));
      if (found && bench.shot?.id === shot.id) changes.value = new Map(found.map((o) => [o.proof, o.changes]));
    },
    { immediate: true },
  );
  return { changes };
});
