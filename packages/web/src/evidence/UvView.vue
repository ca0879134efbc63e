<script setup lang="ts">
// UVs over their map: what it says in false colour, islands and faces, the widest seams, and both sides of the chosen one.
import { computed, onMounted, ref, watch } from 'vue';
import { formatNumber, type Reference, type UvEvidence } from '@dusting/core/diagnose';
import ToolChoice from '../parts/ToolChoice.vue';
import { ramp } from '../picture/ramp.ts';
import type { Sketch } from '../stores/diagnosis.ts';
import { halfPlane } from './halfPlane.ts';
import { namedColour, paintPlane, shownRange, uvEdges } from './uvPaint.ts';
import UvSides from './UvSides.vue';

const props = defineProps<{ evidence: UvEvidence; large: boolean }>();
const emit = defineEmits<{ go: [to: Reference]; mark: [sketch: Sketch]; draw: [sketch: Sketch] }>();
/** Pixels of the screen for one of texture space, at least and at most. */
const SCALES = [40, 200_000];
const MARGIN = 8;
const canvas = ref<HTMLCanvasElement>();
const layer = ref(0);
const faces = ref(false);
const chosen = ref<number | null>(null);
const pointed = ref<{ u: number; v: number } | null>(null);
const view = ref({ u: 0.5, v: 0.5, scale: 260 });

const planes = computed(() => props.evidence.layers.map(({ halves }) => halfPlane(halves)));
const ranges = computed(() => planes.value.map(shownRange));
const pictures = computed(() => props.evidence.layers.map(({ names }, i) => paintPlane(planes.value[i], props.evidence.width, names, ranges.value[i]))); // prettier-ignore
const borders = computed(() => uvEdges(props.evidence.borders));
const wires = computed(() => uvEdges(props.evidence.wires));
const shown = computed(() => props.evidence.layers[layer.value]);
const seam = computed(() => (chosen.value === null ? null : props.evidence.seams[chosen.value]));
const layers = computed(() => props.evidence.layers.map(({ label }, i) => ({ key: String(i), label })));
const write = (value: number) => (Number.isFinite(value) ? formatNumber(value, shown.value.unit) : 'nothing');
const SHADES = `linear-gradient(to right, ${Array.from({ length: 9 }, (_, i) => `rgb(${ramp(i / 8).map((c) => Math.round(255 * c)).join(' ')})`).join(', ')})`; // prettier-ignore
const readout = computed(() => {
  if (!pointed.value) return '';
  const { height, origin, width } = props.evidence;
  const { u, v } = pointed.value;
  const [x, y] = [Math.floor((u - origin[0]) * width), Math.floor((v - origin[1]) * height)];
  const value = x >= 0 && y >= 0 && x < width && y < height ? planes.value[layer.value][y * width + x] : NaN;
  const said = shown.value.names ? (shown.value.names[value] ?? 'nothing') : write(value);
  return `U ${u.toFixed(3)} V ${(1 - v).toFixed(3)}: ${said}`;
});

/** All of the map and the islands in view. */
function fit() {
  const { width } = canvas.value!;
  const [u, v] = props.evidence.origin;
  const box = [u, v, u + 1, v + 1];
  for (let i = 0; i < borders.value.length; i += 2)
    for (const k of [0, 1]) {
      box[k] = Math.min(box[k], borders.value[i + k]);
      box[k + 2] = Math.max(box[k + 2], borders.value[i + k]);
    }
  const side = Math.max(box[2] - box[0], box[3] - box[1]);
  view.value = { u: (box[0] + box[2]) / 2, v: (box[1] + box[3]) / 2, scale: (width - 2 * MARGIN) / side };
}
function draw() {
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  const { height, width } = canvas.value!;
  const { scale, u, v } = view.value;
  const x = (at: number) => (at - u) * scale + width / 2;
  const y = (at: number) => (at - v) * scale + height / 2;
  context.clearRect(0, 0, width, height);
  context.imageSmoothingEnabled = false;
  const [left, top] = props.evidence.origin;
  context.drawImage(pictures.value[layer.value], x(left), y(top), scale, scale);
  const lines = (edges: Float32Array, style: string, wide: number) => {
    context.strokeStyle = style;
    context.lineWidth = wide;
    context.beginPath();
    for (let i = 0; i < edges.length; i += 4) {
      context.moveTo(x(edges[i]), y(edges[i + 1]));
      context.lineTo(x(edges[i + 2]), y(edges[i + 3]));
    }
    context.stroke();
  };
  if (faces.value) lines(wires.value, 'rgb(255 255 255 / 22%)', 1);
  // on a dark edge, so that they show on every colour
  lines(borders.value, 'rgb(0 0 0 / 70%)', 3);
  lines(borders.value, '#f4f4f4', 1);
  props.evidence.seams.forEach(({ sides }, i) => {
    const isChosen = i === chosen.value;
    for (const side of sides) {
      context.beginPath();
      context.arc(x(side.u), y(side.v), isChosen ? 7 : 4, 0, 2 * Math.PI);
      context.strokeStyle = '#000';
      context.lineWidth = isChosen ? 5 : 4;
      context.stroke();
      context.strokeStyle = isChosen ? '#f0b429' : '#ff7a52';
      context.lineWidth = 2;
      context.stroke();
    }
    if (!isChosen) return;
    context.setLineDash([5, 4]);
    context.strokeStyle = '#f0b429';
    context.lineWidth = 1.5;
    context.beginPath();
    context.moveTo(x(sides[0].u), y(sides[0].v));
    context.lineTo(x(sides[1].u), y(sides[1].v));
    context.stroke();
    context.setLineDash([]);
  });
}
onMounted(() => {
  const side = Math.max(200, Math.round(canvas.value!.clientWidth));
  Object.assign(canvas.value!, { width: side, height: side });
  fit();
  draw();
});
watch([view, layer, faces, chosen, pictures], draw);

