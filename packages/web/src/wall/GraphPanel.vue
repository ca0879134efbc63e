<script setup lang="ts">
// Graphs of what is looked at, over the region or the whole picture: histogram, waveform, scan line.
import { computed, onMounted, ref, watch } from 'vue';
import { useLocalStorage, watchDebounced } from '@vueuse/core';
import { fromHalf } from '@dusting/core/formats';
import { HISTOGRAM_DEFAULTS, intersectRegions, type Histogram, type Region } from '@dusting/core/image';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { useMix } from '../stores/mix.ts';
import { GRAPH } from '../picture/graph.ts';
import { rangeOf } from '../picture/rangeOf.ts';
import { pictureTools } from '../workers/index.ts';
import { value } from '../words.ts';

const props = defineProps<{ point: { x: number; y: number } | null }>();
const bench = useBench();
const look = useLook();
const mix = useMix();
const KINDS = [
  { kind: 'histogram', label: 'Histogram' },
  { kind: 'waveform', label: 'Waveform' },
  { kind: 'line', label: 'Line' },
] as const;
const kind = useLocalStorage<(typeof KINDS)[number]['kind']>('dusting.graph', 'histogram');
/** Sky blue, green and vermillion of the palette of Okabe & Ito stand for blue, green and red. */
const COLORS = ['#d55e00', '#009e73', '#56b4e9', '#e8e8e8'];
const { width: WIDTH, height: HEIGHT } = GRAPH;
const canvas = ref<HTMLCanvasElement>();
const counted = ref<Histogram | null>(null);
/** Row of the scan line, in frame pixels; the last one that was pointed at. */
const row = ref<number | null>(null);
watch(
  () => props.point,
  (point) => point && (row.value = point.y),
);
const picture = computed(() => mix.picture ?? bench.picture);
/** The part that is looked at, in pixels of the picture. */
const part = computed<Region | null>(() => {
  const window = bench.proof?.region;
  if (!window || !picture.value || bench.proof?.state !== 'done') return null;
  const inside = bench.region ? intersectRegions(bench.region, window) : window;
  return inside && { ...inside, x: inside.x - window.x, y: inside.y - window.y };
});

let asked = 0;
async function draw() {
  const mine = ++asked;
  const context = canvas.value?.getContext('2d');
  if (!context) return;
  const [shown, where] = [picture.value, part.value];
  if (!shown || !where) return context.clearRect(0, 0, WIDTH, HEIGHT);
  if (kind.value === 'histogram') {
    const found = await pictureTools().histogram(shown, where, 2 ** -look.stops);
    if (mine !== asked) return;
    counted.value = found;
    drawHistogram(context, found);
  } else if (kind.value === 'waveform') {
    const counts = await pictureTools().waveform(shown, where, look.display);
    if (mine === asked) drawWaveform(context, counts);
  } else drawLine(context);
}
onMounted(draw);
// the row matters to the line alone: counts are not made again while the pointer moves
const rowOfLine = () => (kind.value === 'line' ? row.value : null);
watchDebounced([picture, part, kind, () => look.display, rowOfLine], draw, { debounce: 60 });

