<script setup lang="ts">
// Rays for a pixel with what is on the slip: as counted and scaled, and the most that the settings allow.
import { computed } from 'vue';
import { type RayBudgetRow } from '@dusting/core/plan';

const props = defineProps<{ rows: RayBudgetRow[] }>();
const name = (kind: RayBudgetRow['kind']) => (kind === 'camera' ? 'camera' : `${kind} samples`);
const whole = (n: number) => (n > 0 && n < 10 ? n.toFixed(1) : Math.round(n).toLocaleString('en'));
const seen = computed(() => props.rows.filter((row) => row.expected > 0));
const sum = (of: 'expected' | 'most') => seen.value.reduce((all, row) => all + row[of], 0);
</script>

<template>
  <details data-test="ray-budget">
    <summary>
      About <span class="number">{{ whole(sum('expected')) }}</span> rays for a pixel, at most
      <span class="number">{{ whole(sum('most')) }}</span>
    </summary>
    <table>
      <thead>
        <tr>
          <th>sent by</th>
          <th>least</th>
          <th>expected</th>
          <th>most</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in seen" :key="row.kind">
          <td>{{ name(row.kind) }}</td>
          <td class="number">{{ whole(row.least) }}</td>
          <td class="number">{{ whole(row.expected) }}</td>
          <td class="number">{{ whole(row.most) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="dim">Least and most from the settings alone; expected: as counted in the last proof, scaled.</p>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}
td.number,
th:not(:first-child) {
  text-align: right;
}
p {
  font-size: 11.5px;
}
</style>
