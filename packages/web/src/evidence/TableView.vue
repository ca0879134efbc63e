<script setup lang="ts">
import { formatNumber, type Reference, type TableEvidence } from '@dusting/core/diagnose';
import { displayed } from './displayed.ts';

defineProps<{ evidence: TableEvidence }>();
const emit = defineEmits<{ go: [to: Reference] }>();
</script>

<template>
  <table>
    <thead>
      <tr>
        <th v-for="(c, i) in evidence.columns" :key="i">{{ c }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(row, r) in evidence.rows" :key="r">
        <td v-for="(cell, i) in row" :key="i" :class="{ number: cell.type === 'number' }">
          <template v-if="cell.type === 'number'">{{ formatNumber(cell.value, cell.unit) }}</template>
          <button v-else-if="cell.type === 'link'" class="link" @click="emit('go', cell.to)">{{ cell.text }}</button>
          <i v-else-if="cell.type === 'swatch'" class="swatch" :style="{ background: displayed(cell.rgb) }" />
          <template v-else>{{ cell.text }}</template>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
/* what a row is about stays readable, and in view beside the columns that are scrolled to */
th:first-child,
td:first-child {
  position: sticky;
  left: 0;
  min-width: 8.5em;
  background: var(--panel);
}
/* a value and its unit stay together */
.number {
  white-space: nowrap;
}
.swatch {
  display: inline-block;
  width: 28px;
  height: 12px;
}
</style>
