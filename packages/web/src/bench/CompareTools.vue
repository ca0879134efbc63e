<script setup lang="ts">
// What the shown proof is compared with, and how.
import { computed } from 'vue';
import Select from 'primevue/select';
import { useBench } from '../stores/bench.ts';
import { giveKeysBack } from './giveKeysBack.ts';
import { useLook } from '../stores/look.ts';
import { proofName } from '../words.ts';

const bench = useBench();
const look = useLook();
const options = computed(() => [
  { id: null, label: 'nothing' },
  ...bench.done.filter((p) => p.id !== bench.proofId).map((p) => ({ id: p.id as number | null, label: proofName(p) })),
]);
const MODES = [
  { mode: 'one', label: 'One' },
  { mode: 'wipe', label: 'Wipe' },
  { mode: 'side', label: 'Side by side' },
  { mode: 'difference', label: 'Difference' },
] as const;
async function choose(id: number | null) {
  await bench.compareWith(id);
  if (id !== null && look.mode === 'one') look.mode = 'wipe';
}
</script>

<template>
  <div class="compare">
    <div class="pair">
      <span>{{ bench.proof ? proofName(bench.proof) : 'It' }} against</span>
      <Select
        aria-label="Compared with"
        :model-value="bench.besideId"
        :options="options"
        placeholder="nothing"
        option-label="label"
        option-value="id"
        data-test="against"
        @hide="giveKeysBack"
        @update:model-value="choose"
      />
    </div>
    <div v-if="bench.besideId !== null" class="modes" role="group" aria-label="Comparing, W">
      <button v-for="m in MODES" :key="m.mode" :aria-pressed="look.mode === m.mode" @click="look.mode = m.mode">
        {{ m.label }}
      </button>
    </div>
    <p v-if="bench.besideId !== null && look.mode === 'difference'" class="dim">
      Grey: the same. Brighter: more light than before. The exposure is the gain.
    </p>
  </div>
</template>

<style scoped>
.compare {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.pair {
  display: flex;
  gap: 10px;
  align-items: center;
}
.p-select {
  flex: 1;
}
.modes {
  display: flex;
}
button {
  flex: auto;
  height: 26px;
  padding: 0 6px;
  border: 1px solid var(--line);
  background: none;
  color: var(--text);
  font: inherit;
  white-space: nowrap;
  cursor: pointer;
}
button + button {
  border-left: 0;
}
button[aria-pressed='true'] {
  background: #565656;
  box-shadow: inset 0 -2px 0 var(--wax);
}
</style>
