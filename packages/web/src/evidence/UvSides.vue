<script setup lang="ts">
// Both sides of a seam side by side, as the map has them, in the same colours.
import { computed, onMounted, ref, watch } from 'vue';
import { formatNumber, type Unit, type UvSeam } from '@dusting/core/diagnose';
import { halfPlane } from './halfPlane.ts';
import { paintPlane, shownRange } from './uvPaint.ts';

const props = defineProps<{ seam: UvSeam; unit: Unit; borders: Float32Array }>();
/** Pixels of the canvas for a texel. */
const TEXEL = 5;
const canvases = ref<HTMLCanvasElement[]>([]);
const planes = computed(() => props.seam.sides.map(({ halves }) => halfPlane(halves)));
const range = computed(() => shownRange(Float32Array.from(planes.value.flatMap((plane) => [...plane]))));

function draw() {
  props.seam.sides.forEach(({ side, texel, u, v }, i) => {
    const context = canvases.value[i]?.getContext('2d');
    if (!context) return;
    context.imageSmoothingEnabled = false;
    const wide = side * TEXEL;
    context.drawImage(paintPlane(planes.value[i], side, undefined, range.value), 0, 0, wide, wide);
    const x = (at: number) => ((at - u) / texel[0] + side / 2) * TEXEL;
    const y = (at: number) => ((at - v) / texel[1] + side / 2) * TEXEL;
    for (const [style, width] of [
      ['rgb(0 0 0 / 70%)', 4],
      ['#f4f4f4', 1.5],
    ] as const) {
      context.strokeStyle = style;
      context.lineWidth = width;
      context.beginPath();
      for (let e = 0; e < props.borders.length; e += 4) {
        context.moveTo(x(props.borders[e]), y(props.borders[e + 1]));
        context.lineTo(x(props.borders[e + 2]), y(props.borders[e + 3]));
      }
      context.stroke();
    }
    context.strokeStyle = '#f0b429';
    context.lineWidth = 2;
    context.beginPath();
    context.arc(wide / 2, wide / 2, 7, 0, 2 * Math.PI);
    context.stroke();
  });
}
onMounted(draw);
watch(() => props.seam, draw, { flush: 'post' });
</script>

<template>
  <div class="sides" data-test="uv-sides">
    <figure v-for="(s, i) in seam.sides" :key="i">
      <canvas
        ref="canvases"
        :width="s.side * TEXEL"
        :height="s.side * TEXEL"
        role="img"
        :aria-label="`Side ${i + 1}`"
      />
      <figcaption class="number">
        {{ formatNumber(s.value, unit) }}
        <span class="dim">at U {{ s.u.toFixed(3) }} V {{ (1 - s.v).toFixed(3) }}</span>
      </figcaption>
    </figure>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
figure {
  margin: 0;
}
canvas {
  width: 100%;
  background: #1b1b1b;
}
</style>
