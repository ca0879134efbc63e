<script setup lang="ts">
// Noise against time: what can be had at best, the present settings and the choices on it, the limit as a line.
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import type { SamplingPlan } from '@dusting/core/plan';
import { lightnessUnits, seconds } from '../words.ts';

const props = defineProps<{ plan: SamplingPlan }>();
const WAX = '#d8b25e';
const point = (id: string) => {
  const found = props.plan.options.find((o) => o.id === id)!;
  return [{ x: found.seconds.value, y: found.noise.value }];
};
const series = computed(() => [
  { name: 'best', type: 'line', data: props.plan.curve.map(({ noise, seconds }) => ({ x: seconds, y: noise })) },
  { name: 'now', type: 'scatter', data: point('present') },
  { name: 'plan', type: 'scatter', data: point('plan') },
  { name: 'adaptive', type: 'scatter', data: point('adaptive') },
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
  colors: ['#b8b8b8', '#e8e8e8', WAX, '#8ab8d8'],
  stroke: { width: [2, 0, 0, 0], curve: 'straight' },
  markers: { size: [0, 5, 6, 5], shape: ['circle', 'square', 'diamond', 'triangle'], strokeWidth: 0 },
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
        label: { text: 'limit', position: 'left', textAnchor: 'start', borderWidth: 0, style: { background: 'transparent', color: WAX, fontSize: '11px' } }, // prettier-ignore
      },
    ],
  },
  tooltip: { theme: 'dark', x: { formatter: (v: number) => seconds(v) }, y: { formatter: lightnessUnits } },
}));
</script>

<template>
  <VueApexCharts type="line" height="176" :options="options" :series="series" data-test="plan-chart" />
</template>
