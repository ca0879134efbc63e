<script setup lang="ts">
// The picture: drawing, zooming, panning, pointing at regions.
import { computed, nextTick, onMounted, ref, watch } from 'vue';
import { useResizeObserver } from '@vueuse/core';
import { intersectRegions, type Region } from '@dusting/core/image';
import type { PlacedPicture, View } from '../picture/view.ts';
import { createCanvasDrawer } from '../picture/canvasDrawer.ts';
import { createGlDrawer } from '../picture/glDrawer.ts';
import { beyondWipe, type PictureDrawer } from '../picture/view.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import type { LayerPicture, Proof } from '../api.ts';
import { useDiagnosis } from '../stores/diagnosis.ts';
import { useContents } from '../stores/contents.ts';
import { useMix } from '../stores/mix.ts';
import { usePreview } from '../stores/preview.ts';
import { useSlip } from '../stores/slip.ts';
import { DEFECT_SIGNS } from '../words.ts';
import LayerOverlay from '../evidence/LayerOverlay.vue';
import MapTiles from '../evidence/MapTiles.vue';
import SelectionOutline from './SelectionOutline.vue';

const props = defineProps<{
  range: [number, number] | null;
  /** Shown instead of the pictures: a map of how they differ. */
  map: PlacedPicture | null;
}>();
const emit = defineEmits<{ point: [{ x: number; y: number } | null] }>();
const bench = useBench();
const diagnosis = useDiagnosis();
const look = useLook();
const mix = useMix();
const contents = useContents();
const preview = usePreview();
const slip = useSlip();
const wall = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
let drawer: PictureDrawer | null = null;

const frame = computed<Region | null>(() => {
  const size = bench.proof?.settings ?? (preview.on ? slip.document?.final : null);
  return size ? { x: 0, y: 0, width: size.width, height: size.height } : null;
});
const placed = computed<{ first: PlacedPicture | null; second: PlacedPicture | null }>(() => {
  if (props.map) return { first: props.map, second: null };
  if (preview.on) return livePictures();
  const shown = mix.picture ?? bench.picture;
  const now = shown && bench.pictured ? { picture: shown, window: windowOf(bench.pictured) } : null;
  const before =
    bench.besidePicture && bench.beside ? { picture: bench.besidePicture, window: windowOf(bench.beside) } : null;
  return before && look.mode !== 'one' ? { first: before, second: now } : { first: now, second: null };
});
/** Where a proof lies in the frame; of another size of the frame, the same part of it. */
function windowOf({ region, settings }: Proof): Region {
  const [sx, sy] = [frame.value!.width / settings.width, frame.value!.height / settings.height];
  return { x: region.x * sx, y: region.y * sy, width: region.width * sx, height: region.height * sy };
}
/** The live preview, over what it is compared with: a picture that was kept, or the proof. */
function livePictures() {
  const whole = (picture: LayerPicture | null) => picture && frame.value && { picture, window: frame.value };
  const now = whole(preview.picture);
  const proof = bench.picture && bench.proof && bench.layer === 'beauty' ? { picture: bench.picture, window: bench.proof.region } : null; // prettier-ignore
  const before = whole(preview.frozen) ?? proof;
  if (!now) return { first: before, second: null };
  return before && look.mode !== 'one' ? { first: before, second: now } : { first: now, second: null };
}
const view = computed<View>(() => ({
  centre: look.centre,
  scale: look.scale,
  mode: look.mode,
  wipe: look.wipe,
  blink: look.blink,
  difference: look.difference === 'absolute' || look.difference === 'relative' ? look.difference : 'signed',
  gain: look.gain,
  stops: look.stops,
  transform: look.transform,
  gamma: look.gamma,
  channel: look.channel,
  range: preview.on ? null : props.range,
  marks: look.marks,
  isolines: look.isolines,
}));

