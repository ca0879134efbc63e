<script setup lang="ts">
import { computed } from 'vue';
import VueApexCharts from 'vue3-apexcharts';
import type { Axis, CurvesEvidence } from '@dusting/core/diagnose';
import { chartLook, markerLook, placed, powersOf } from './chartLook.ts';
import { colourOf } from './palette.ts';

const props = defineProps<{ evidence: CurvesEvidence; large: boolean }>();
const options = computed(() => {
  const { curves, markers, x, y } = props.evidence;
  const limits = y.scale === 'log' ? { tickAmount: 4 } : { min: 0, tickAmount: 4, ...(y.unit === 'share' ? { max: 1 } : { forceNiceScale: true }) }; // prettier-ignore
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
    grid: { borderColor: '#4b4b4b', padding: { left: 4, right: 12, top: -8, bottom: 8 } },
    xaxis: { ...powersOf(x), tickAmount: ticksOf(x), decimalsInFloat: 0 },
    yaxis: { ...powersOf(y), ...limits },
    annotations: markerLook(markers, { x, y }),
  };
});
/** Counts have no parts: of a few, each is a tick. */
function ticksOf({ scale, unit }: Axis): number {
  const most = props.large ? 12 : 6;
  const places = props.evidence.curves.flatMap(({ points }) => points.map(([at]) => at));
  const span = Math.max(...places) - Math.min(...places);
  if (unit !== 'count' || scale !== 'linear' || !Number.isInteger(span) || span > 2 * most) return most;
  return span > most && span % 2 === 0 ? span / 2 : span;
}
const series = computed(() => {
  const { curves, x, y } = props.evidence;
  const shows = (axis: Axis, v: number) => axis.scale === 'linear' || v > 0;
  return curves.map(({ label, points }) => ({
    name: label,
    data: points.filter((p) => shows(x, p[0]) && shows(y, p[1])).map((p) => ({ x: placed(x, p[0]), y: Number(placed(y, p[1]).toPrecision(4)) })), // prettier-ignore
  }));
});
</script>

<template>
  <VueApexCharts type="line" :height="large ? 460 : 230" :options="options" :series="series" />
</template>
