<script setup lang="ts">
import { computed } from 'vue';
import Checkbox from 'primevue/checkbox';
import { formatNumber, type MapEvidence } from '@dusting/core/diagnose';
import MapTiles from './MapTiles.vue';
import { colourOf } from './palette.ts';

const props = defineProps<{ evidence: MapEvidence; large: boolean; shown: boolean }>();
const emit = defineEmits<{ show: [on: boolean] }>();
const legend = computed(() => (props.evidence.categories ?? []).map((c, i) => ({ ...c, i })).filter(({ i }) => props.evidence.leading?.includes(i))); // prettier-ignore
const most = computed(() => Math.max(...props.evidence.values));
</script>

<template>
  <div class="map">
    <label class="check"
      ><Checkbox
        :model-value="shown"
        binary
        :input-id="`overlay-${evidence.id}`"
        @update:model-value="emit('show', $event)"
      />
      show the map on the picture</label
    >
    <MapTiles
      v-if="large || !shown"
      class="tiles"
      :class="{ large }"
      :style="{ aspectRatio: evidence.region.width / evidence.region.height }"
      :evidence="evidence"
    />
    <p class="legend">
      <span v-for="c in legend" :key="c.i"
        ><i :class="{ hatched: c.hatched }" :style="{ backgroundColor: colourOf(c.colour, c.i) }" />{{ c.label }}</span
      >
      <span v-if="evidence.unit" class="dim">0 to {{ formatNumber(most, evidence.unit) }} (strongest tile)</span>
    </p>
  </div>
</template>

<style scoped>
.map {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.check,
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.check {
  gap: 6px;
}
.tiles {
  max-width: 100%;
  max-height: 200px;
  align-self: flex-start;
  background: #1f1f1f;
}
.large {
  max-height: 460px;
}
.legend i {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 5px;
}
.legend .hatched {
  background-image: repeating-linear-gradient(135deg, #1f1f1f 0 1px, transparent 1px 4px);
}
</style>
