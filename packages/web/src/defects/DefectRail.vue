<script setup lang="ts">
import { useBench } from '../stores/bench.ts';
import { DEFECT_SIGNS, DEFECT_STATES } from '../words.ts';

const bench = useBench();
</script>

<template>
  <nav class="rail" aria-label="Defects">
    <p class="dim head">Defects</p>
    <button
      v-for="d in bench.shot?.defects"
      :key="d.id"
      v-tooltip.right="`D${d.number}: ${DEFECT_SIGNS[d.kind].name}, ${DEFECT_STATES[d.state].name}`"
      :class="{ chosen: d.id === bench.defectId, quiet: d.state === 'fixed' || d.state === 'accepted' }"
      :data-test="`defect-${d.number}`"
      @click="bench.selectDefect(d.id)"
    >
      <span class="sign">{{ DEFECT_SIGNS[d.kind].sign }}</span>
      <span
        >D{{ d.number }} <span class="dim">{{ DEFECT_STATES[d.state].sign }}</span></span
      >
    </button>
    <p v-if="bench.shot && bench.shot.defects.length === 0" class="dim empty">none marked</p>
  </nav>
</template>

<style scoped>
.rail {
  width: 54px;
  background: var(--room);
  border-right: 1px solid var(--line);
  overflow-y: auto;
  text-align: center;
}
.head,
.empty {
  font-size: 11.5px;
  padding: 8px 2px;
}
button {
  display: flex;
  flex-direction: column;
  align-items: center;
  width: 100%;
  padding: 6px 0;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  color: var(--text);
  font: 600 12.5px var(--sans);
  cursor: pointer;
}
.sign {
  font-size: 17px;
  line-height: 1.1;
}
.chosen {
  background: #4a4a4a;
  border-left-color: var(--wax);
}
.quiet {
  opacity: 0.6;
}
</style>
