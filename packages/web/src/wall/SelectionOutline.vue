<script setup lang="ts">
// The selected objects as they are seen in the picture: a line about their pixels.
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import { fromHalf } from '@dusting/core/formats';
import type { Region } from '@dusting/core/image';
import { api } from '../api.ts';
import { outline } from '../picture/outline.ts';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import { useLook } from '../stores/look.ts';
import { usePreview } from '../stores/preview.ts';

const ID_LAYER = 'object';

const props = defineProps<{ frame: Region }>();
const bench = useBench();
const contents = useContents();
const look = useLook();
const preview = usePreview();
const canvas = ref<HTMLCanvasElement>();

/** Number + 1 of the object at each pixel, as the proof carries it. */
const proofIds = shallowRef<{ proof: number; width: number; height: number; numbers: Uint32Array } | null>(null);
const wantsProof = computed(() =>
  !preview.on && contents.selectedObjects.size > 0 && bench.proof?.state === 'done' ? bench.proofId : null,
);
watch(
  wantsProof,
  async (proof) => {
    if (proof === null || proofIds.value?.proof === proof || !bench.layers.some((l) => l.name === ID_LAYER)) return;
    const layer = await bench.load(() => api.layer(proof, ID_LAYER));
    if (!layer || proof !== bench.proofId) return;
    const { width, height, halves } = layer;
    proofIds.value = { proof, width, height, numbers: Uint32Array.from(halves, fromHalf) };
  },
  { immediate: true },
);

const lines = computed(() => {
  const chosen = contents.selectedObjects;
  if (chosen.size === 0) return null;
  const { report } = preview;
  const own = proofIds.value;
  const numbersOf = (ids: string[]) => new Set(ids.flatMap((id, i) => (chosen.has(id) ? [i + 1] : [])));
  if (preview.on) {
    if (!report) return null;
    const { width, height, objects } = report.picture;
    const numbers = numbersOf(report.objectIds);
    return outline(width, height, (i) => numbers.has(objects[i]), props.frame);
  }
  if (!own || own.proof !== bench.proofId || !bench.proof) return null;
  const numbers = numbersOf(Object.keys(bench.shot!.document.objects));
  return outline(own.width, own.height, (i) => numbers.has(own.numbers[i]), bench.proof.region);
});

function draw() {
  const { width, height } = look.canvas;
  if (!canvas.value) return;
  canvas.value.width = width;
  canvas.value.height = height;
  const context = canvas.value.getContext('2d')!;
  const drawn = lines.value;
  if (!drawn || look.mode === 'side') return;
  const x = (v: number) => (v - look.centre.x) * look.scale + width / 2;
  const y = (v: number) => (v - look.centre.y) * look.scale + height / 2;
  for (const [style, wide] of [
    ['rgb(0 0 0 / 60%)', 3],
    ['#d8b25e', 1.5],
  ] as const) {
    context.strokeStyle = style;
    context.lineWidth = wide;
    context.beginPath();
    for (let i = 0; i < drawn.length; i += 4) {
      context.moveTo(x(drawn[i]), y(drawn[i + 1]));
      context.lineTo(x(drawn[i + 2]), y(drawn[i + 3]));
    }
    context.stroke();
  }
}
onMounted(draw);
watch([lines, () => look.centre, () => look.scale, () => look.canvas, () => look.mode], draw, { flush: 'post' });
</script>

<template>
  <canvas ref="canvas" class="outline" data-test="selection-outline" :data-lines="lines ? lines.length / 4 : 0" />
</template>

<style scoped>
.outline {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
</style>
