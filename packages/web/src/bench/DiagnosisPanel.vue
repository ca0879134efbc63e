<script setup lang="ts">
// The selected defect or region: marking it, explaining it, and what helps.
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import Button from 'primevue/button';
import {
  DEFECT_KINDS,
  DIAGNOSES,
  type ChartEvidence,
  type MapEvidence,
  type Remedy,
  type TableEvidence,
} from '@dusting/core/diagnose';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { useSlip } from '../stores/slip.ts';
import { COMPONENT_COLORS, DEFECT_SIGNS, DEFECT_STATES, lightnessUnits, proofName, seconds } from '../words.ts';

const overlay = defineModel<boolean>('overlay', { required: true });
const bench = useBench();
const edits = useEdits();
const slip = useSlip();
const chart = computed(() => bench.diagnosis?.evidence.find((e): e is ChartEvidence => e.type === 'chart'));
const map = computed(() => bench.diagnosis?.evidence.find((e): e is MapEvidence => e.type === 'map'));
const tables = computed(() =>
  (bench.diagnosis?.evidence ?? []).filter((e): e is TableEvidence => e.type === 'table' && e.rows.length > 0),
);
const leading = computed(() => {
  const m = map.value;
  if (!m) return [];
  return m.components.filter((_, i) => m.leading.includes(i));
});
const options = computed(() => ({
  chart: {
    type: 'bar',
    toolbar: { show: false },
    animations: { enabled: false },
    background: 'transparent',
    fontFamily: 'Public Sans Variable',
  },
  theme: { mode: 'dark' },
  plotOptions: { bar: { horizontal: true, distributed: true, barHeight: '72%' } },
  colors: chart.value?.bars.map((b) => (b.component ? COMPONENT_COLORS[b.component] : '#999')),
  legend: { show: false },
  dataLabels: {
    enabled: true,
    textAnchor: 'start',
    style: { colors: ['#f2f2f2'] },
    dropShadow: { enabled: true, opacity: 0.9, blur: 2, left: 0, top: 0 },
    formatter: (v: number) => `${v.toFixed(1)} %`,
  },
  grid: { show: false, padding: { left: 4, right: 8, top: -24, bottom: -14 } },
  tooltip: { enabled: false },
  states: { hover: { filter: { type: 'none' } } },
  xaxis: {
    categories: chart.value?.bars.map((b) => b.label),
    labels: { show: false },
    axisTicks: { show: false },
    axisBorder: { show: false },
  },
  yaxis: { min: 0, max: 100, labels: { maxWidth: 120, style: { colors: '#e8e8e8', fontSize: '12px' } } },
}));
const series = computed(() => [
  { name: 'share', data: chart.value?.bars.map((b) => Number(b.value.toFixed(2))) ?? [] },
]);
const range = (r: Remedy['noise'], format: (n: number) => string) =>
  format(r.low) === format(r.high) ? format(r.value) : `${format(r.value)} (${format(r.low)} to ${format(r.high)})`;
async function take(remedy: Remedy) {
  await slip.add(remedy.patch);
}
</script>