onMounted(() => {
  drawer = createGlDrawer(canvas.value!) ?? createCanvasDrawer(canvas.value!);
  draw();
});
let scheduled = false;
function draw() {
  if (scheduled) return;
  scheduled = true;
  requestAnimationFrame(() => {
    scheduled = false;
    drawer?.draw(placed.value.first, placed.value.second, view.value);
  });
}
watch([placed, view], draw);
useResizeObserver(wall, ([entry]) => {
  const { width, height } = entry.contentRect;
  const first = look.canvas.width === 1;
  const wasFit = frame.value && Math.abs(look.scale - fitScale(look.canvas)) < 1e-6;
  look.canvas = { width, height };
  canvas.value!.width = Math.round(width);
  canvas.value!.height = Math.round(height);
  if ((first || wasFit) && frame.value) look.fit(frame.value);
  draw();
});
function fitScale({ width, height }: { width: number; height: number }) {
  return frame.value ? Math.min((width - 16) / frame.value.width, (height - 16) / frame.value.height) : 1;
}
watch(
  () => frame.value && `${frame.value.width}x${frame.value.height}`,
  () => nextTick(() => frame.value && look.fit(frame.value)),
  { immediate: true },
);
// side by side, a trial is shown as large as it goes; otherwise it lies in its frame
watch(
  () => look.mode === 'side',
  (side) => {
    const part = side && bench.proof?.kind === 'trial' ? bench.proof.region : frame.value;
    if (part) look.fit(part);
  },
);

// from frame pixels to the canvas and back; side by side, both halves show the same place
const half = computed(() => look.mode === 'side' && placed.value.second !== null);
function toFrame(event: { offsetX: number; offsetY: number }) {
  const { width, height } = look.canvas;
  const middle = half.value ? (event.offsetX >= width / 2 ? width * 0.75 : width * 0.25) : width / 2;
  return {
    x: (event.offsetX - middle) / look.scale + look.centre.x,
    y: (event.offsetY - height / 2) / look.scale + look.centre.y,
  };
}
function boxOf(region: Region) {
  const middle = half.value ? look.canvas.width * 0.25 : look.canvas.width / 2;
  return {
    left: `${(region.x - look.centre.x) * look.scale + middle}px`,
    top: `${(region.y - look.centre.y) * look.scale + look.canvas.height / 2}px`,
    width: `${region.width * look.scale}px`,
    height: `${region.height * look.scale}px`,
  };
}

const drawing = ref<{ x: number; y: number } | null>(null);
const panning = ref(false);
const wiping = ref(false);
const space = ref(false);
function down(event: PointerEvent) {
  if (!frame.value || event.button === 2) return;
  (event.target as HTMLElement).setPointerCapture(event.pointerId);
  if (event.button === 1 || space.value) panning.value = true;
  else if (look.mode === 'wipe' && placed.value.second && Math.abs(beyond(look.wipe, event)) < 8) wiping.value = true;
  else drawing.value = toFrame(event);
}
function move(event: PointerEvent) {
  const at = toFrame(event);
  const pixel = { x: Math.floor(at.x), y: Math.floor(at.y) };
  const f = frame.value;
  emit('point', f && pixel.x >= 0 && pixel.y >= 0 && pixel.x < f.width && pixel.y < f.height ? pixel : null);
  if (wiping.value) moveWipe(event);
  else if (panning.value)
    look.centre = { x: look.centre.x - event.movementX / look.scale, y: look.centre.y - event.movementY / look.scale };
  else if (drawing.value) bench.region = regionBetween(drawing.value, at);
}
const beyond = (wipe: View['wipe'], { offsetX, offsetY }: { offsetX: number; offsetY: number }) =>
  beyondWipe(wipe, offsetX, offsetY, look.canvas.width, look.canvas.height);
