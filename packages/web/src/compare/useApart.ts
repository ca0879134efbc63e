// How far each proof is from the reference of its shot.
import { ref, watch } from 'vue';
import type { Differences } from '@dusting/core/image';
import { api } from '../api.ts';
import { useBench } from '../stores/bench.ts';

export function useApart() {
  const bench = useBench();
  const apart = ref(new Map<number, Differences>());
  watch(
    [() => bench.shot?.id, () => bench.shot?.reference, () => bench.done.map((p) => p.id).join()],
    async ([shot, reference]) => {
      if (shot === undefined || reference == null) return void (apart.value = new Map());
      const found = await api.apart(shot).catch(() => []); // a help: the shelf works without it
      if (bench.shot?.id === shot && bench.shot.reference === reference)
        apart.value = new Map(found.map(({ proof, ...differences }) => [proof, differences]));
    },
    { immediate: true },
  );
  return apart;
}
