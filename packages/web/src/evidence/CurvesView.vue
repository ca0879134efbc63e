<script setup lang="ts">
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import type { CurvesEvidence } from '@dusting/core/diagnose';
import { axisLook, chartLook, markerLook } from './chartLook.ts';
import { colourOf } from './palette.ts';

const props = defineProps<{ evidence: CurvesEvidence; large: boolean }>();
const logX = computed(() => props.evidence.x.scale === 'log');
/** The chart has no logarithmic x axis of its own: it shows the powers. */
const placed = (x: number) => (logX.value ? Math.log10(x) : x);
const options = computed(() => {
  const { curves, markers, x, y } = props.evidence;
  const axis = axisLook(x);
  const unlogged = { ...axis, logarithmic: false, labels: { ...axis.labels, formatter: (v: number | string) => axis.labels.formatter(logX.value ? 10 ** Number(v) : Number(v)) } }; // prettier-ignore
  return {
    ...chartLook('line'),
    colors: curves.map((_, i) => colourOf(undefined, i)),
    stroke: { width: 2, curve: 'straight' },
    legend: {
      show: true,
      position: 'top',
      horizontalAlign: 'left',
      labels: { colors: '#e8e8e8' },
      markers: { size: 5, strokeWidth: 0 },
      fontSize: '12px',
    },
    grid: { borderColor: '#4b4b4b', padding: { left: 4, right: 12, top: -8, bottom: -4 } },
    xaxis: { ...unlogged, tickAmount: props.large ? 12 : 6, decimalsInFloat: 0 },
    yaxis: { ...axisLook(y), min: 0, tickAmount: 4, ...(y.unit === 'share' ? { max: 1 } : { forceNiceScale: true }) },
    annotations: markerLook(markers.map((m) => (m.axis === 'x' ? { ...m, value: placed(m.value) } : m))),
  };
});
const series = computed(() =>
  props.evidence.curves.map(({ label, points }) => ({
    name: label,
    data: points.filter(([x]) => !logX.value || x > 0).map(([x, y]) => ({ x: placed(x), y: Number(y.toPrecision(4)) })),
  })),
);
</script>

<template>
  <VueApexCharts type="line" :height="large ? 460 : 230" :options="options" :series="series" />
</template>
