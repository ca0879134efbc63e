<script setup lang="ts">
import Button from 'primevue/button';
import type { RaysEvidence, Reference } from '@dusting/core/diagnose';
import type { Sketch } from '../stores/diagnosis.ts';

defineProps<{ evidence: RaysEvidence }>();
const emit = defineEmits<{ go: [to: Reference]; draw: [sketch: Sketch] }>();
</script>

<template>
  <ul>
    <li v-for="(ray, i) in evidence.rays" :key="i">
      <button class="link" @click="emit('go', ray.about)">{{ ray.label }}</button> {{ ray.text }}
      <button
        class="link"
        :aria-label="`Draw ${ray.label} in the model`"
        @click="emit('draw', { path: [], rays: ray.lines })"
      >
        draw
      </button>
    </li>
  </ul>
  <Button
    label="Draw them all in the model"
    size="small"
    severity="secondary"
    data-test="rays-in-model"
    @click="emit('draw', { path: [], rays: evidence.rays.flatMap(({ lines }) => lines) })"
  />
</template>

<style scoped>
ul {
  margin: 4px 0;
  padding-left: 18px;
}
</style>