/** The line follows the pointer; with Shift it turns towards it. */
function moveWipe(event: PointerEvent) {
  const { width, height } = look.canvas;
  if (event.shiftKey) {
    const angle = (Math.atan2(event.offsetY - height / 2, event.offsetX - width / 2) * 180) / Math.PI;
    look.wipe = { at: 0.5, angle: Math.round(angle / 5) * 5 - 90 };
    return;
  }
  const { angle } = look.wipe;
  const start = { at: 0, angle };
  const span = beyond(start, event) - beyond({ at: 1, angle }, event);
  look.wipe = { at: Math.min(0.99, Math.max(0.01, beyond(start, event) / span)), angle };
}
function up(event: PointerEvent) {
  if (drawing.value) {
    const at = toFrame(event);
    const moved = Math.max(Math.abs(at.x - drawing.value.x), Math.abs(at.y - drawing.value.y)) * look.scale;
    if (moved < 4) {
      bench.region = null;
      if (bench.panel === 'contents') void pickAt(at, event.ctrlKey || event.metaKey);
      else bench.selectDefect(null);
    } else {
      leaveDefect();
      void bench.compareRegion();
    }
  }
  drawing.value = null;
  panning.value = wiping.value = false;
}
/** A region elsewhere is about something else than the defect that is selected. */
function leaveDefect() {
  const { defect, region } = bench;
  if (defect && region && !intersectRegions(defect.region, region)) bench.selectDefect(null);
}
/** Selects the object at a place of the frame: of the preview where it is shown, of the proof otherwise. */
async function pickAt(at: { x: number; y: number }, add: boolean) {
  const { width, height } = frame.value!;
  if (at.x < 0 || at.y < 0 || at.x >= width || at.y >= height) return contents.pick(null);
  const id = preview.on
    ? (preview.pixelAt(at.x / width, at.y / height)?.object ?? null)
    : await bench.objectAt(Math.floor(at.x), Math.floor(at.y));
  contents.pick(id === null ? null : { kind: 'object', id }, add);
}
function regionBetween(a: { x: number; y: number }, b: { x: number; y: number }): Region | null {
  const f = frame.value!;
  const clip = (v: number, most: number) => Math.min(most, Math.max(0, v));
  const x0 = clip(Math.floor(Math.min(a.x, b.x)), f.width - 1);
  const y0 = clip(Math.floor(Math.min(a.y, b.y)), f.height - 1);
  const x1 = clip(Math.ceil(Math.max(a.x, b.x)), f.width);
  const y1 = clip(Math.ceil(Math.max(a.y, b.y)), f.height);
  return x1 > x0 && y1 > y0 ? { x: x0, y: y0, width: x1 - x0, height: y1 - y0 } : null;
}
function wheel(event: WheelEvent) {
  const { width, height } = look.canvas;
  const middle = half.value ? (event.offsetX >= width / 2 ? width * 0.75 : width * 0.25) : width / 2;
  look.zoom(Math.exp(-event.deltaY * 0.0015), event.offsetX - middle, event.offsetY - height / 2);
}
function key(event: KeyboardEvent, pressed: boolean) {
  if (event.key === ' ') {
    space.value = pressed;
    event.preventDefault();
  }
}
/** The same line of the wipe on a sheet that shows a part of the frame, one pixel for each. */
function wipeOn(part: Region): View['wipe'] {
  const { wipe, centre, scale, canvas: wall } = look;
  const middle = {
    x: (part.x + part.width / 2 - centre.x) * scale + wall.width / 2,
    y: (part.y + part.height / 2 - centre.y) * scale + wall.height / 2,
  };
  const away = beyondWipe(wipe, middle.x, middle.y, wall.width, wall.height) / scale;
  const span =
    beyondWipe({ at: 0, angle: wipe.angle }, 0, 0, part.width, part.height) -
    beyondWipe({ at: 1, angle: wipe.angle }, 0, 0, part.width, part.height);
  return { at: 0.5 - away / span, angle: wipe.angle };
}
/** What is seen of the region, or of the whole frame, one pixel for each of the frame. Null where there is no picture. */
async function exportPng(): Promise<Blob | null> {
  const part = bench.region ?? frame.value;
  if (!part || !placed.value.first) return null;
  const sheet = document.createElement('canvas');
  sheet.width = part.width * (half.value ? 2 : 1);
  sheet.height = part.height;
  (createGlDrawer(sheet) ?? createCanvasDrawer(sheet)).draw(placed.value.first, placed.value.second, {
    ...view.value,
    centre: { x: part.x + part.width / 2, y: part.y + part.height / 2 },
    scale: 1,
    wipe: wipeOn(part),
  });
  return new Promise((resolve) => sheet.toBlob(resolve, 'image/png'));
}
defineExpose({ fit: () => frame.value && look.fit(frame.value), exportPng });
</script>

