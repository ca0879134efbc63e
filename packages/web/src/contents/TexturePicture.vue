<script setup lang="ts">
// A small picture of a texture, as it is displayed, with the UVs of an object drawn over it.
import { onMounted, ref, watch } from 'vue';
import { linearToSrgb } from '@dusting/core/color';
import { fromHalf } from '@dusting/core/formats';
import type { TextureRef } from '@dusting/core/scene';
import { pictureTools } from '../workers/index.ts';

const props = defineProps<{
  texture: Pick<TextureRef, 'name' | 'blob'> & Partial<Pick<TextureRef, 'encoding' | 'offset' | 'scale' | 'rotation'>>;
  size: number;
  /** Blob of a mesh, and its set of UVs. */
  mesh?: { blob: string; uvSet: number } | null;
}>();
const canvas = ref<HTMLCanvasElement>();
const fault = ref('');
let asked = 0;

async function draw() {
  const mine = ++asked;
  const { blob, name, encoding = 'srgb' } = props.texture;
  try {
    const small = await pictureTools().smallTexture(blob, name, encoding, props.size * 2);
    const lines = props.mesh ? await pictureTools().uvLines(props.mesh.blob, props.mesh.uvSet) : null;
    if (mine !== asked || !canvas.value) return;
    fault.value = '';
    canvas.value.width = small.width;
    canvas.value.height = small.height;
    const context = canvas.value.getContext('2d')!;
    const image = context.createImageData(small.width, small.height);
    for (let i = 0; i < small.width * small.height; i++)
      for (let k = 0; k < 4; k++)
        image.data[i * 4 + k] = k === 3 ? 255 : 255 * linearToSrgb(Math.min(1, Math.max(0, fromHalf(small.halves[i * 3 + k])))); // prettier-ignore
    context.putImageData(image, 0, 0);
    if (lines) drawLines(context, lines, small.width, small.height);
  } catch (error) {
    if (mine === asked) fault.value = (error as Error).message;
  }
}
/** As the texture is looked up: turned, scaled and shifted, then wrapped. */
function drawLines(context: CanvasRenderingContext2D, lines: Float32Array, width: number, height: number) {
  const { offset = [0, 0], scale = [1, 1], rotation = 0 } = props.texture;
  const [c, s] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  const place = (u: number, v: number) => {
    const [x, y] = [u * scale[0], v * scale[1]];
    return [(offset[0] + c * x + s * y) * width, (offset[1] - s * x + c * y) * height] as const;
  };
  context.lineWidth = 1;
  for (const [style, shift] of [
    ['rgb(0 0 0 / 70%)', 1],
    ['rgb(255 255 255 / 80%)', 0],
  ] as const) {
    context.strokeStyle = style;
    context.beginPath();
    for (let i = 0; i < lines.length; i += 4) {
      const [x0, y0] = place(lines[i], lines[i + 1]);
      const [x1, y1] = place(lines[i + 2], lines[i + 3]);
      context.moveTo(x0 + shift, y0 + shift);
      context.lineTo(x1 + shift, y1 + shift);
    }
    context.stroke();
  }
}
onMounted(draw);
watch(() => JSON.stringify([props.texture, props.mesh]), draw);
</script>

<template>
  <span class="texture">
    <canvas v-show="!fault" ref="canvas" :style="{ maxWidth: `${size}px`, maxHeight: `${size}px` }" />
    <span v-if="fault" class="fault" :title="fault">▲ {{ fault }}</span>
  </span>
</template>

<style scoped>
.texture {
  display: inline-flex;
}
canvas {
  image-rendering: pixelated;
}
</style>
