<script setup lang="ts">
// What stands under the pointer: every component with its standard error, linear and as displayed.
import { computed, ref, watch } from 'vue';
import { useThrottleFn } from '@vueuse/core';
import { luminance } from '@dusting/core/color';
import { COMPONENT_NAMES } from '@dusting/core/diagnose';
import { COMPONENTS } from '@dusting/core/render';
import { api, type Pixel, type RegionReading } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { COMPONENT_COLORS, lightnessUnits, value } from '../words.ts';

const props = defineProps<{ point: { x: number; y: number } | null }>();
const bench = useBench();
const look = useLook();
const reading = ref<({ x: number; y: number } & Pixel) | null>(null);
const part = ref<RegionReading | null>(null);

const read = useThrottleFn(
  async () => {
    const { point } = props;
    const shown = bench.proof;
    if (!point || shown?.state !== 'done') return void (reading.value = null);
    try {
      const found = await api.pixel(shown.id, point.x, point.y);
      // an answer that comes after the pointer has left would hide the region
      if (props.point && bench.proof?.id === shown.id) reading.value = { ...point, ...found };
    } catch {
      reading.value = null; // outside the region of a trial
    }
  },
  60,
  true,
);
watch([() => props.point, () => bench.proofId], read);
watch(
  [() => bench.region, () => bench.proofId, () => bench.proof?.state],
  async () => {
    part.value = null;
    const { region, proof } = bench;
    if (!region || proof?.state !== 'done') return;
    try {
      const answer = await api.region(proof.id, region);
      if (bench.region === region && bench.proof?.id === proof.id) part.value = answer;
    } catch {
      part.value = null; // the region lies outside this proof
    }
  },
  { immediate: true },
);

const layer = (name: string) => reading.value?.layers.find((l) => l.layer === name);
const beauty = computed(() => layer('beauty'));
const shown = computed(() =>
  COMPONENTS.map((c) => ({ component: c, reading: layer(c) }))
    .filter(({ reading: r }) => r && (r.values.some((v) => v !== 0) || r.error))
    .map(({ component, reading: r }) => ({
      component,
      y: luminance(r!.values[0], r!.values[1], r!.values[2]),
      error: r!.error ?? 0,
    })),
);
/** What the display is sent for this pixel, 0..255. */
const display = computed(() => beauty.value && look.sent(beauty.value.values).map((v) => Math.round(255 * v)));
/** What covers the pixel, with shares where it is not alone. */
const covering = computed(() =>
  (reading.value?.names ?? [])
    .filter(({ names }) => names.length > 0)
    .map(({ kind, names }) => ({
      kind,
      text: names.map((n) => (n.share > 0.995 ? n.name : `${n.name} ${Math.round(100 * n.share)} %`)).join(', '),
    })),
);
const cut = computed(() => {
  if (!part.value?.statistics) return [];
  const { mean } = part.value;
  const { cutOff } = part.value.statistics;
  const y = luminance(mean[0], mean[1], mean[2]);
  return (['total', 'transmission', 'specular', 'diffuse', 'volume', 'clamp'] as const)
    .map((limit) => ({ limit, share: cutOff[limit] / (y + cutOff[limit] || 1) }))
    .filter(({ share }) => share > 0.005);
});
</script>

<template>
  <div class="readout" data-test="readout" aria-live="off">
    <div v-if="beauty" class="line number">
      <span class="where">{{ reading!.x }}, {{ reading!.y }}</span>
      <span>R {{ value(beauty.values[0]) }} G {{ value(beauty.values[1]) }} B {{ value(beauty.values[2]) }}</span>
      <span v-if="beauty.error !== null" data-test="pixel-error">± {{ value(beauty.error) }}</span>
      <span class="dim">shown {{ display?.join(' ') }}</span>
      <span v-for="m in covering" :key="m.kind" data-test="names"
        ><span class="dim">{{ m.kind }}</span> {{ m.text }}</span
      >
      <span v-if="layer('samples')" class="dim">{{ layer('samples')!.values[0] }} samples</span>
    </div>
    <div v-else-if="!part" class="line dim">
      Point at a pixel to read it. Drag to mark a region, wheel to zoom, Space and drag to move.
    </div>
    <div v-if="beauty" class="line number">
      <span v-for="c in shown" :key="c.component"
        ><i :style="{ background: COMPONENT_COLORS[c.component] }" />{{ COMPONENT_NAMES[c.component] }} {{ value(c.y) }}
        <span class="dim">± {{ value(c.error) }}</span></span
      >
    </div>
    <div v-else-if="part" class="line" data-test="region-reading">
      <span>Region {{ part.region.width }} × {{ part.region.height }} px</span>
      <span
        >mean <span class="number">{{ part.mean.map(value).join(' ') }}</span></span
      >
      <template v-if="part.statistics">
        <span
          >noise <span class="number">{{ lightnessUnits(part.statistics.noise) }}</span></span
        >
        <span
          >brightest sample <span class="number">{{ value(part.statistics.brightest.luminance) }}</span></span
        >
      </template>
      <span v-else-if="part.estimated" v-tooltip.top="'Estimated from pixels: the file carries no variance'"
        >noise about <span class="number">{{ lightnessUnits(part.estimated.value) }}</span>
        <span class="dim number">
          ({{ lightnessUnits(part.estimated.low) }} to {{ lightnessUnits(part.estimated.high) }})</span
        ></span
      >
    </div>
    <div v-if="!beauty && part && cut.length > 0" class="line" data-test="cut-off">
      <span>Light cut off:</span>
      <span v-for="c in cut" :key="c.limit">
        {{ c.limit === 'clamp' ? 'clamp' : `${c.limit} depth` }}
        <span class="number">{{ Math.round(c.share * 100) }} %</span>
      </span>
    </div>
  </div>
</template>

<style scoped>
.where {
  min-width: 64px;
}
i {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 5px;
}
</style>
