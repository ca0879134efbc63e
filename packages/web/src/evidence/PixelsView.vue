<script setup lang="ts">
import Checkbox from 'primevue/checkbox';
import { formatNumber, type PixelsEvidence, type Reference } from '@dusting/core/diagnose';

defineProps<{ evidence: PixelsEvidence; shown: boolean }>();
const emit = defineEmits<{ go: [to: Reference]; show: [on: boolean] }>();
</script>

<template>
  <label class="check"
    ><Checkbox
      :model-value="shown"
      binary
      :input-id="`overlay-${evidence.id}`"
      @update:model-value="emit('show', $event)"
    />
    mark them on the picture</label
  >
  <table>
    <thead>
      <tr>
        <th>pixel</th>
        <th>{{ evidence.value.label }}</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="p in evidence.pixels" :key="`${p.x},${p.y}`">
        <td>
          <button class="link number" @click="emit('go', { type: 'pixel', x: p.x, y: p.y })">
            {{ p.x }}, {{ p.y }}
          </button>
        </td>
        <td class="number">{{ formatNumber(p.value, evidence.value.unit) }}</td>
        <td>{{ p.text }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.check {
  display: flex;
  gap: 6px;
  align-items: center;
}
</style>
