<script setup lang="ts">
// What is looked at as files: the picture as seen, the layer, all layers, the numbers.
import { computed, ref } from 'vue';
import Popover from 'primevue/popover';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { layerLabel, proofName } from '../words.ts';

defineEmits<{ save: [] }>();
const bench = useBench();
const look = useLook();
const popover = ref<InstanceType<typeof Popover>>();
const done = computed(() => bench.proof?.state === 'done');
/** The address of an export of the region, or of the whole proof. */
function href(path: string): string {
  const query = new URLSearchParams({
    layer: bench.layer,
    stops: String(look.stops),
    gamma: String(look.gamma),
    transform: look.transform,
  });
  const { region } = bench;
  if (region) for (const side of ['x', 'y', 'width', 'height'] as const) query.set(side, String(region[side]));
  return `/api/proofs/${bench.proofId}/${path}?${query}`;
}
const files = computed(() => {
  const layer = layerLabel(bench.layer);
  return [
    { path: 'export/png16', label: 'PNG, 16 bits', note: `${layer}, through ${look.transform}` },
    { path: 'export/exr', label: 'OpenEXR', note: `${layer}, linear` },
    { path: 'export/hdr', label: 'Radiance HDR', note: `${layer}, linear` },
    { path: 'export/layers', label: 'OpenEXR, all layers', note: 'linear' },
    { path: 'export/repaired', label: 'OpenEXR, fireflies replaced', note: 'all layers, with a mask "repaired"' },
    { path: 'table', label: 'Numbers (CSV)', note: 'mean, least, most, spread and error of every channel' },
  ];
});
</script>

<template>
  <button
    v-tooltip.bottom="'The region, or the whole, as a file'"
    class="tool"
    :disabled="!bench.picture"
    data-test="export"
    @click="popover?.toggle($event)"
  >
    Save …
  </button>
  <Popover ref="popover">
    <div class="list">
      <p class="dim">
        {{ bench.region ? `Region ${bench.region.width} × ${bench.region.height} px` : 'The whole picture' }} of
        {{ bench.proof ? proofName(bench.proof) : '' }}
      </p>
      <button data-test="save-png" @click="(popover?.hide(), $emit('save'))">
        PNG as seen, 8 bits <span class="dim">with marks and comparison; P</span>
      </button>
      <template v-if="done">
        <a
          v-for="f in files"
          :key="f.path"
          :href="href(f.path)"
          download
          :data-test="`save-${f.path}`"
          @click="popover?.hide()"
          >{{ f.label }} <span class="dim">{{ f.note }}</span></a
        >
      </template>
    </div>
  </Popover>
</template>

<style scoped>
.list {
  display: flex;
  flex-direction: column;
  min-width: 250px;
}
.list button,
.list a {
  padding: 5px 6px;
  border: 0;
  background: none;
  color: var(--text);
  font: inherit;
  text-align: left;
  text-decoration: none;
  cursor: pointer;
}
.list button:hover,
.list a:hover,
.list button:focus,
.list a:focus {
  background: #565656;
  outline: none;
}
</style>
