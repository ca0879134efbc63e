// How far the finished trials of a sweep are from the dearest of them.
import { ref, watch } from 'vue';
import { api, type Sweep } from '../api.ts';

/** Mean CIEDE2000 by the id of the trial. @param wanted whether it is to be known */
export function useSweepApart(sweep: () => Sweep, wanted: () => boolean) {
  const apart = ref(new Map<number, number>());
  const done = () => sweep().trials.filter((t) => t.state === 'done').map((t) => t.id).join(); // prettier-ignore
  watch(
    [() => sweep().id, done, wanted],
    async ([id, finished, isWanted]) => {
      if (!isWanted || finished === '') return;
      const found = await api.sweepApart(id).catch(() => null); // a help: the sheet works without it
      if (found && done() === finished) apart.value = new Map(found.apart.map(({ proof, deltaE }) => [proof, deltaE]));
    },
    { immediate: true },
  );
  return apart;
}
