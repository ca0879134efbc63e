<script setup lang="ts">
// Trials over the values of a parameter or two: set up, followed, and looked at side by side.
import { computed, ref, watch } from 'vue';
import Button from 'primevue/button';
import { sweepPatches } from '@dusting/core/plan';
import { parameterAt } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { api } from '../api.ts';
import SweepAxisRow from './SweepAxisRow.vue';
import SweepSheet from './SweepSheet.vue';
import { draftAxis, SETTINGS_PART, sweptKeys, type AxisDraft } from './sweepParameters.ts';
import { countValues, readValues } from './sweepValues.ts';

const NAMES = ['first', 'second'];
const bench = useBench();
const slip = useSlip();

const drafts = ref<AxisDraft[]>([]);
const fault = ref('');
const add = (under: string) => drafts.value.push(draftAxis(slip.document!, bench.use, SETTINGS_PART, under));
watch(
  () => bench.shot?.id,
  () => {
    drafts.value = [];
    if (slip.document) add('pixelSamples');
  },
  { immediate: true },
);
const trials = computed(() => drafts.value.reduce((n, { text }) => n * countValues(text), 1));

async function start() {
  fault.value = '';
  try {
    const axes = drafts.value.map((draft) => {
      const keys = sweptKeys(draft, bench.use);
      const parameter = parameterAt(keys, slip.document);
      if (!parameter) throw new Error('Choose a parameter to sweep over.');
      return { path: `/${keys.join('/')}`, values: readValues(parameter, draft.text) };
    });
    sweepPatches(axes, bench.use);
    await bench.settled();
    await api.sweep(bench.shot!.id, { use: bench.use, region: bench.region, axes });
    await bench.refresh();
  } catch (problem) {
    fault.value = (problem as Error).message;
  }
}
const sweeps = computed(() => (bench.shot?.sweeps ?? []).toReversed());
</script>

<template>
  <section class="panel">
    <p v-if="sweeps.length === 0" class="dim">
      A sweep renders the region with several values of a setting, or of a surface, light or object, so that they can be
      looked at side by side.
    </p>
    <SweepAxisRow v-for="(_, i) in drafts" :key="i" v-model="drafts[i]" :name="NAMES[i]" />
    <p v-if="fault" class="fault" role="alert" data-test="sweep-fault">{{ fault }}</p>
    <div class="go">
      <Button
        :label="`Render ${trials} trials of the ${bench.region ? 'region' : 'frame'}`"
        :disabled="!!bench.busy"
        data-test="sweep-start"
        @click="start"
      />
      <button
        v-if="drafts.length === 1"
        class="tool"
        data-test="sweep-two"
        @click="add(drafts[0].under === 'lightSamples' ? 'pixelSamples' : 'lightSamples')"
      >
        + second
      </button>
      <button v-else class="tool" data-test="sweep-one" @click="drafts.pop()">− second</button>
    </div>
    <SweepSheet v-for="sweep in sweeps" :key="sweep.id" :sweep="sweep" />
  </section>
</template>

<style scoped>
.go {
  display: flex;
  gap: 6px;
}
.go > :first-child {
  flex: 1;
}
</style>
