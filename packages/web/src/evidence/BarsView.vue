<script setup lang="ts">
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import { formatNumber, type BarsEvidence } from '@dusting/core/diagnose';
import { chartLook } from './chartLook.ts';
import { colourOf } from './palette.ts';

const props = defineProps<{ evidence: BarsEvidence }>();
const options = computed(() => ({
  ...chartLook('bar'),
  plotOptions: { bar: { horizontal: true, distributed: true, barHeight: '72%' } },
  colors: props.evidence.bars.map(({ colour }, i) => colourOf(colour, i)),
  legend: { show: false },
  dataLabels: {
    enabled: true,
    textAnchor: 'start',
    style: { colors: ['#f2f2f2'] },
    dropShadow: { enabled: true, opacity: 0.9, blur: 2, left: 0, top: 0 },
    formatter: (v: number) => formatNumber(v, props.evidence.unit),
  },
  grid: { show: false, padding: { left: 4, right: 8, top: -24, bottom: -14 } },
  xaxis: {
    categories: props.evidence.bars.map((b) => b.label),
    labels: { show: false },
    axisTicks: { show: false },
    axisBorder: { show: false },
  },
  yaxis: {
    min: 0,
    max: props.evidence.unit === 'share' ? 1 : undefined,
    labels: { maxWidth: 140, style: { colors: '#e8e8e8', fontSize: '12px' } },
  },
}));
const series = computed(() => [
  { name: 'value', data: props.evidence.bars.map((b) => Number(b.value.toPrecision(4))) },
]);
</script>

<template>
  <VueApexCharts type="bar" :height="26 + 22 * evidence.bars.length" :options="options" :series="series" />
</template>
