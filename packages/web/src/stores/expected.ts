// What a render will take before it is sent, and which one is proposed: the preview until somebody has seen a picture.
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import type { SettingsUse } from '@dusting/core/scene';
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
  return { times, proposed, other };
});
