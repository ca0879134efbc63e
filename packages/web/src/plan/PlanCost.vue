<script setup lang="ts">
// What the time of a frame goes to, what of it is wasted, and what a sequence takes.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import { useLocalStorage } from '@vueuse/core';
import { percent } from '@dusting/core/diagnose';
import { FARM_DEFAULTS, sequenceCost, type SamplingPlan } from '@dusting/core/plan';
import { useSlip } from '../stores/slip.ts';
import { hours, megabytes, seconds } from '../words.ts';
import QuantityInput from '../contents/QuantityInput.vue';

const props = defineProps<{ plan: SamplingPlan }>();
const slip = useSlip();
const farm = useLocalStorage('dusting.farm', { ...FARM_DEFAULTS });
const fault = ref('');
const costs = computed(() => props.plan.costs.filter((c) => c.share > 0.005).toSorted((a, b) => b.share - a.share));
const rows = computed(() =>
  props.plan.options.map(({ id, title, seconds }) => ({ id, title, cost: sequenceCost(seconds, farm.value) })),
);
const FIELDS = [
  { key: 'frames', label: 'frames', maximum: 1_000_000 },
  { key: 'machines', label: 'machines', maximum: 100_000 },
] as const;
</script>

<template>
  <template v-if="props.plan.waste.length > 0">
    <h3>Wasted render cost</h3>
    <div v-for="item in props.plan.waste" :key="item.id" class="waste" :data-test="`waste-${item.id}`">
      <p>
        {{ item.title }}: saves
        <span class="number">{{
          'seconds' in item.saves ? `${seconds(item.saves.seconds)} a frame` : megabytes(item.saves.bytes)
        }}</span>; {{ item.effect }}.
      </p>
      <Button
        v-if="item.patch.length > 0"
        label="Put on the slip"
        size="small"
        severity="secondary"
        text
        @click="slip.add(item.patch)"
      />
    </div>
  </template>
  <details>
    <summary>What the time of a frame goes to</summary>
    <table data-test="plan-costs">
      <tbody>
        <tr v-for="cost in costs" :key="cost.kind">
          <td>{{ cost.kind === 'camera' ? 'camera rays and shading' : `${cost.kind} samples` }}</td>
          <td class="number">{{ percent(cost.share) }}</td>
        </tr>
      </tbody>
    </table>
    <table v-if="props.plan.lights.length > 0" data-test="plan-lights">
      <thead>
        <tr>
          <th>light group</th>
          <th>of the time</th>
          <th>of the noise</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="light in props.plan.lights" :key="light.name">
          <td>{{ light.name }}</td>
          <td class="number">{{ percent(light.time) }}</td>
          <td class="number">{{ percent(light.noise) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="dim small">
      Measured while rendering, by the clock: light samples are those at the first surface, the others with all that
      follows them.
    </p>
  </details>
  <details data-test="sequence">
    <summary>What a sequence takes</summary>
    <div class="farm">
      <template v-for="field in FIELDS" :key="field.key">
        <label :for="`farm-${field.key}`">{{ field.label }}</label>
        <QuantityInput
          :id="`farm-${field.key}`"
          :value="farm[field.key]"
          unit=""
          :minimum="1"
          :maximum="field.maximum"
          :whole="true"
          @change="farm = { ...farm, [field.key]: $event }"
          @fault="fault = $event"
        />
      </template>
    </div>
    <p v-if="fault" class="fault">{{ fault }}</p>
    <table>
      <thead>
        <tr>
          <th></th>
          <th>machine time</th>
          <th>done in</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id" :data-test="`sequence-${row.id}`">
          <td>{{ row.title }}</td>
          <td class="number">{{ hours(row.cost.machineHours.value) }}</td>
          <td class="number">{{ hours(row.cost.hours.value) }}</td>
        </tr>
      </tbody>
    </table>
    <p class="dim small">
      At the size of the frame, on machines like this one. Predicted times, frames handed out whole.
    </p>
  </details>
</template>

<style scoped>
.waste {
  border-left: 2px solid var(--line);
  padding-left: 10px;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 6px;
}
.waste :deep(.p-button) {
  flex: none;
  padding: 0 4px;
}
.farm {
  display: grid;
  grid-template-columns: auto 70px auto 70px;
  gap: 6px;
  align-items: center;
  padding: 4px 0;
}
.small {
  font-size: 11.5px;
}
summary {
  cursor: pointer;
}
td.number,
th:not(:first-child) {
  text-align: right;
  white-space: nowrap;
}
</style>
