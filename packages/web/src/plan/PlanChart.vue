<script setup lang="ts">
// Noise against time: what can be had at best, the present settings and the choices on it, the limit as a line.
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import type { SamplingPlan } from '@dusting/core/plan';
import { lightnessUnits, seconds } from '../words.ts';

const props = defineProps<{ plan: SamplingPlan }>();
const WAX = '#d8b25e';
const POINTS = [
  { id: 'present', name: 'now', color: '#e8e8e8', shape: 'square' },
  { id: 'plan', name: 'plan', color: WAX, shape: 'diamond' },
  { id: 'adaptive', name: 'adaptive', color: '#8ab8d8', shape: 'triangle' },
];
const points = computed(() =>
  POINTS.flatMap((point) => {
    const found = props.plan.options.find((o) => o.id === point.id);
    return found ? [{ ...point, data: [{ x: found.seconds.value, y: found.noise.value }] }] : [];
  }),
);
const series = computed(() => [
  { name: 'best', type: 'line', data: props.plan.curve.map(({ noise, seconds }) => ({ x: seconds, y: noise })) },
  ...points.value.map(({ name, data }) => ({ name, type: 'scatter', data })),
]);
const most = computed(() => {
  const present = props.plan.options[0];
  return { x: Math.max(...props.plan.curve.map((p) => p.seconds), present.seconds.value * 1.1), y: Math.max(...props.plan.curve.map((p) => p.noise), present.noise.value) * 1.1 }; // prettier-ignore
});
const options = computed(() => ({
  chart: {
    type: 'line',
    toolbar: { show: false },
    zoom: { enabled: false },
    animations: { enabled: false },
    background: 'transparent',
    fontFamily: 'Public Sans Variable',
  },
  theme: { mode: 'dark' },
  colors: ['#b8b8b8', ...points.value.map((p) => p.color)],
  stroke: { width: [2, ...points.value.map(() => 0)], curve: 'straight' },
  markers: {
    size: [0, ...points.value.map(() => 6)],
    shape: ['circle', ...points.value.map((p) => p.shape)],
    strokeWidth: 0,
  },
  legend: {
    show: true,
    position: 'top',
    fontSize: '12px',
    labels: { colors: '#e8e8e8' },
    itemMargin: { horizontal: 5 },
  },
  grid: { borderColor: '#555', padding: { left: 2, right: 8, top: -18, bottom: 0 } },
  xaxis: {
    type: 'numeric',
    min: 0,
    max: most.value.x,
    tickAmount: 3,
    labels: {
      rotate: 0,
      hideOverlappingLabels: true,
      formatter: (v: string) => seconds(Number(v)),
      style: { colors: '#bbb', fontSize: '11px' },
    },
    tooltip: { enabled: false },
  },
  yaxis: {
    min: 0,
    max: most.value.y,
    tickAmount: 4,
    labels: { formatter: lightnessUnits, style: { colors: '#bbb', fontSize: '11px' } },
  },
  annotations: {
    yaxis: [
      {
        y: props.plan.limit,
        borderColor: WAX,
        strokeDashArray: 4,
        label: { text: 'limit', position: 'right', textAnchor: 'end', borderWidth: 0, style: { background: 'transparent', color: WAX, fontSize: '11px' } }, // prettier-ignore
      },
    ],
  },
  tooltip: { theme: 'dark', x: { formatter: (v: number) => seconds(v) }, y: { formatter: lightnessUnits } },
}));
</script>

<template>
  <VueApexCharts type="line" height="176" :options="options" :series="series" data-test="plan-chart" />
</template>
