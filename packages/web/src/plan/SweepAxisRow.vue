<script setup lang="ts">
// One axis of a sweep: whose parameter, which, and its values.
import { computed } from 'vue';
import Select from 'primevue/select';
import { parameterAt } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { draftAxis, sweptKeys, sweptParts, sweptUnder, type AxisDraft } from './sweepParameters.ts';

const axis = defineModel<AxisDraft>({ required: true });
defineProps<{ name: string }>();
const bench = useBench();
const slip = useSlip();
const parts = computed(() => sweptParts(slip.document!));
const parameters = computed(() => sweptUnder(axis.value.part, slip.document!, bench.use));
const unit = computed(() => parameterAt(sweptKeys(axis.value, bench.use), slip.document)?.unit);
const choose = (part: string, under?: string) => (axis.value = draftAxis(slip.document!, bench.use, part, under));
</script>

<template>
  <div class="axis" :data-test="`sweep-${name}`">
    <Select
      :model-value="axis.part"
      :options="parts"
      option-label="label"
      option-value="value"
      option-group-label="label"
      option-group-children="items"
      filter
      size="small"
      :aria-label="`${name} axis: of what`"
      data-test="axis-part"
      @update:model-value="choose($event)"
    />
    <Select
      :model-value="axis.under"
      :options="parameters"
      option-label="label"
      option-value="value"
      filter
      size="small"
      :aria-label="`${name} axis: parameter`"
      data-test="axis-parameter"
      @update:model-value="choose(axis.part, $event)"
    />
    <input
      class="entry"
      :value="axis.text"
      :aria-label="`${name} axis: values`"
      :class="{ whole: !unit }"
      data-test="axis-values"
      @input="axis = { ...axis, text: ($event.target as HTMLInputElement).value }"
    />
    <span v-if="unit" class="dim">{{ unit }}</span>
  </div>
</template>

<style scoped>
.axis {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 6px;
  align-items: center;
}
.axis > * {
  min-width: 0;
}
.axis > :deep(.p-select) {
  grid-column: span 2;
}
.entry {
  grid-column: span 3;
}
.entry.whole {
  grid-column: span 4;
}
</style>
