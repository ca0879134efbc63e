<script setup lang="ts">
// The tiles of a map: the more of it, the denser; the colour says what leads in a tile, and hatching where light is kept away.
import { computed, useId } from 'vue';
import type { MapEvidence } from '@dusting/core/diagnose';
import { colourOf } from './palette.ts';

const props = defineProps<{ evidence: MapEvidence }>();
const prefix = useId();
const most = computed(() => Math.max(1e-9, ...props.evidence.values));
const fill = (i: number) => {
  const { categories, leading } = props.evidence;
  if (!categories || !leading) return '#f0e442';
  if (leading[i] < 0) return '#999';
  return categories[leading[i]].hatched ? `url(#${prefix}-${leading[i]})` : colourOf(categories[leading[i]].colour, leading[i]); // prettier-ignore
};
const hatched = computed(() => (props.evidence.categories ?? []).flatMap((c, i) => (c.hatched ? [{ id: `${prefix}-${i}`, colour: colourOf(c.colour, i) }] : []))); // prettier-ignore
/** Between two lines, pixels of the frame. */
const apart = computed(() => Math.max(2, Math.min(props.evidence.region.width, props.evidence.region.height) / 24));
</script>

<template>
  <svg
    :viewBox="`0 0 ${evidence.region.width} ${evidence.region.height}`"
    preserveAspectRatio="none"
    shape-rendering="crispEdges"
  >
    <pattern
      v-for="{ id, colour } in hatched"
      :id="id"
      :key="id"
      patternUnits="userSpaceOnUse"
      :width="apart"
      :height="apart"
      patternTransform="rotate(45)"
      shape-rendering="geometricPrecision"
    >
      <rect :width="apart" :height="apart" :fill="colour" />
      <rect :width="apart / 3" :height="apart" fill="#1f1f1f" />
    </pattern>
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
