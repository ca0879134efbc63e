<script setup lang="ts">
// The map of a diagnosis over its region: brighter tiles are noisier, the sign tells the leading component.
import { computed } from 'vue';
import type { Diagnosis, MapEvidence } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { COMPONENT_COLORS } from '../words.ts';

const props = defineProps<{ diagnosis: Diagnosis; boxOf: (region: Region) => Record<string, string> }>();
const map = computed(() => props.diagnosis.evidence.find((e): e is MapEvidence => e.type === 'map'));
const most = computed(() => Math.max(1e-6, ...(map.value?.values ?? [])));
</script>

<template>
  <svg
    v-if="map"
    class="overlay"
    :style="boxOf(map.region)"
    :viewBox="`0 0 ${map.region.width} ${map.region.height}`"
    preserveAspectRatio="none"
  >
    <rect
      v-for="(value, i) in map.values"
      :key="i"
      :x="(i % map.columns) * map.tile"
      :y="Math.floor(i / map.columns) * map.tile"
      :width="map.tile"
      :height="map.tile"
      :fill="map.leading[i] < 0 ? '#999' : COMPONENT_COLORS[map.components[map.leading[i]]]"
      :fill-opacity="0.85 * Math.min(1, value / most)"
    />
  </svg>
</template>

<style scoped>
.overlay {
  position: absolute;
  pointer-events: none;
}
</style>