<template>
  <div
    ref="wall"
    class="wall"
    tabindex="0"
    role="group"
    aria-label="Picture"
    :class="{ pan: space || panning }"
    @keydown="key($event, true)"
    @keyup="key($event, false)"
    @pointerleave="emit('point', null)"
  >
    <canvas
      ref="canvas"
      role="img"
      :aria-label="bench.title || 'No picture yet'"
      data-test="picture"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @dblclick="pickAt(toFrame($event), $event.ctrlKey || $event.metaKey)"
      @wheel.prevent="wheel"
    />
    <SelectionOutline v-if="frame && contents.selectedObjects.size > 0" :frame="frame" />
    <MapTiles
      v-if="diagnosis.overlay?.type === 'map'"
      class="overlay"
      :style="boxOf(diagnosis.overlay.region)"
      :evidence="diagnosis.overlay"
    />
    <LayerOverlay
      v-if="diagnosis.overlay?.type === 'dial' && diagnosis.layer"
      class="overlay"
      :style="boxOf(diagnosis.overlay.region)"
      :image="diagnosis.layer"
    />
    <template v-if="diagnosis.overlay?.type === 'pixels'">
      <i
        v-for="p in diagnosis.overlay.pixels"
        :key="`${p.x},${p.y}`"
        class="mark"
        :style="boxOf({ x: p.x, y: p.y, width: 1, height: 1 })"
      />
    </template>
    <div
      v-for="d in bench.shot?.defects"
      :key="d.id"
      class="box defect"
      :class="{ chosen: d.id === bench.defectId, quiet: d.state === 'fixed' || d.state === 'accepted' }"
      :style="boxOf(d.region)"
    >
      <button class="tag" :title="`D${d.number}: ${DEFECT_SIGNS[d.kind].name}`" @click="bench.selectDefect(d.id)">
        {{ DEFECT_SIGNS[d.kind].sign }} D{{ d.number }}
      </button>
    </div>
    <div
      v-if="bench.region && !(bench.defect && JSON.stringify(bench.defect.region) === JSON.stringify(bench.region))"
      class="box"
      :style="boxOf(bench.region)"
      data-test="region"
    />
    <span
      v-for="(pin, i) in look.pins"
      :key="`${pin.x},${pin.y}`"
      class="pin"
      :style="boxOf({ ...pin, width: 1, height: 1 })"
      ><b>{{ i + 1 }}</b></span
    >
    <slot />
  </div>
</template>

<style scoped>
.wall {
  position: relative;
  overflow: hidden;
  background: var(--wall);
  min-height: 0;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: crosshair;
  touch-action: none;
}
.overlay {
  position: absolute;
  pointer-events: none;
}
.mark {
  position: absolute;
  pointer-events: none;
}
.mark::after {
  content: '';
  position: absolute;
  inset: -5px;
  border: 1.5px solid #fff;
  border-radius: 50%;
  box-shadow: 0 0 0 1px rgb(0 0 0 / 70%);
}
.pan canvas {
  cursor: grab;
}
.box {
  position: absolute;
  pointer-events: none;
  outline: 1px solid #fff;
  box-shadow: 0 0 0 2px rgb(0 0 0 / 55%);
}
.pin {
  position: absolute;
  pointer-events: none;
  outline: 1px solid #fff;
  box-shadow: 0 0 0 2px rgb(0 0 0 / 60%);
}
.pin b {
  position: absolute;
  left: calc(100% + 3px);
  bottom: calc(100% - 2px);
  padding: 0 3px;
  background: rgb(30 30 30 / 85%);
  font-size: 11.5px;
}
.defect {
  outline: 1px dashed #e0e0e0;
}
.chosen {
  outline: 2px solid var(--wax);
}
.quiet {
  opacity: 0.45;
}
.tag {
  position: absolute;
  left: 0;
  bottom: 100%;
  pointer-events: auto;
  border: 0;
  background: rgb(30 30 30 / 85%);
  color: #eee;
  font: 600 11.5px var(--sans);
  padding: 1px 5px;
  cursor: pointer;
  white-space: nowrap;
}
.chosen .tag {
  background: var(--wax);
  color: #1d1d1d;
}
</style>
