<script setup lang="ts">
// Beside the scale of the time and the sample map: which pixels take most of it, and what they show.
import { computed, ref, watch } from 'vue';
import { COST_LAYERS, DEAR, type CostLayer, type CostShare } from '@dusting/core/render';
import { percent } from '@dusting/core/diagnose';
import { api } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { seconds } from '../words.ts';

const bench = useBench();
const cost = ref<CostShare | null>(null);
const layer = computed(() => (bench.layer in COST_LAYERS ? (bench.layer as CostLayer) : null));
watch(
  [() => bench.proofId, () => layer.value, () => bench.proof?.state],
  async ([proof, of, state]) => {
    cost.value = null;
    if (proof === null || of === null || state !== 'done') return;
    const found = await bench.load(() => api.cost(proof, of));
    if (bench.proofId === proof && layer.value === of) cost.value = found ?? null;
  },
  { immediate: true },
);
const total = computed(() =>
  layer.value === 'time'
    ? seconds((cost.value?.total ?? 0) / 1000)
    : `${(cost.value?.total ?? 0).toLocaleString('en')} samples`,
);
</script>

<template>
  <p v-if="cost" data-test="cost">
    {{ total }} in all, over all threads.
    <template v-if="cost.pixels > 0">
      {{ percent(cost.pixels) }} of the pixels take {{ percent(cost.taken) }} of it, each more than {{ DEAR }} times the
      mean<template v-if="cost.surfaces.length > 0"
        >: {{ cost.surfaces.map((s) => `${s.name} ${percent(s.share)}`).join(', ') }}</template
      >.
    </template>
    <template v-else>No pixel takes more than {{ DEAR }} times the mean.</template>
  </p>
</template>
