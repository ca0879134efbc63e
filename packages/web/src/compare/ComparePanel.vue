<script setup lang="ts">
// Before and after: noise, time and settings of two proofs, and the decision on a trial.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import Textarea from 'primevue/textarea';
import CompareTools from './CompareTools.vue';
import { comparisonRows } from './comparisonRows.ts';
import { payOff } from './payOff.ts';
import type { Proof } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { layerLabel, lightnessUnits, proofName, seconds, value } from '../words.ts';

const bench = useBench();
const edits = useEdits();
const reason = ref('');
const c = computed(() => bench.comparison);
const rows = computed(() =>
  c.value && bench.beside && bench.proof ? comparisonRows(c.value, bench.beside, bench.proof) : [],
);
const pixelsOf = ({ settings }: Proof) => settings.width * settings.height;
const sentences = computed(() => {
  const [before, after] = [c.value?.before.statistics, c.value?.after.statistics];
  if (!before || !after || !bench.beside || !bench.proof) return [];
  const names = { before: proofName(bench.beside), after: proofName(bench.proof) };
  return payOff(before, after, names, pixelsOf(bench.beside) / pixelsOf(bench.proof));
});
/** Of another frame size than the one that is shown. */
const otherSize = computed(() => {
  const [one, two] = [bench.beside?.settings, bench.proof?.settings];
  if (!one || !two || (one.width === two.width && one.height === two.height)) return null;
  return `${proofName(bench.beside!)} is ${one.width} × ${one.height} px: it is compared as it lies on ${proofName(bench.proof!)}, pixel by pixel.`;
});
/** Name, value, and what it is compared to. */
const apart = computed(() => {
  const d = c.value?.differences;
  return d
    ? [
        ['RMSE', value(d.rmse), 'linear, 0 is alike'],
        ['Relative error', value(d.relative), 'mean square over brightness'],
        ['Structural similarity', d.similarity.toFixed(3), '1 is alike'],
        ['Colour difference', `${d.deltaE.toFixed(d.deltaE < 10 ? 2 : 1)} ΔE`, 'CIEDE2000, 1 is just seen'],
      ]
    : [];
});
const trial = computed(() => (bench.proof?.kind === 'trial' && bench.proof.state === 'done' ? bench.proof : null));
async function decide(keep: boolean) {
  if (trial.value && (await edits.decide(trial.value, keep, reason.value))) reason.value = '';
}
</script>

<template>
  <section class="panel">
    <CompareTools v-if="bench.done.length > 1" />
    <template v-if="c && bench.beside && bench.proof">
      <p class="dim">Region {{ c.region.width }} × {{ c.region.height }} px at {{ c.region.x }}, {{ c.region.y }}</p>
      <p v-if="otherSize" class="dim" data-test="other-size">{{ otherSize }}</p>
      <table class="measured" data-test="comparison">
        <thead>
          <tr>
            <th></th>
            <th>{{ proofName(bench.beside) }}</th>
            <th>{{ proofName(bench.proof) }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.label">
            <td>{{ r.label }}</td>
            <td class="number">{{ r.before }}</td>
            <td class="number">{{ r.after }}</td>
            <td class="number dim">{{ r.ratio }}</td>
          </tr>
        </tbody>
      </table>
      <p v-for="sentence in sentences" :key="sentence" data-test="pay-off">{{ sentence }}</p>
      <template v-if="apart.length > 0">
        <h3>How far apart, {{ layerLabel(bench.layer) }}</h3>
        <table data-test="apart">
          <tbody>
            <tr v-for="[name, amount, note] in apart" :key="name">
              <td>
                {{ name }}<br /><span class="dim note">{{ note }}</span>
              </td>
              <td class="number">{{ amount }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <h3>What differs</h3>
      <p v-if="c.changes.length === 0" class="dim">The settings are the same.</p>
      <table v-else data-test="differs">
        <tbody>
          <tr v-for="d in c.changes" :key="d.path">
            <td>{{ d.path }}</td>
            <td class="number">{{ d.old }}</td>
            <td class="number">{{ d.new }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-else-if="bench.done.length > 1" class="dim">Choose a proof to compare the shown one with.</p>
    <p v-else class="dim">There is one proof so far. Render another one, or try a change, to compare them.</p>
    <template v-if="trial">
      <p v-if="trial.predicted && trial.seconds !== null" data-test="predicted">
        Predicted {{ trial.predicted.seconds === null ? '–' : seconds(trial.predicted.seconds) }}, measured
        {{ seconds(trial.seconds) }}.
        <template v-if="trial.predicted.noise !== null && trial.noise !== null"
          >Noise predicted {{ lightnessUnits(trial.predicted.noise) }}, measured
          {{ lightnessUnits(trial.noise) }}.</template
        >
      </p>
      <p v-if="trial.decision" data-test="decision">
        This trial was {{ trial.decision }}{{ trial.reason ? `: ${trial.reason}` : '.' }}
      </p>
      <template v-else>
        <label for="reason">Why is it kept, or dropped?</label>
        <Textarea id="reason" v-model="reason" rows="2" data-test="reason" />
        <div class="acts">
          <Button label="Keep the change" :disabled="!reason.trim()" data-test="keep" @click="decide(true)" />
          <Button label="Drop it" severity="secondary" @click="decide(false)" />
        </div>
      </template>
    </template>
  </section>
</template>

<style scoped>
.measured td.number {
  padding-right: 6px;
  white-space: nowrap;
}
.measured td.number:last-child {
  padding-right: 0;
}
h3 {
  font-weight: 650;
}
.note {
  font-size: 12px;
}
</style>