<template>
  <section v-if="!bench.defect">
    <template v-if="bench.region && bench.proof?.state === 'done'">
      <h2>Mark this region as a defect</h2>
      <p class="dim">What is wrong in it?</p>
      <div class="kinds">
        <button v-for="kind in DEFECT_KINDS" :key="kind" :data-test="`mark-${kind}`" @click="edits.markDefect(kind)">
          <span>{{ DEFECT_SIGNS[kind].sign }}</span> {{ DEFECT_SIGNS[kind].name }}
        </button>
      </div>
    </template>
    <template v-else>
      <h2>Nothing is selected</h2>
      <p class="dim">
        Drag over the part of the picture that looks wrong, then say what kind of defect it is. Or choose one of the
        defects on the left.
      </p>
    </template>
  </section>
  <section v-else>
    <header>
      <h2>
        {{ DEFECT_SIGNS[bench.defect.kind].sign }} D{{ bench.defect.number }}:
        {{ DEFECT_SIGNS[bench.defect.kind].name }}
      </h2>
      <span data-test="defect-state"
        >{{ DEFECT_STATES[bench.defect.state].sign }} {{ DEFECT_STATES[bench.defect.state].name }}</span
      >
    </header>
    <template v-if="DIAGNOSES[bench.defect.kind]">
      <Button
        v-if="!bench.diagnosis"
        :label="
          bench.diagnosing ? 'Reading the film …' : `Explain it on ${bench.proof ? proofName(bench.proof) : 'a proof'}`
        "
        :loading="bench.diagnosing"
        :disabled="bench.proof?.state !== 'done'"
        data-test="explain"
        @click="bench.explain(true)"
      />
    </template>
    <p v-else class="dim">
      There is no diagnosis for this kind yet. The line under the picture tells how much light each depth limit cuts off
      here, and the layers “cut off by a limit” show where.
    </p>
    <template v-if="bench.diagnosis">
      <p class="finding" data-test="summary">{{ bench.diagnosis.summary }}</p>
      <template v-if="chart && chart.bars.length > 0">
        <h3>{{ chart.title }}</h3>
        <VueApexCharts
          type="bar"
          :height="26 + 22 * chart.bars.length"
          :options="options"
          :series="series"
          data-test="shares"
        />
        <p class="source">{{ chart.source }}</p>
      </template>
      <template v-if="map">
        <h3>{{ map.title }}</h3>
        <label class="check"
          ><input v-model="overlay" type="checkbox" data-test="overlay" /> show the map on the picture</label
        >
        <p class="legend">
          <span v-for="c in leading" :key="c"
            ><i :style="{ background: COMPONENT_COLORS[c] }" />{{
              chart?.bars.find((b) => b.component === c)?.label ?? c
            }}</span
          >
          <span class="dim">strongest tile {{ lightnessUnits(Math.max(...map.values)) }}</span>
        </p>
      </template>
      <template v-if="bench.diagnosis.remedies.length > 0">
        <h3>What helps</h3>
        <div v-for="r in bench.diagnosis.remedies" :key="r.id" class="remedy">
          <p>{{ r.title }}</p>
          <p class="dim">
            Predicted noise {{ range(r.noise, lightnessUnits) }},
            {{ r.meetsLimit ? 'within the limit' : 'still above the limit' }}. Time {{ range(r.seconds, seconds) }} a
            frame. {{ r.sideEffect }}
          </p>
          <Button
            label="Put on the slip"
            severity="secondary"
            size="small"
            :data-test="`take-${r.id}`"
            @click="take(r)"
          />
        </div>
      </template>
      <Button
        v-if="bench.defect.kind === 'noise' && !bench.isFrames"
        label="Plan the samples that meet the limit"
        severity="secondary"
        data-test="to-plan"
        @click="bench.panel = 'plan'"
      />
      <details v-for="table in tables" :key="table.title">
        <summary>{{ table.title }}</summary>
        <table>
          <thead>
            <tr>
              <th v-for="c in table.columns" :key="c">{{ c }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in table.rows" :key="row[0]">
              <td v-for="(cell, i) in row" :key="i">{{ cell }}</td>
            </tr>
          </tbody>
        </table>
        <p class="source">{{ table.source }}</p>
      </details>
    </template>
    <footer>
      <Button
        v-if="bench.defect.state !== 'fixed'"
        label="Mark as fixed"
        size="small"
        severity="secondary"
        data-test="fixed"
        @click="edits.setDefectState(bench.defect, 'fixed')"
      />
      <Button
        v-if="bench.defect.state === 'open' || bench.defect.state === 'explained'"
        label="Accept it"
        size="small"
        severity="secondary"
        @click="edits.setDefectState(bench.defect, 'accepted')"
      />
      <Button
        v-else
        label="Open again"
        size="small"
        severity="secondary"
        @click="edits.setDefectState(bench.defect, 'open')"
      />
      <Button label="Remove" size="small" text severity="secondary" @click="edits.removeDefect(bench.defect)" />
    </footer>
  </section>
</template>

<style scoped>
section {
  display: flex;
  flex-direction: column;
  gap: 8px;
  align-items: stretch;
}
header {
  display: flex;
  justify-content: space-between;
}
h3 {
  font-weight: 600;
  margin-top: 4px;
}
.kinds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.kinds button {
  height: 32px;
  text-align: left;
  padding: 0 10px;
  border: 1px solid var(--line);
  background: none;
  color: var(--text);
  font: inherit;
  cursor: pointer;
}
.kinds button:hover {
  background: #484848;
}
.kinds span {
  display: inline-block;
  width: 20px;
}
.finding {
  font-size: 14.5px;
  line-height: 1.45;
}
.source {
  font-size: 11.5px;
  color: var(--dim);
}
.check,
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.legend i {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 5px;
}
.remedy {
  border-left: 2px solid var(--line);
  padding: 2px 0 4px 10px;
}
.remedy .p-button {
  margin-top: 4px;
}
summary {
  cursor: pointer;
}
footer {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
</style>
