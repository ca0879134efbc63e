<script setup lang="ts">
// Pictures side by side, as the display is set.
import { ref, watch, onMounted } from 'vue';
import { fromBase64, type PicturesEvidence } from '@dusting/core/diagnose';
import { createCanvasDrawer } from '../picture/canvasDrawer.ts';
import type { View } from '../picture/view.ts';

const props = defineProps<{ evidence: PicturesEvidence; large: boolean; view: Omit<View, 'centre' | 'scale'> }>();
const canvases = ref<HTMLCanvasElement[]>([]);

function paint() {
  props.evidence.pictures.forEach(({ halves, height, width }, i) => {
    const canvas = canvases.value[i];
    if (!canvas) return;
    Object.assign(canvas, { width, height });
    const bytes = fromBase64(halves);
    const picture = { width, height, channels: ['R', 'G', 'B'], halves: new Uint16Array(bytes.buffer) };
    const view = { ...props.view, centre: { x: width / 2, y: height / 2 }, scale: 1 };
    createCanvasDrawer(canvas).draw({ picture, window: { x: 0, y: 0, width, height } }, null, view);
  });
}
onMounted(paint);
watch(() => [props.evidence, props.view], paint);
</script>

<template>
  <div class="pictures" :class="{ large }">
    <figure v-for="(p, i) in evidence.pictures" :key="i">
      <canvas ref="canvases" :aria-label="p.label" role="img" :width="p.width" :height="p.height" />
      <figcaption>{{ p.label }}</figcaption>
    </figure>
  </div>
</template>

<style scoped>
.pictures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 6px;
}
.large {
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
}
figure {
  margin: 0;
}
canvas {
  width: 100%;
  image-rendering: pixelated;
  background: var(--wall);
}
figcaption {
  color: var(--dim);
  font-size: 12px;
}
</style>
