<script setup lang="ts">
// Which of the two sets of settings, and how they are settled: by hand or by a plan.
import Select from 'primevue/select';
import type { SettingsUse } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import ToolChoice from '../parts/ToolChoice.vue';

const bench = useBench();
const USES: { value: SettingsUse; label: string }[] = [
  { value: 'final', label: 'final' },
  { value: 'preview', label: 'preview' },
];
const WAYS = [
  { key: 'settings', label: 'by hand' },
  { key: 'plan', label: 'plan' },
  { key: 'sweep', label: 'sweep' },
  { key: 'drift', label: 'drift' },
] as const;
</script>

<template>
  <div class="head">
    <!-- the drift shows both sets -->
    <Select
      v-if="bench.panel !== 'drift'"
      v-model="bench.use"
      :options="USES"
      option-label="label"
      option-value="value"
      aria-label="Which settings"
    />
    <span class="segments" role="group" aria-label="How they are settled">
      <ToolChoice :items="WAYS" :pressed="(key) => bench.panel === key" test-id="way" @press="bench.panel = $event" />
    </span>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 10px;
}
.head :deep(.p-select) {
  flex: 1;
  min-width: 0;
}
.segments {
  flex: none;
}
</style>
