<script setup lang="ts">
// What could be had: the present settings, the plan, and the others, each with what it will give.
import Button from 'primevue/button';
import { type PlanOption, type SamplingPlan } from '@dusting/core/plan';
import type { Estimate } from '@dusting/core/diagnose';
import { usePlan } from '../stores/plan.ts';
import { lightnessUnits, seconds } from '../words.ts';

const props = defineProps<{ plan: SamplingPlan }>();
const { take } = usePlan();
const kinds = () => props.plan.within.map(({ kind }) => kind);
const countsText = ({ adaptive, counts }: PlanOption) =>
  [
    adaptive.limit > 0 ? `${adaptive.least} to ${counts.pixelSamples} pixel` : `${counts.pixelSamples} pixel`,
    ...kinds().map((kind) => `${counts[`${kind}Samples`]} ${kind}`),
  ].join(', ') + (adaptive.limit > 0 ? `, to ${adaptive.limit} L*` : '');
/** The unit is said once, where both have the same. */
function range({ high, low }: Estimate, format: (n: number) => string) {
  const [from, to] = [format(low), format(high)];
  if (from === to) return '';
  const isAlike = from.replace(/.* /, '') === to.replace(/.* /, '');
  return ` (${isAlike ? from.replace(/ .*/, '') : from}–${to})`;
}
</script>

<template>
  <div class="options">
    <div
      v-for="option in props.plan.options"
      :key="option.id"
      class="option"
      :class="option.id"
      :data-test="`option-${option.id}`"
    >
      <p class="title">
        <b>{{ option.title }}</b>
        <Button
          v-if="option.patch.length > 0"
          label="Put on the slip"
          size="small"
          severity="secondary"
          text
          :data-test="`take-${option.id}`"
          @click="take(option)"
        />
      </p>
      <p>{{ countsText(option) }}</p>
      <p>
        <span class="number">{{ lightnessUnits(option.noise.value) }}</span><span class="dim number">{{
          range(option.noise, lightnessUnits)
        }}</span>
        {{ option.meetsLimit ? 'within the limit' : 'above the limit' }},
        <span class="number">{{ seconds(option.seconds.value) }}</span><span class="dim number">{{
          range(option.seconds, seconds)
        }}</span>
      </p>
    </div>
  </div>
</template>

<style scoped>
.options {
  display: flex;
  flex-direction: column;
}
.option {
  border-left: 2px solid var(--line);
  padding: 3px 0 5px 10px;
  line-height: 1.4;
  font-size: 12.5px;
}
.option.plan {
  border-left-color: var(--wax);
}
.title {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 24px;
}
.title :deep(.p-button) {
  padding: 0 4px;
  height: 22px;
}
</style>
