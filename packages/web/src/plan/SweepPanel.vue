<script setup lang="ts">
// Trials over the values of a setting or two: set up, followed, and looked at side by side.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import Select from 'primevue/select';
import { sweepPatches } from '@dusting/core/plan';
import { valueAt } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { api } from '../api.ts';
import { SETTING_FIELDS } from '../bench/settingFields.ts';
import SweepSheet from './SweepSheet.vue';
import { proposeValues, readValues } from './sweepValues.ts';

const bench = useBench();
const slip = useSlip();

const SETTINGS = SETTING_FIELDS.map((field) => ({ ...field, value: field.path, label: field.title }));
const first = ref('pixelSamples');
const second = ref<string | null>(null);
const typed = ref<Record<string, string>>({});
const fault = ref('');
const fieldOf = (path: string) => SETTINGS.find((s) => s.value === path)!;
const textOf = (path: string) =>
  typed.value[path] ?? proposeValues(fieldOf(path), valueAt(slip.settings(bench.use), path.split('/')));
const paths = computed(() => [first.value, second.value].filter((p) => p !== null));
const trials = computed(() => paths.value.reduce((n, path) => n * textOf(path).split(/[\s,;]+/).filter(Boolean).length, 1)); // prettier-ignore

async function start() {
  fault.value = '';
  try {
    const axes = paths.value.map((path) => ({ path, values: readValues(fieldOf(path), textOf(path)) }));
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
      A sweep renders the region with several values of a setting, so that they can be looked at side by side.
    </p>
    <div class="axis">
      <Select
        v-model="first"
        :options="SETTINGS"
        option-label="label"
        option-value="value"
        filter
        size="small"
        aria-label="Setting to sweep"
        data-test="sweep-setting"
      />
      <input
        class="entry"
        :value="textOf(first)"
        aria-label="Values"
        data-test="sweep-values"
        @input="typed[first] = ($event.target as HTMLInputElement).value"
      />
    </div>
    <div class="axis">
      <Select
        v-model="second"
        :options="SETTINGS"
        option-label="label"
        option-value="value"
        filter
        show-clear
        placeholder="and another"
        size="small"
        aria-label="Second setting"
        data-test="sweep-second"
      />
      <input
        v-if="second"
        class="entry"
        :value="textOf(second)"
        aria-label="Values of the second"
        @input="typed[second!] = ($event.target as HTMLInputElement).value"
      />
    </div>
    <p v-if="fault" class="fault" role="alert" data-test="sweep-fault">{{ fault }}</p>
    <Button
      :label="`Render ${trials} trials of the ${bench.region ? 'region' : 'frame'}`"
      :disabled="!!bench.busy"
      data-test="sweep-start"
      @click="start"
    />
    <SweepSheet v-for="sweep in sweeps" :key="sweep.id" :sweep="sweep" />
  </section>
</template>

<style scoped>
.axis {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.axis .entry {
  min-width: 0;
}
</style>
