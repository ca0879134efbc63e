// What a render will take before it is sent, which one is proposed (the preview until somebody has seen a picture), and whether the
// final is asked about first.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { drift, finalLoses, type SettingsUse } from '@dusting/core/scene';
import { api, type ExpectedTime } from '../api.ts';
import { useBench } from './bench.ts';

export const useExpected = defineStore('expected', () => {
  const bench = useBench();
  const times = shallowRef<Record<SettingsUse, ExpectedTime | null>>({ preview: null, final: null });
  const proposed = computed<SettingsUse>(() => (bench.done.length === 0 ? 'preview' : bench.use));
  const other = computed<SettingsUse>(() => (proposed.value === 'final' ? 'preview' : 'final'));
  watch(
    [() => bench.shot?.id, () => bench.shot?.revision, () => bench.done.length],
    async () => {
      const { shot } = bench;
      if (!shot || bench.isFrames) return;
      const found = await api.expected(shot.id).catch(() => null); // what is not known is left out
      if (found && bench.shot?.id === shot.id) times.value = found;
    },
    { immediate: true },
  );
  /** What the final would show less of than a preview that somebody has looked at. */
  const lost = computed(() =>
    bench.shot && bench.done.some((p) => p.use === 'preview') && !bench.done.some((p) => p.use === 'final')
      ? finalLoses(drift(bench.shot.document))
      : [],
  );
  /** The question whether to render the final nevertheless is open. */
  const asks = ref(false);
  /** Sends a proof, or asks first. */
  function send(use: SettingsUse, sure = false) {
    asks.value = use === 'final' && lost.value.length > 0 && !sure;
    if (!asks.value) void bench.render('proof', { use });
  }
  return { times, proposed, other, lost, asks, send };
});
