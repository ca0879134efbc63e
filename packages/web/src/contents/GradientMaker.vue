<script setup lang="ts">
// A gradient, drawn over the UVs of an object: its places are dragged or typed, and it is kept as a texture.
import { computed, onMounted, ref, watch } from 'vue';
import Button from 'primevue/button';
import { linearToSrgb, luminance } from '@dusting/core/color';
import { gradientAt, gradientPng, type Gradient } from '@dusting/core/formats';
import { api, type TakenPicture } from '../api.ts';
import { pictureTools } from '../workers/index.ts';
import ColorField from './ColorField.vue';
import QuantityInput from './QuantityInput.vue';

const props = defineProps<{
  /** Whose UVs it is drawn over. */
  mesh: { blob: string; uvSet: number } | null;
  /** It filters the light through glass. */
  filters: boolean;
}>();
const emit = defineEmits<{ made: [picture: TakenPicture]; cancel: [] }>();
const SIZE = 262;
const BLACK = 0.02;
const gradient = ref<Gradient>({
  kind: 'linear',
  from: [0.5, 0],
  to: [0.5, 1],
  start: [0.9, 0.9, 0.9],
  end: [0.4, 0.2, 0.05],
});
const canvas = ref<HTMLCanvasElement>();
const fault = ref('');
const busy = ref(false);
let layout: HTMLCanvasElement | null = null;
const tooDark = computed(
  () => props.filters && [gradient.value.start, gradient.value.end].some(([r, g, b]) => luminance(r, g, b) < BLACK),
);

function draw() {
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  const image = context.createImageData(SIZE, SIZE);
  for (let y = 0, i = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      for (const c of gradientAt(gradient.value, (x + 0.5) / SIZE, (y + 0.5) / SIZE))
        image.data[i++] = 255 * linearToSrgb(c);
      image.data[i++] = 255;
    }
  context.putImageData(image, 0, 0);
  if (layout) context.drawImage(layout, 0, 0);
}
/** The UVs, drawn once: there are thousands of lines. */
function drawLayout(lines: Float32Array): HTMLCanvasElement {
  const layer = Object.assign(document.createElement('canvas'), { width: SIZE, height: SIZE });
  const context = layer.getContext('2d')!;
  // many lines would hide the gradient that they lie on
  const share = Math.min(0.8, 3000 / (lines.length + 1));
  for (const [style, shift] of [
    [`rgb(0 0 0 / ${70 * share}%)`, 1],
    [`rgb(255 255 255 / ${100 * share}%)`, 0],
  ] as const) {
    context.strokeStyle = style;
    context.beginPath();
    for (let i = 0; i < lines.length; i += 4) {
      context.moveTo(lines[i] * SIZE + shift, lines[i + 1] * SIZE + shift);
      context.lineTo(lines[i + 2] * SIZE + shift, lines[i + 3] * SIZE + shift);
    }
    context.stroke();
  }
  return layer;
}
watch(gradient, draw, { deep: true });
onMounted(async () => {
  draw();
  const lines =
    props.mesh &&
    (await pictureTools()
      .uvLines(props.mesh.blob, props.mesh.uvSet)
      .catch(() => null));
  if (lines) layout = drawLayout(lines);
  draw();
});

