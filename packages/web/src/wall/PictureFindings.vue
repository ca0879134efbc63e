<script setup lang="ts">
// The worst that was found about the shown proof, at the picture, with one press to what explains it.
import { computed } from 'vue';
import { DIAGNOSES, isSevere } from '@dusting/core/diagnose';
import { useExplainAs } from '../defects/useExplainAs.ts';
import { useBench } from '../stores/bench.ts';
import { FINDING_SIGNS } from '../words.ts';
import { findingsOf } from '../proofs/findingsOf.ts';

const bench = useBench();
const explainAs = useExplainAs();
const found = computed(() => (bench.proof?.state === 'done' ? findingsOf(bench.proof).filter(isSevere) : []));
const worst = computed(() => found.value[0]);
const isExplained = computed(() => !!worst.value?.kind && !!DIAGNOSES[worst.value.kind]);

/** Explains it over the whole picture. */
function explain() {
  const { kind } = worst.value;
  if (!kind || !isExplained.value) return void (bench.panel = 'history');
  void explainAs(kind, bench.proof!.region);
}
</script>

<template>
  <button v-if="worst" class="worst" :class="worst.severity" data-test="worst-finding" @click="explain">
    {{ FINDING_SIGNS[worst.severity] }} {{ worst.text }}
    <span class="dim"
      >{{ found.length > 1 ? `${found.length - 1} more. ` : '' }}{{ isExplained ? 'Explain' : 'Read the log' }} ▸</span
    >
  </button>
</template>

<style scoped>
.worst {
  position: absolute;
  left: 10px;
  top: 8px;
  max-width: calc(100% - 20px);
  padding: 3px 9px;
  border: 0;
  border-left: 3px solid var(--wax);
  background: rgb(30 30 30 / 85%);
  color: var(--text);
  font: 13px var(--sans);
  text-align: left;
  cursor: pointer;
}
.error {
  border-left-color: #ee8c78;
}
</style>
