<script setup lang="ts">
// The tiles of a map: the more of it, the denser; the colour says what leads in a tile.
import { computed } from 'vue';
import type { MapEvidence } from '@dusting/core/diagnose';
import { colourOf } from './palette.ts';

const props = defineProps<{ evidence: MapEvidence }>();
const most = computed(() => Math.max(1e-9, ...props.evidence.values));
const fill = (i: number) => {
  const { categories, leading } = props.evidence;
  if (!categories || !leading) return '#f0e442';
  return leading[i] < 0 ? '#999' : colourOf(categories[leading[i]].colour, leading[i]);
};
</script>

<template>
  <svg
    :viewBox="`0 0 ${evidence.region.width} ${evidence.region.height}`"
    preserveAspectRatio="none"
    shape-rendering="crispEdges"
  >
    <rect
      v-for="(v, i) in evidence.values"
      :key="i"
      :x="(i % evidence.columns) * evidence.tile"
      :y="Math.floor(i / evidence.columns) * evidence.tile"
      :width="evidence.tile"
      :height="evidence.tile"
      :fill="fill(i)"
      :fill-opacity="0.85 * Math.min(1, v / most)"
    />
  </svg>
</template>
