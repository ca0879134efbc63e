<script setup lang="ts">
// The beauty of a finished proof by itself, as the display is set.
import { onMounted, ref, watch } from 'vue';
import { api, type LayerPicture, type Proof } from '../api.ts';
import { createCanvasDrawer } from '../picture/canvasDrawer.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';

/** Wider frames are shown by their small pictures. */
const WHOLE_UP_TO = 1024;
/** Narrower ones show their pixels. */
const SHARP_UP_TO = 400;

const props = defineProps<{ proof: Proof }>();
const bench = useBench();
const look = useLook();
const canvas = ref<HTMLCanvasElement>();
let picture: LayerPicture | undefined;

async function paint() {
  const { id, settings } = props.proof;
  picture ??= await bench.load(() => (settings.width <= WHOLE_UP_TO ? api.layer(id, 'beauty') : api.thumb(id)));
  if (!picture || !canvas.value) return;
  const { width, height } = picture;
  Object.assign(canvas.value, { width, height });
  const view = { ...look.plain, centre: { x: width / 2, y: height / 2 }, scale: 1 };
  createCanvasDrawer(canvas.value).draw({ picture, window: { x: 0, y: 0, width, height } }, null, view);
}
onMounted(paint);
watch(() => look.display, paint);
defineExpose({ canvas });
</script>

<template>
  <canvas
    ref="canvas"
    :width="proof.region.width"
    :height="proof.region.height"
    :class="{ pixels: proof.region.width < SHARP_UP_TO }"
  />
</template>

<style scoped>
canvas {
  width: 100%;
  background: var(--wall);
}
.pixels {
  image-rendering: pixelated;
}
</style>
