<script setup lang="ts">
// What stands in the panel while no defect is selected: how to mark one.
import Button from 'primevue/button';
import { DEFECT_KINDS } from '@dusting/core/diagnose';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { DEFECT_SIGNS } from '../words.ts';

const bench = useBench();
const edits = useEdits();
</script>

<template>
  <section v-if="bench.region && bench.proof?.state === 'done'">
    <h2>Mark this region as a defect</h2>
    <p class="dim">What is wrong in it?</p>
    <div class="kinds">
      <Button
        v-for="kind in DEFECT_KINDS"
        :key="kind"
        severity="secondary"
        :data-test="`mark-${kind}`"
        @click="edits.markDefect(kind)"
      >
        <span class="sign">{{ DEFECT_SIGNS[kind].sign }}</span> {{ DEFECT_SIGNS[kind].name }}
      </Button>
    </div>
  </section>
  <section v-else>
    <h2>Nothing is selected</h2>
    <p class="dim">
      Drag over the part of the picture that looks wrong, then say what kind of defect it is. Or choose one of the
      defects on the left.
    </p>
  </section>
</template>

<style scoped>
section {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.kinds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.kinds .p-button {
  justify-content: flex-start;
}
.sign {
  width: 20px;
}
</style>
