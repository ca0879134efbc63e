<script setup lang="ts">
// The model beside the picture. It shares the selection with the contents and the picture.
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { useLocalStorage, useResizeObserver } from '@vueuse/core';
import ToolChoice from '../parts/ToolChoice.vue';
import { shortNumber } from '../contents/quantity.ts';
import { useContents } from '../stores/contents.ts';
import { useDiagnosis } from '../stores/diagnosis.ts';
import { useSlip } from '../stores/slip.ts';
import { MODEL_DEFAULTS, ModelScene, type ModelOptions } from './modelScene.ts';

const contents = useContents();
const diagnosis = useDiagnosis();
const slip = useSlip();
const area = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const options = useLocalStorage<ModelOptions>('dusting.modelOptions', { ...MODEL_DEFAULTS }, { mergeDefaults: true });
const fault = ref('');
const loading = ref(true);
/** What the view tells of itself. */
const told = shallowRef({
  through: false,
  boxed: 0,
  triangles: 0,
  size: null as [number, number, number] | null,
  step: 1,
});
let model: ModelScene | null = null;

function tell() {
  if (!model) return;
  const { through, boxed, triangles, gridStep } = model;
  const refs = contents.selected;
  told.value = { through, boxed, triangles, size: model.sizeOf(refs), step: gridStep };
}
const show = () => load(async () => contents.document && model?.show(contents.document));
async function load(action: () => Promise<unknown>) {
  try {
    await action();
    fault.value = '';
  } catch (error) {
    fault.value = (error as Error).message;
  }
  loading.value = false;
}
onMounted(() => {
  try {
    model = new ModelScene(canvas.value!, tell);
  } catch {
    fault.value = 'The browser has no WebGL: the model cannot be drawn.';
    return;
  }
  void model.setOptions(options.value);
  model.select(contents.selected);
  model.showSketch(diagnosis.sketch);
  void show();
});
onBeforeUnmount(() => {
  letGo();
  model?.end();
});
useResizeObserver(area, ([entry]) => model?.resize(entry.contentRect.width, entry.contentRect.height));
watch(() => contents.document, show);
watch(
  () => contents.selected,
  (selected) => {
    model?.select(selected);
    tell();
  },
);
watch(
  () => diagnosis.sketch,
  (sketch) => model?.showSketch(sketch),
);
watch(options, (next) => load(() => model!.setOptions(next)), { deep: true });

/** The light that is selected, if it is one alone. */
const light = computed(() => {
  const [first, second] = contents.selected;
  return first?.kind === 'light' && !second ? { id: first.id, of: contents.document?.lights[first.id] } : null;
});
/** A drag moves the light instead of the view. */
const drags = ref(false);
watch(light, (now, before) => now?.id !== before?.id && (drags.value = false));
watch(
  () => drags.value && light.value !== null,
  (still) => model?.hold(still),
);
let held: { id: string; from: { x: number; y: number }; of: { kind: 'sun' | 'point'; transform: number[] } } | null = null; // prettier-ignore

