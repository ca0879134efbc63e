<script setup lang="ts">
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import type { HistogramEvidence } from '@dusting/core/diagnose';
import { axisLook, chartLook, markerLook, placed, powersOf } from './chartLook.ts';

const props = defineProps<{ evidence: HistogramEvidence; large: boolean }>();
const options = computed(() => {
  const { counted, edges, markers, x } = props.evidence;
  const y = { label: counted, unit: 'count', scale: 'linear' } as const;
  return {
    ...chartLook('bar'),
    plotOptions: { bar: { columnWidth: '96%' } },
    colors: ['#9a9a9a'],
    dataLabels: { enabled: false },
    grid: { borderColor: '#4b4b4b', padding: { left: 4, right: 12, top: -8, bottom: 8 } },
    xaxis: { ...powersOf(x), min: placed(x, edges[0]), max: placed(x, edges.at(-1)!), tickAmount: 4 },
    yaxis: axisLook(y),
    annotations: markerLook(markers, { x, y }),
  };
});
const series = computed(() => {
  const { counted, counts, edges, x } = props.evidence;
  const at = edges.map((edge) => placed(x, edge));
  return [{ name: counted, data: counts.map((y, i) => ({ x: (at[i] + at[i + 1]) / 2, y })) }];
});
</script>

<template>
  <VueApexCharts type="bar" :height="large ? 420 : 190" :options="options" :series="series" />
</template>
