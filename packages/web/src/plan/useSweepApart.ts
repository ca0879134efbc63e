// How far the finished trials of a sweep are from the one that they are held against.
import { shallowRef, watch } from 'vue';
import { api, type Sweep } from '../api.ts';

/** Mean CIEDE2000 by the id of the trial; null until it is known. @param wanted whether it is to be known */
export function useSweepApart(sweep: () => Sweep, wanted: () => boolean) {
  const apart = shallowRef<{ reference: number | null; deltas: Map<number, number> } | null>(null);
  const done = () => sweep().trials.filter((t) => t.state === 'done').map((t) => t.id).join(); // prettier-ignore
  watch(
    [() => sweep().id, done, wanted],
    async ([id, finished, isWanted]) => {
      if (!isWanted || finished === '') return;
      const found = await api.sweepApart(id).catch(() => null); // a help: the sheet works without it
      if (!found || done() !== finished) return;
      apart.value = { reference: found.reference, deltas: new Map(found.apart.map((a) => [a.proof, a.deltaE])) };
    },
    { immediate: true },
  );
  return apart;
}
