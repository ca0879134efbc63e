<script setup lang="ts">
// A layer that follows what is dragged. It is computed from what came with the diagnosis, without a render.
import { computed, onMounted, ref, watch } from 'vue';
import Button from 'primevue/button';
import Checkbox from 'primevue/checkbox';
import { linearToSrgb } from '@dusting/core/color';
import {
  dialLayer,
  dialShares,
  formatNumber,
  percent,
  type DialEvidence,
  type DialPlace,
} from '@dusting/core/diagnose';
import { occlusionFactor, OCCLUSION_COMPOSITE_DEFAULTS } from '@dusting/core/image';

const props = defineProps<{ evidence: DialEvidence; large: boolean }>();
const emit = defineEmits<{ set: [values: [path: string, value: number | boolean][]] }>();
const STEPS = 400;
const canvas = ref<HTMLCanvasElement>();
const shares = computed(() => dialShares(props.evidence));
const ends = computed(() => [props.evidence.values[0], props.evidence.values.at(-1)!]);
const place = ref<DialPlace>({ ...props.evidence.start });
/** Of the composite: the layer itself has none. */
const contrast = ref(1);
watch(
  () => props.evidence,
  ({ start }) => (place.value = { ...start }),
);
const step = computed({
  get: () => {
    const [low, high] = ends.value;
    return Math.round((STEPS * Math.log(place.value.distance / low)) / Math.log(high / low));
  },
  // three figures: what is dragged is not finer
  set: (at: number) => {
    const [low, high] = ends.value;
    place.value.distance = Number((low * (high / low) ** (at / STEPS)).toPrecision(3));
  },
});
const layer = computed(() => dialLayer(props.evidence, shares.value, place.value));
const plane = computed(() => layer.value.map((v) => occlusionFactor(v, { ...OCCLUSION_COMPOSITE_DEFAULTS, contrast: contrast.value }, 0))); // prettier-ignore
const mean = computed(() => plane.value.reduce((sum, v) => sum + v, 0) / plane.value.length);
const dark = computed(() => plane.value.filter((v) => v < 0.02).length / plane.value.length);
const shown = computed(() => formatNumber(place.value.distance, props.evidence.axis.unit));
/** What differs from the place where it stood at first; the distance counts always. */
function putOn() {
  const { sets, start } = props.evidence;
  const keys = (['distance', 'falloff', 'cone', 'clear'] as const).filter(
    (key) => key === 'distance' || place.value[key] !== start[key],
  );
  // one edit, and one step back
  emit(
    'set',
    keys.map((key) => [sets[key], place.value[key]]),
  );
}

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
      <input v-model.number="step" type="range" min="0" :max="STEPS" :aria-valuetext="shown" data-test="dial" />
      <b class="number" data-test="dial-value">{{ shown }}</b>
    </label>
    <label>
      <span class="dim">falloff</span>
      <input v-model.number="place.falloff" type="range" min="0" max="4" step="0.1" data-test="dial-falloff" />
      <b class="number">{{ place.falloff === 0 ? 'none' : place.falloff.toFixed(1) }}</b>
    </label>
    <label v-if="evidence.cones.length > 1">
      <span class="dim">cone</span>
      <input
        v-model.number="place.cone"
        type="range"
        :min="evidence.cones[0]"
        :max="evidence.cones.at(-1)"
        step="1"
        data-test="dial-cone"
      />
      <b class="number">{{ place.cone }}°</b>
    </label>
    <label title="Exponent of the layer where it is multiplied in: the render has none">
      <span class="dim">contrast</span>
      <input v-model.number="contrast" type="range" min="0.5" max="4" step="0.1" data-test="dial-contrast" />
      <b class="number">{{ contrast.toFixed(1) }}</b>
    </label>
    <label v-if="evidence.clear.length > 1" class="check">
      <Checkbox v-model="place.clear" binary input-id="dial-clear" data-test="dial-clear" /> clear surfaces block
    </label>
    <p class="below">
      <span class="dim" data-test="dial-mean">mean {{ percent(mean) }}, black {{ percent(dark) }} of the pixels</span>
      <Button
        :label="`Put ${shown} on the slip`"
        size="small"
        severity="secondary"
        data-test="dial-set"
        @click="putOn"
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
  grid-template-columns: 62px minmax(0, 1fr) 84px;
  gap: 10px;
  align-items: center;
}
.check {
  grid-template-columns: auto 1fr;
  gap: 6px;
}
input {
  accent-color: var(--wax);
}
b {
  text-align: right;
}
.below {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  justify-content: space-between;
  align-items: center;
}
</style>