let start: { x: number; y: number } | null = null;
const at = (event: PointerEvent) => ({ x: event.offsetX, y: event.offsetY });
function down(event: PointerEvent) {
  start = { x: event.clientX, y: event.clientY };
  if (!drags.value || !light.value?.of) return;
  canvas.value!.setPointerCapture(event.pointerId);
  const { kind, transform } = light.value.of;
  held = { id: light.value.id, from: at(event), of: { kind: kind === 'sun' ? 'sun' : 'point', transform: [...transform] } }; // prettier-ignore
}
function move(event: PointerEvent) {
  if (!held || !model) return;
  const { clientHeight: height, clientWidth: width } = canvas.value!;
  const to = model.drag(held.of, { from: held.from, to: at(event), width, height }, event.shiftKey);
  slip.hold([[`/lights/${held.id}/transform`, to]]);
}
function letGo() {
  if (!held) return;
  held = null;
  void slip.letGo();
}
/** A click picks; a drag has turned the view. */
function up(event: PointerEvent) {
  letGo();
  if (!model || !start || Math.hypot(event.clientX - start.x, event.clientY - start.y) > 4) return;
  const box = canvas.value!.getBoundingClientRect();
  const found = model.pick(event.clientX - box.left, event.clientY - box.top, box.width, box.height);
  contents.pick(found, event.ctrlKey || event.metaKey);
}
const length = (m: number) => (m < 1 ? `${shortNumber(m * 1000)} mm` : `${shortNumber(m)} m`);
const size = computed(() => told.value.size?.map(length).join(' × '));
const SWITCHES: { key: keyof ModelOptions; label: string; title: string }[] = [
  { key: 'wireframe', label: 'wires', title: 'Edges of the triangles' },
  { key: 'faces', label: 'faces', title: 'Back faces in orange, normals of what is selected in yellow' },
  { key: 'shaped', label: 'displaced', title: 'Subdivided and displaced, as it is rendered' },
  { key: 'seams', label: 'seams', title: 'Where the UVs are cut, in blue' },
  { key: 'grid', label: 'grid', title: 'The ground in scene units' },
  { key: 'clear', label: 'clear', title: 'What is not selected is clear: walls hide nothing' },
];
</script>

<template>
  <section class="model" aria-label="Model" data-test="model">
    <div class="tools">
      <ToolChoice
        :items="SWITCHES"
        :pressed="(key) => options[key]"
        test-id="model"
        @press="options = { ...options, [$event]: !options[$event] }"
      />
      <template v-if="light">
        <button
          class="tool"
          :aria-pressed="options.shadow"
          title="Where the shadow of the selected light falls: hard, and without its brightness"
          data-test="model-shadow"
          @click="options = { ...options, shadow: !options.shadow }"
        >
          shadow
        </button>
        <button
          class="tool"
          :aria-pressed="drags"
          :title="
            light.of?.kind === 'sun'
              ? 'Across turns the sun, upwards it rises'
              : 'Moves the light in the plane of the view; with Shift up and down'
          "
          data-test="model-drag"
          @click="drags = !drags"
        >
          drag light
        </button>
      </template>
      <span class="gap" />
      <button
        class="tool"
        :aria-pressed="told.through"
        title="As the shot's camera sees it"
        data-test="model-through"
        @click="model?.lookThrough()"
      >
        camera
      </button>
      <button
        class="tool"
        :title="contents.selected.length > 0 ? 'What is selected' : 'Everything'"
        data-test="model-fit"
        @click="model?.fit(contents.selected)"
      >
        fit
      </button>
    </div>
    <div ref="area" class="area">
      <canvas
        ref="canvas"
        data-test="model-canvas"
        @pointerdown="down"
        @pointermove="move"
        @pointerup="up"
        @lostpointercapture="letGo"
      />
      <p v-if="fault" class="note" role="alert">▲ {{ fault }}</p>
      <p v-else-if="loading" class="note">Loading the meshes …</p>
      <p class="status number" data-test="model-status">
        <template v-if="size">{{ size }}</template>
        <template v-else>{{ told.triangles.toLocaleString('en') }} triangles</template>
        <template v-if="told.boxed > 0">, {{ told.boxed }} objects as boxes</template>
        <template v-if="options.grid">, grid {{ length(told.step) }}</template>
      </p>
    </div>
  </section>
</template>

<style scoped>
.model {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
  border-left: 1px solid var(--line);
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 3px 6px;
  background: var(--room);
}
/* all of them in one line beside the picture */
.tools :deep(.tool) {
  padding-inline: 6px;
}
.gap {
  flex: 1;
}
.tool {
  height: 24px;
  font-size: 12.5px;
}
.area {
  position: relative;
  flex: 1;
  min-height: 0;
  background: var(--wall);
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  touch-action: none;
}
.status,
.note {
  position: absolute;
  left: 10px;
  bottom: 8px;
  padding: 2px 8px;
  background: rgb(30 30 30 / 85%);
  pointer-events: none;
}
.note {
  bottom: 50%;
}
</style>