const ENDS = ['from', 'to'] as const;
/** Drags one end over the picture. */
function drag(end: (typeof ENDS)[number], event: PointerEvent) {
  const handle = event.currentTarget as HTMLElement;
  handle.setPointerCapture(event.pointerId);
  const box = canvas.value!.getBoundingClientRect();
  const move = (e: PointerEvent) =>
    (gradient.value[end] = [(e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height].map((v) =>
      Number(Math.min(1, Math.max(0, v)).toFixed(3)),
    ) as [number, number]);
  handle.addEventListener('pointermove', move);
  handle.addEventListener('lostpointercapture', () => handle.removeEventListener('pointermove', move), { once: true });
}
function place(end: (typeof ENDS)[number], axis: number, value: number) {
  gradient.value[end] = gradient.value[end].map((v, k) => (k === axis ? value : v)) as [number, number];
}
async function make() {
  busy.value = true;
  try {
    const bytes = gradientPng(gradient.value) as Uint8Array<ArrayBuffer>;
    emit(
      'made',
      await api.takePicture(new File([bytes], `${gradient.value.kind} gradient.png`, { type: 'image/png' })),
    );
  } catch (error) {
    fault.value = (error as Error).message;
  }
  busy.value = false;
}
</script>

<template>
  <div class="gradient" data-test="gradient">
    <div class="row">
      <select v-model="gradient.kind" class="entry" aria-label="Kind of gradient">
        <option value="linear">linear</option>
        <option value="radial">radial</option>
      </select>
      <button
        class="tool"
        title="Start and end change places"
        @click="[gradient.start, gradient.end] = [gradient.end, gradient.start]"
      >
        ⇄
      </button>
    </div>
    <div class="picture">
      <canvas ref="canvas" :width="SIZE" :height="SIZE" />
      <button
        v-for="end in ENDS"
        :key="end"
        class="handle"
        :class="end"
        :aria-label="end === 'from' ? 'Place of the start' : 'Place of the end'"
        :style="{ left: `${100 * gradient[end][0]}%`, top: `${100 * gradient[end][1]}%` }"
        @pointerdown.prevent="drag(end, $event)"
      />
    </div>
    <div v-for="end in ENDS" :key="end" class="row">
      <span class="name">{{ end === 'from' ? 'start' : 'end' }}</span>
      <QuantityInput
        v-for="axis in [0, 1]"
        :id="`gradient-${end}-${axis}`"
        :key="axis"
        :aria-label="`${end} ${'uv'[axis]}`"
        :value="gradient[end][axis]"
        :minimum="-10"
        :maximum="10"
        :whole="false"
        unit=""
        @change="place(end, axis, $event)"
        @fault="fault = $event"
      />
    </div>
    <div class="row">
      <span class="name">start</span
      ><ColorField
        id="gradient-start"
        :value="gradient.start"
        :most="1"
        @change="gradient.start = $event"
        @hold="gradient.start = $event"
      />
    </div>
    <div class="row">
      <span class="name">end</span
      ><ColorField
        id="gradient-end"
        :value="gradient.end"
        :most="1"
        @change="gradient.end = $event"
        @hold="gradient.end = $event"
      />
    </div>
    <p v-if="tooDark" role="alert" data-test="gradient-dark">▲ The dark end lets next to nothing through the glass.</p>
    <p v-if="fault" role="alert">▲ {{ fault }}</p>
    <div class="row">
      <Button
        :label="busy ? 'Making …' : 'Make the texture'"
        size="small"
        severity="secondary"
        :disabled="busy"
        data-test="make-gradient"
        @click="make"
      />
      <Button label="Cancel" size="small" severity="secondary" text @click="emit('cancel')" />
    </div>
  </div>
</template>

<style scoped>
.gradient {
  grid-column: 1 / 5;
  display: flex;
  flex-direction: column;
  gap: 4px;
  padding: 6px 0;
}
.picture {
  position: relative;
  width: 262px;
}
canvas {
  display: block;
}
.handle {
  position: absolute;
  width: 14px;
  height: 14px;
  margin: -7px;
  padding: 0;
  border: 2px solid #fff;
  outline: 1px solid #000;
  background: none;
  cursor: move;
  touch-action: none;
}
.handle.to {
  transform: rotate(45deg);
}
.row {
  display: flex;
  gap: 6px;
  align-items: start;
}
.name {
  padding-top: 4px;
  width: 60px;
  flex: none;
}
.row :deep(.color) {
  flex: 1;
  min-width: 0;
}
/* over the width of the maker, not of a parameter */
.row :deep(.sheet) {
  margin: 4px 0 6px -66px;
}
</style>
