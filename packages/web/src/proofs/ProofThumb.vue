<script setup lang="ts">
import { onMounted, ref, watch } from 'vue';
import { fromHalf } from '@dusting/core/formats';
import { linearToSrgb } from '@dusting/core/color';
import { api, type ProofRow } from '../api.ts';

const props = withDefaults(defineProps<{ proof: ProofRow; width?: number; height?: number }>(), {
  width: 108,
  height: 61,
});
const canvas = ref<HTMLCanvasElement>();

async function draw() {
  const { width, height, channels, halves } = await api
    .thumb(props.proof.id)
    .catch(() => ({ width: 0, height: 0, channels: [], halves: new Uint16Array() }));
  if (width === 0 || !canvas.value) return;
  const context = canvas.value.getContext('2d')!;
  const scale = Math.max(width / props.width, height / props.height);
  const [w, h] = [Math.max(1, Math.round(width / scale)), Math.max(1, Math.round(height / scale))];
  const image = context.createImageData(w, h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const at =
        (Math.min(height - 1, Math.floor(y * scale)) * width + Math.min(width - 1, Math.floor(x * scale))) *
        channels.length;
      for (let k = 0; k < 3; k++)
        image.data[(y * w + x) * 4 + k] = 255 * linearToSrgb(Math.min(1, Math.max(0, fromHalf(halves[at + k]))));
      image.data[(y * w + x) * 4 + 3] = 255;
    }
  context.putImageData(image, (props.width - w) >> 1, (props.height - h) >> 1);
}
onMounted(draw);
// its first look is written down when there is one
watch(() => [props.proof.state, props.proof.log.length], draw);
</script>

<template>
  <canvas ref="canvas" :width="width" :height="height" />
</template>

<style scoped>
canvas {
  background: var(--wall);
  flex: none;
}
</style>
