<script setup lang="ts">
// The object that the user expects to be at work, where a diagnosis asks for one. A choice is explained at once where an answer stands.
import { computed } from 'vue';
import Select from 'primevue/select';
import { giveKeysBack } from '../parts/giveKeysBack.ts';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import { useDiagnosis } from '../stores/diagnosis.ts';
import { useEdits } from '../stores/edits.ts';

defineProps<{ asks: string }>();
const bench = useBench();
const contents = useContents();
const diagnosis = useDiagnosis();
const edits = useEdits();
const objects = computed(() => Object.entries(contents.document?.objects ?? {}).map(([id, { name }]) => ({ id, name })).sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))); // prettier-ignore
const selected = computed(() => {
  const [only, ...others] = contents.selected;
  return only?.kind === 'object' && others.length === 0 && only.id !== bench.defect?.expected ? objects.value.find(({ id }) => id === only.id) : undefined; // prettier-ignore
});
async function choose(object: string | null) {
  await edits.expectObject(bench.defect!, object);
  if (diagnosis.result) await diagnosis.explainAgain();
}
</script>

<template>
  <div class="expected">
    <label for="expected-object">{{ asks }}</label>
    <Select
      :model-value="bench.defect!.expected"
      input-id="expected-object"
      :options="objects"
      option-label="name"
      option-value="id"
      filter
      show-clear
      reset-filter-on-hide
      size="small"
      placeholder="Any"
      :virtual-scroller-options="{ itemSize: 32 }"
      :disabled="diagnosis.isRunning"
      data-test="expected-object"
      @update:model-value="choose"
      @hide="giveKeysBack"
    />
    <button v-if="selected" class="link" data-test="expect-selected" @click="choose(selected.id)">
      Take {{ selected.name }}, which is selected
    </button>
  </div>
</template>

<style scoped>
.expected {
  display: flex;
  flex-direction: column;
  gap: 4px;
  align-items: stretch;
}
label {
  color: var(--dim);
}
</style>
