<script setup lang="ts">
// A remedy: what it changes, what it is predicted to do, and what its trial measured.
import Button from 'primevue/button';
import {
  formatNumber,
  formatRange,
  MEASURES,
  meetsTarget,
  type Effect,
  type Measured,
  type Remedy,
} from '@dusting/core/diagnose';

const props = defineProps<{
  remedy: Remedy;
  /** Name and values of its trial, where there is one. */
  trial: { name: string; values: Measured } | null;
}>();
const emit = defineEmits<{ take: [] }>();
const unitOf = ({ measure }: Effect) => MEASURES[measure].unit;
const measuredOf = ({ measure }: Effect) => props.trial?.values[measure];
const standing = (effect: Effect) =>
  effect.target === null
    ? ''
    : `${meetsTarget(effect) ? 'within' : 'still above'} the ${MEASURES[effect.measure].target} of ${formatNumber(effect.target, unitOf(effect))}`;
</script>

<template>
  <div class="remedy" :data-test="`remedy-${remedy.id}`">
    <p>{{ remedy.title }}</p>
    <table>
      <thead>
        <tr>
          <th></th>
          <th>now</th>
          <th>predicted</th>
          <th v-if="trial">{{ trial.name }} measured</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="effect in remedy.effects" :key="effect.measure" :data-test="`effect-${effect.measure}`">
          <td>{{ MEASURES[effect.measure].name }}</td>
          <td class="number short">{{ effect.now === null ? '' : formatNumber(effect.now, unitOf(effect)) }}</td>
          <td class="number" data-test="predicted">
            {{ formatNumber(effect.value, unitOf(effect)) }}
            <span v-if="formatRange(effect, unitOf(effect))" class="range">{{
              formatRange(effect, unitOf(effect))
            }}</span>
            <span v-if="standing(effect)" class="range">{{ standing(effect) }}</span>
          </td>
          <td v-if="trial" class="number short" data-test="measured">
            {{ measuredOf(effect) === undefined ? '' : formatNumber(measuredOf(effect)!, unitOf(effect)) }}
          </td>
        </tr>
      </tbody>
    </table>
    <p class="dim">{{ remedy.sideEffect }}</p>
    <Button
      label="Put on the slip"
      severity="secondary"
      variant="outlined"
      size="small"
      :data-test="`take-${remedy.id}`"
      @click="emit('take')"
    />
  </div>
</template>

<style scoped>
.short {
  white-space: nowrap;
}
.remedy {
  border-left: 2px solid var(--line);
  padding: 2px 0 4px 10px;
}
td,
th {
  vertical-align: top;
  padding-right: 8px;
}
.range {
  display: block;
  color: var(--dim);
  font: 11.5px var(--sans);
}
.p-button {
  margin-top: 4px;
}
</style>
