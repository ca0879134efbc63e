<script setup lang="ts">
// What the search may choose from, and which tiles are to hold the limit.
import { ref } from 'vue';
import Select from 'primevue/select';
import { BOUNDS_DEFAULTS } from '@dusting/core/plan';
import { usePlan } from '../stores/plan.ts';
import QuantityInput from '../contents/QuantityInput.vue';

const plan = usePlan();
const SHARES = [
  { value: 0.95, label: '95 of 100 tiles (the worst count)' },
  { value: 0.5, label: 'half of the tiles (the frame as a whole)' },
];
const FIELDS = [
  { key: 'leastPixelSamples', label: 'pixel samples, least', maximum: 65536 },
  { key: 'mostPixelSamples', label: 'pixel samples, most', maximum: 65536 },
  { key: 'mostSplits', label: 'other samples, most', maximum: 1024 },
] as const;
const fault = ref('');
const set = (key: (typeof FIELDS)[number]['key'], count: number) => (plan.bounds = { ...plan.bounds, [key]: count });
</script>

<template>
  <details class="bounds">
    <summary>Bounds of the search</summary>
    <div class="grid">
      <Select
        v-model="plan.share"
        class="wide"
        :options="SHARES"
        option-label="label"
        option-value="value"
        size="small"
        aria-label="Which tiles hold the limit"
      />
      <template v-for="field in FIELDS" :key="field.key">
        <label :for="`bound-${field.key}`">{{ field.label }}</label>
        <QuantityInput
          :id="`bound-${field.key}`"
          :value="plan.bounds[field.key]"
          unit=""
          :minimum="1"
          :maximum="field.maximum"
          :whole="true"
          :data-test="`bound-${field.key}`"
          @change="set(field.key, $event)"
          @fault="fault = $event"
        />
      </template>
      <p v-if="fault" class="fault wide">{{ fault }}</p>
      <button class="tool" @click="plan.bounds = { ...BOUNDS_DEFAULTS }">As it was</button>
    </div>
  </details>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 1fr 90px;
  gap: 4px 8px;
  align-items: center;
  padding-top: 4px;
}
.wide {
  grid-column: 1 / 3;
}
summary {
  cursor: pointer;
}
</style>