const under = (event: PointerEvent | WheelEvent) => {
  const { clientWidth, height, width } = canvas.value!;
  const ratio = width / clientWidth;
  const { scale, u, v } = view.value;
  return { u: u + (event.offsetX * ratio - width / 2) / scale, v: v + (event.offsetY * ratio - height / 2) / scale };
};
function zoom(factor: number, at = { u: view.value.u, v: view.value.v }) {
  const scale = Math.min(SCALES[1], Math.max(SCALES[0], view.value.scale * factor));
  const share = view.value.scale / scale;
  view.value = { scale, u: at.u + (view.value.u - at.u) * share, v: at.v + (view.value.v - at.v) * share };
}
let held: { u: number; v: number } | null = null;
function down(event: PointerEvent) {
  canvas.value!.setPointerCapture(event.pointerId);
  held = under(event);
}
function move(event: PointerEvent) {
  pointed.value = under(event);
  if (held)
    view.value = {
      ...view.value,
      u: view.value.u + held.u - pointed.value.u,
      v: view.value.v + held.v - pointed.value.v,
    };
}
function key(event: KeyboardEvent) {
  const step = 40 / view.value.scale;
  const ways: Record<string, () => void> = {
    ArrowLeft: () => (view.value = { ...view.value, u: view.value.u - step }),
    ArrowRight: () => (view.value = { ...view.value, u: view.value.u + step }),
    ArrowUp: () => (view.value = { ...view.value, v: view.value.v - step }),
    ArrowDown: () => (view.value = { ...view.value, v: view.value.v + step }),
    '+': () => zoom(1.25),
    '-': () => zoom(0.8),
    '0': fit,
  };
  if (!ways[event.key]) return;
  event.preventDefault();
  event.stopPropagation();
  ways[event.key]();
}
/** What the model shows of it: the place of the chosen seam. */
const sketch = (): Sketch => ({ path: [], rays: [], places: seam.value ? [seam.value.place] : [] });
function choose(i: number) {
  chosen.value = chosen.value === i ? null : i;
  const { pixel } = props.evidence.seams[i];
  emit('mark', sketch());
  if (chosen.value !== null && pixel) emit('go', { type: 'pixel', ...pixel });
}
</script>

<template>
  <div class="uv" :class="{ large }">
    <div class="tools">
      <ToolChoice
        :items="layers"
        :pressed="(k) => Number(k) === layer"
        test-id="uv-layer"
        @press="layer = Number($event)"
      />
      <button class="tool" :aria-pressed="faces" data-test="uv-faces" @click="faces = !faces">faces</button>
      <button class="tool" title="All of it in view (0)" @click="fit">fit</button>
    </div>
    <canvas
      ref="canvas"
      tabindex="0"
      role="img"
      :aria-label="`${evidence.title}: ${shown.label}`"
      data-test="uv-picture"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="held = null"
      @pointerleave="pointed = null"
      @dblclick="fit"
      @wheel.prevent="zoom(Math.exp(-$event.deltaY * 0.0015), under($event))"
      @keydown="key"
    />
    <p class="legend">
      <template v-if="shown.names">
        <span v-for="(name, i) in shown.names" :key="name"
          ><i :style="{ background: namedColour(i) }" />{{ name }}</span
        >
      </template>
      <template v-else>
        <span class="number">{{ write(ranges[layer][0]) }}</span>
        <i class="shades" :style="{ background: SHADES }" />
        <span class="number">{{ write(ranges[layer][1]) }}</span>
      </template>
      <span v-if="readout" class="dim number under">{{ readout }}</span>
    </p>
    <div class="seams">
      <UvSides v-if="seam" :seam="seam" :unit="evidence.layers[0].unit" :borders="borders" />
      <ol v-if="evidence.seams.length > 0">
        <li v-for="(s, i) in evidence.seams" :key="i">
          <button class="link number" :aria-pressed="chosen === i" :data-test="`uv-seam-${i}`" @click="choose(i)">
            {{ formatNumber(s.gap, 'px') }}, {{ formatNumber(s.length, 'm') }}
          </button>
          <span class="dim number">{{ s.pixel ? `at ${s.pixel.x}, ${s.pixel.y}` : 'not seen' }}</span>
          <button v-if="chosen === i" class="link" data-test="uv-in-model" @click="emit('draw', sketch())">
            in the model
          </button>
        </li>
      </ol>
      <p v-else class="dim">No seam parts here.</p>
    </div>
  </div>
</template>

<style scoped>
.uv {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.tools,
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
canvas {
  width: 100%;
  background: #1b1b1b;
  cursor: grab;
  touch-action: none;
}
/* beside the map where there is room */
.large {
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr);
  gap: 6px 14px;
}
.large .seams {
  grid-area: 1 / 2 / 5 / 3;
  align-self: start;
}
.legend i {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 5px;
}
.legend .shades {
  width: 90px;
  margin: 0;
}
.under {
  margin-left: auto;
}
ol {
  margin: 6px 0 0;
  padding-left: 22px;
}
.seams button[aria-pressed='true'] {
  font-weight: 600;
  color: var(--wax);
}
.seams span {
  margin-left: 6px;
}
</style>
