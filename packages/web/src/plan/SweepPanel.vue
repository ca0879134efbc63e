<script setup lang="ts">
// Trials over the values of a setting or two: set up, followed, and looked at side by side.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import Select from 'primevue/select';
import { InputError } from '@dusting/core/formats';
import { sweepPatches, usualValues, type SweepAxis } from '@dusting/core/plan';
import { RenderSettings, valueAt } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { api } from '../api.ts';
import SweepSheet from './SweepSheet.vue';

const bench = useBench();
const slip = useSlip();

type Schema = { title?: string; type?: string; unit?: string; properties?: Record<string, Schema> };
/** Settings that are numbers, by their path. */
const SETTINGS = Object.entries(RenderSettings.properties as Record<string, Schema>).flatMap(([key, schema]) =>
  Object.entries(schema.properties ?? { '': schema }).flatMap(([under, own]) =>
    own.type === 'integer' || own.type === 'number'
      ? [{ value: under ? `${key}/${under}` : key, label: own.title ?? under, whole: own.type === 'integer' }]
      : [],
  ),
);
const first = ref('pixelSamples');
const second = ref<string | null>(null);
const typed = ref<Record<string, string>>({});
const fault = ref('');
const present = (path: string) => valueAt(slip.settings(bench.use), path.split('/')) as number;
const valuesOf = (path: string) =>
  typed.value[path] ?? usualValues(present(path), SETTINGS.find((s) => s.value === path)!.whole).join(', ');
const paths = computed(() => [first.value, second.value].filter((p) => p !== null));
const axes = computed<SweepAxis[]>(() =>
  paths.value.map((path) => ({
    path,
    values: valuesOf(path)
      .split(/[\s,;]+/)
      .filter((word) => word !== '')
      .map(Number),
  })),
);
const trials = computed(() => axes.value.reduce((n, { values }) => n * values.length, 1));

async function start() {
  fault.value = '';
  const wrong = axes.value.find(({ values }) => values.some((v) => !Number.isFinite(v)));
  if (wrong) return (fault.value = `“${valuesOf(wrong.path)}” is not a list of numbers`);
  try {
    sweepPatches(axes.value, bench.use);
    await bench.settled();
    await api.sweep(bench.shot!.id, { use: bench.use, region: bench.region, axes: axes.value });
    await bench.refresh();
  } catch (problem) {
    fault.value = (problem as InputError).message;
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
        :value="valuesOf(first)"
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
        :value="valuesOf(second)"
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
