<script setup lang="ts">
// From a noise limit to settings that meet it: the pilot, what it measures, and the choice.
import { computed } from 'vue';
import Button from 'primevue/button';
import { percent } from '@dusting/core/diagnose';
import { useBench } from '../stores/bench.ts';
import { usePlan } from '../stores/plan.ts';
import { proofName, seconds } from '../words.ts';
import NoiseLimit from './NoiseLimit.vue';
import PlanBounds from './PlanBounds.vue';
import PlanChart from './PlanChart.vue';
import PlanCost from './PlanCost.vue';
import PlanOptions from './PlanOptions.vue';

const bench = useBench();
const plan = usePlan();
const pilot = computed(() => bench.shot?.proofs.find((p) => p.id === plan.pilot));
/** The noise is predicted for a part of the frame: of the region, or of the one that the pilot shows. */
const ofPart = computed(() => {
  if (bench.region || !pilot.value) return !!bench.region;
  const { region, settings } = pilot.value;
  return region.width < settings.width || region.height < settings.height;
});
/** How many renders the time is predicted from. */
const renders = computed(() => {
  const timed = plan.plan?.rests.timed ?? 0;
  return timed > 0 ? `; the time fitted to ${timed} ${timed === 1 ? 'render' : 'renders'} of this shot` : '';
});
const parts = computed(() => {
  const { within, between } = plan.plan ?? { within: [], between: 0 };
  return [
    ...within.map(({ kind, share }) => ({ name: `within the ${kind} samples`, share })),
    { name: 'between pixel samples', share: between },
  ]
    .filter(({ share }) => share > 0.005)
    .sort((a, b) => b.share - a.share);
});
</script>

<template>
  <section v-if="bench.shot" class="panel">
    <NoiseLimit />
    <p v-if="!plan.plan && !plan.running" class="dim">
      A pilot is a cheap render with several samples of everything. It measures where the noise comes from, what each
      sample costs, and so which settings reach the limit in the least time.
    </p>
    <p v-if="plan.running" data-test="pilot-running">
      The pilot {{ proofName(plan.running) }} is being rendered: {{ Math.floor(100 * plan.running.progress) }} %. It
      stands on the shelf, where it can be stopped.
    </p>
    <p v-else-if="plan.computing && !plan.plan" role="status">Looking for the best settings …</p>
    <p v-if="plan.fault" class="fault" role="alert">{{ plan.fault }}</p>
    <template v-if="plan.plan">
      <p class="finding" data-test="plan-summary">{{ plan.plan.summary }}</p>
      <PlanChart :plan="plan.plan" />
      <PlanOptions :plan="plan.plan" />
      <p v-for="note in plan.plan.notes" :key="note" class="note" data-test="plan-note">▲ {{ note }}</p>
      <PlanCost :plan="plan.plan" />
      <details>
        <summary>Where the current noise comes from</summary>
        <table data-test="plan-levels">
          <tbody>
            <tr v-for="part in parts" :key="part.name">
              <td>{{ part.name }}</td>
              <td class="number">{{ percent(part.share) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="dim small">
          What arises within samples of a kind is taken away by more of them; what arises between pixel samples (edges,
          motion, fine detail) by pixel samples alone. Estimated from the pilot, weighed by what the eye sees.
        </p>
      </details>
    </template>
    <PlanBounds />
    <Button
      :label="plan.plan ? 'Render the pilot again' : bench.region ? 'Render a pilot of the region' : 'Render a pilot'"
      :severity="plan.plan ? 'secondary' : undefined"
      :size="plan.plan ? 'small' : undefined"
      :disabled="!!bench.busy"
      data-test="pilot"
      @click="bench.render('pilot')"
    />
    <p v-if="plan.plan && pilot" class="dim small" data-test="plan-source">
      Predicted from {{ proofName(pilot) }} ({{ plan.plan.rests.samples }} pixel samples,
      {{ seconds(pilot.seconds ?? 0) }}){{ plan.plan.rests.checked ? ', its noise held against the newest proof' : ''
      }}{{ renders }}.
      {{ ofPart ? 'The noise is that of the region, the time that of the frame.' : '' }}
    </p>
  </section>
</template>

<style scoped>
.finding {
  font-size: 14.5px;
  line-height: 1.45;
}
.note {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
  line-height: 1.35;
}
.small {
  font-size: 11.5px;
}
summary {
  cursor: pointer;
}
td.number {
  text-align: right;
}
</style>
