<script setup lang="ts">
// A picture that follows a value while it is dragged. It is computed from what came with the diagnosis, without a render.
import { computed, onMounted, ref, watch } from 'vue';
import Button from 'primevue/button';
import { linearToSrgb } from '@dusting/core/color';
import { formatNumber, percent, type DialEvidence } from '@dusting/core/diagnose';
import { dialPlane } from './dialPlane.ts';
import { halfPlane } from './halfPlane.ts';

const props = defineProps<{ evidence: DialEvidence; large: boolean }>();
const emit = defineEmits<{ set: [path: string, value: number] }>();
const STEPS = 400;
const canvas = ref<HTMLCanvasElement>();
const planes = computed(() => halfPlane(props.evidence.halves));
const ends = computed(() => [props.evidence.values[0], props.evidence.values.at(-1)!]);
const isLog = computed(() => props.evidence.axis.scale === 'log');
const toPlace = (value: number) => {
  const [low, high] = ends.value;
  const share = isLog.value ? Math.log(value / low) / Math.log(high / low) : (value - low) / (high - low);
  return Math.round(STEPS * Math.min(1, Math.max(0, share)));
};
const place = ref(toPlace(props.evidence.start));
watch(
  () => props.evidence,
  ({ start }) => (place.value = toPlace(start)),
);
/** Three figures: what is dragged is not finer. */
const value = computed(() => {
  const [low, high] = ends.value;
  const share = place.value / STEPS;
  return Number((isLog.value ? low * (high / low) ** share : low + (high - low) * share).toPrecision(3));
});
const plane = computed(() => dialPlane(props.evidence, planes.value, value.value));
const mean = computed(() => plane.value.reduce((sum, v) => sum + v, 0) / plane.value.length);
const shown = computed(() => formatNumber(value.value, props.evidence.axis.unit));

function paint() {
  if (!canvas.value) return;
  const { height, width } = props.evidence;
  Object.assign(canvas.value, { width, height });
  const context = canvas.value.getContext('2d')!;
  const image = context.createImageData(width, height);
  plane.value.forEach((v, i) => image.data.fill(Math.round(255 * linearToSrgb(v)), i * 4, i * 4 + 3));
  for (let i = 3; i < image.data.length; i += 4) image.data[i] = 255;
  context.putImageData(image, 0, 0);
}
onMounted(paint);
watch(plane, paint);
</script>

<template>
  <div class="dial">
    <canvas ref="canvas" :aria-label="`${evidence.title}: ${shown}`" role="img" data-test="dial-picture" />
    <label>
      <span class="dim">{{ evidence.axis.label }}</span>
      <input v-model.number="place" type="range" min="0" :max="STEPS" :aria-valuetext="shown" data-test="dial" />
      <b class="number" data-test="dial-value">{{ shown }}</b>
    </label>
    <p class="below">
      <span class="dim">mean {{ percent(mean) }}</span>
      <Button
        v-if="evidence.sets"
        :label="`Put ${shown} on the slip`"
        size="small"
        severity="secondary"
        data-test="dial-set"
        @click="emit('set', evidence.sets, value)"
      />
    </p>
  </div>
</template>

<style scoped>
canvas {
  width: 100%;
  image-rendering: pixelated;
  background: var(--wall);
}
label {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) 84px;
  gap: 10px;
  align-items: center;
}
input {
  accent-color: var(--wax);
}
b {
  text-align: right;
}
.below {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
</style>