function drawHistogram(context: CanvasRenderingContext2D, { counts }: Histogram) {
  const { from, to } = HISTOGRAM_DEFAULTS;
  clear(context);
  const most = Math.max(1, ...counts.map((c) => Math.max(...c)));
  const white = ((-look.stops - from) / (to - from)) * WIDTH;
  context.fillStyle = '#4a4a4a';
  context.fillRect(white, 0, WIDTH - white, HEIGHT);
  counts.forEach((bins, k) => {
    context.strokeStyle = counts.length === 1 ? COLORS[3] : COLORS[k];
    context.beginPath();
    bins.forEach((n, i) => {
      // the root shows small counts beside large ones
      context.lineTo(((i + 0.5) * WIDTH) / bins.length, HEIGHT - 1 - (HEIGHT - 4) * Math.sqrt(n / most));
    });
    context.stroke();
  });
}
function drawWaveform(context: CanvasRenderingContext2D, counts: Uint32Array) {
  const image = context.createImageData(WIDTH, HEIGHT);
  const most = Math.max(1, ...counts);
  counts.forEach((n, i) => {
    const v = n === 0 ? 43 : 80 + 175 * Math.sqrt(n / most);
    image.data.set([v, v, v, 255], i * 4);
  });
  context.putImageData(image, 0, 0);
}
function drawLine(context: CanvasRenderingContext2D) {
  clear(context);
  const [shown, where] = [picture.value!, part.value!];
  const top = bench.proof!.region.y;
  const y = Math.min(
    where.y + where.height - 1,
    Math.max(where.y, (row.value ?? top + where.y + (where.height >> 1)) - top),
  );
  const n = shown.channels.length;
  const range = lineRange.value;
  for (let k = 0; k < (n >= 3 ? 3 : 1); k++) {
    context.strokeStyle = n >= 3 ? COLORS[k] : COLORS[3];
    context.beginPath();
    for (let x = 0; x < where.width; x++) {
      const at = (y * shown.width + where.x + x) * n;
      let v = fromHalf(shown.halves[at + k]);
      if (range) v = (v - range[0]) / (range[1] - range[0]);
      else v = look.sent([0, 1, 2].map((c) => fromHalf(shown.halves[at + c])))[k];
      context.lineTo(((x + 0.5) * WIDTH) / where.width, HEIGHT - 1 - (HEIGHT - 2) * Math.min(1, Math.max(0, v)));
    }
    context.stroke();
  }
}
/** Values at the bottom and the top of the line of a data layer. */
const lineRange = computed(() => (picture.value && picture.value.channels.length < 3 ? rangeOf(picture.value) : null));
function clear(context: CanvasRenderingContext2D) {
  context.fillStyle = '#2b2b2b';
  context.fillRect(0, 0, WIDTH, HEIGHT);
}
const share = (n: number, all: number) => {
  const percent = (100 * n) / all;
  return `${n === 0 ? '0' : percent < 0.1 ? 'under 0.1' : percent.toFixed(1)} %`;
};
</script>

<template>
  <section class="panel tight">
    <div class="segments" role="group" aria-label="Kind of graph">
      <button
        v-for="k in KINDS"
        :key="k.kind"
        class="tool"
        :aria-pressed="kind === k.kind"
        :data-test="`graph-${k.kind}`"
        @click="kind = k.kind"
      >
        {{ k.label }}
      </button>
    </div>
    <canvas ref="canvas" :width="WIDTH" :height="HEIGHT" role="img" :aria-label="`${kind} of ${bench.title}`" />
    <template v-if="kind === 'histogram'">
      <div class="axis number"><span>−10 EV</span><span>−5</span><span>0</span><span>+6</span></div>
      <p v-if="counted" data-test="histogram">
        {{ share(counted.clipped, counted.pixels) }} brighter than display white (lighter ground),
        {{ share(counted.dark, counted.pixels) }} at 0 or below, {{ counted.notFinite }} not finite.
      </p>
      <p class="dim">Stops about the value 1. Heights are roots of counts.</p>
    </template>
    <p v-else-if="kind === 'waveform'" class="dim">
      Displayed luminance from 0 to 1, column by column; brighter where more pixels share it.
    </p>
    <p v-else class="dim" data-test="line">
      Row {{ row ?? 'in the middle' }}:
      <template v-if="lineRange"
        >{{ value(lineRange[0]) }} at the bottom, {{ value(lineRange[1]) }} at the top.</template
      ><template v-else>red, green and blue as displayed, 0 to 1.</template> It follows the pointer.
    </p>
  </section>
</template>

<style scoped>
canvas {
  width: 276px;
  height: 120px;
  background: var(--wall);
}
.axis {
  display: flex;
  position: relative;
  height: 16px;
}
.axis span {
  position: absolute;
}
.axis span:nth-child(2) {
  left: 31%;
  transform: translateX(-50%);
}
.axis span:nth-child(3) {
  left: 62.5%;
  transform: translateX(-50%);
}
.axis span:nth-child(4) {
  right: 0;
}
</style>
