<script setup lang="ts">
// What stands under the pointer in the live preview: it carries no components and no errors.
import { computed } from 'vue';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import { useLook } from '../stores/look.ts';
import { usePreview } from '../stores/preview.ts';
import { value } from '../words.ts';

const props = defineProps<{ point: { x: number; y: number } | null }>();
const bench = useBench();
const contents = useContents();
const look = useLook();
const preview = usePreview();
const pixel = computed(() => {
  const frame = bench.proof?.settings ?? contents.document?.final;
  if (!props.point || !frame || !preview.report) return null;
  return preview.pixelAt((props.point.x + 0.5) / frame.width, (props.point.y + 0.5) / frame.height);
});
const display = computed(() => pixel.value && look.sent(pixel.value.values).map((v) => Math.round(255 * v)));
</script>

<template>
  <div class="readout" data-test="live-readout">
    <template v-if="pixel && point">
      <p class="line number">
        <span>{{ point.x }}, {{ point.y }}</span>
        <span>R {{ value(pixel.values[0]) }} G {{ value(pixel.values[1]) }} B {{ value(pixel.values[2]) }}</span>
        <span class="dim">shown {{ display?.join(' ') }}</span>
      </p>
      <p class="line">
        <span>{{ pixel.object ? contents.document?.objects[pixel.object]?.name : 'nothing: the background' }}</span>
        <span v-if="pixel.surface" class="dim">{{ contents.document?.surfaces[pixel.surface]?.name }}</span>
        <span class="dim">of the preview</span>
      </p>
    </template>
    <p v-else class="line dim">Point at a pixel to read the preview. Drag to render a region first.</p>
  </div>
</template>
