<script setup lang="ts">
// A layer that follows what is dragged. It is computed from what came with the diagnosis, without a render.
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import Button from 'primevue/button';
import Checkbox from 'primevue/checkbox';
import {
  dialLayer,
  formatNumber,
  fromBase64,
  percent,
  type DialEvidence,
  type DialPlace,
} from '@dusting/core/diagnose';
import { fetchBlob } from '../parts/fetchBlob.ts';
import { paintLayer } from './dialPaint.ts';

const props = defineProps<{
  evidence: DialEvidence;
  large: boolean;
  /** It lies on the picture. */
  shown: boolean;
}>();
const emit = defineEmits<{
  set: [values: [path: string, value: number | boolean][]];
  show: [on: boolean];
  paint: [image: ImageData];
}>();
const STEPS = 400;
const canvas = ref<HTMLCanvasElement>();
const shares = shallowRef<Uint8Array | null>(null);
const failed = ref('');
const ends = computed(() => [props.evidence.values[0], props.evidence.values.at(-1)!]);
const place = ref<DialPlace>({ ...props.evidence.start });
/** Of the composite: the layer itself has none. */
const contrast = ref(1);
watch(
  () => props.evidence,
  async ({ shares: data, start }) => {
    place.value = { ...start };
    failed.value = '';
    shares.value = 'base64' in data ? fromBase64(data.base64) : null;
    if (!('kept' in data)) return;
    const bytes = await fetchBlob(data.kept).catch((error: Error) => void (failed.value = error.message));
    if (bytes && props.evidence.shares === data) shares.value = bytes;
  },
  { immediate: true },
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
const layer = computed(() => shares.value && dialLayer(props.evidence, shares.value, place.value));
const painted = computed(() => layer.value && paintLayer(layer.value, props.evidence.width, props.evidence.height, contrast.value)); // prettier-ignore
const distanceText = computed(() => formatNumber(place.value.distance, props.evidence.axis.unit));
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
  if (!painted.value) return;
  const { image } = painted.value;
  if (props.shown) emit('paint', image);
  if (!canvas.value) return;
  Object.assign(canvas.value, { width: image.width, height: image.height });
  canvas.value.getContext('2d')!.putImageData(image, 0, 0);
}
onMounted(paint);
watch([painted, () => props.shown], paint, { flush: 'post' });
</script>

<template>
  <div class="dial">
    <label class="check">
      <Checkbox
        :model-value="shown"
        binary
        input-id="dial-shown"
        data-test="dial-shown"
        @update:model-value="emit('show', $event)"
      />
      show the layer on the picture
    </label>
    <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    <p v-else-if="!shares" class="dim" role="status">Getting the distances of every pixel …</p>
    <canvas
      v-if="large || !shown"
      ref="canvas"
      :aria-label="`${evidence.title}: ${distanceText}`"
      role="img"
      data-test="dial-picture"
    />
    <label>
      <span class="dim">{{ evidence.axis.label }}</span>
      <input v-model.number="step" type="range" min="0" :max="STEPS" :aria-valuetext="distanceText" data-test="dial" />
      <b class="number" data-test="dial-value">{{ distanceText }}</b>
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
        :min="Math.ceil(evidence.cones[0])"
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
      <span v-if="painted" class="dim" data-test="dial-mean"
        >mean {{ percent(painted.mean) }}, black {{ percent(painted.black) }} of the pixels</span
      >
      <Button
        :label="`Put ${distanceText} on the slip`"
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
