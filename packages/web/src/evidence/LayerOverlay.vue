<script setup lang="ts">
// A layer that lies over the picture, pixel on pixel.
import { ref, watch } from 'vue';

const props = defineProps<{ image: ImageData }>();
const canvas = ref<HTMLCanvasElement>();
watch(
  [() => props.image, canvas],
  () => {
    const { image } = props;
    if (!canvas.value) return;
    if (canvas.value.width !== image.width || canvas.value.height !== image.height)
      Object.assign(canvas.value, { width: image.width, height: image.height });
    canvas.value.getContext('2d')!.putImageData(image, 0, 0);
  },
  { flush: 'post' },
);
</script>

<template>
  <canvas ref="canvas" data-test="layer-on-picture" />
</template>

<style scoped>
canvas {
  image-rendering: pixelated;
}
</style>
