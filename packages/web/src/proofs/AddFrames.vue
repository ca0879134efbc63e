<script setup lang="ts">
// Brings more frames into a shot that came as frames.
import { ref } from 'vue';
import Button from 'primevue/button';
import { FRAME_FILES } from '../words.ts';
import { useBench } from '../stores/bench.ts';

const bench = useBench();
const input = ref<HTMLInputElement>();
const busy = ref(false);
async function take(list: FileList | null) {
  if (!list?.length) return;
  busy.value = true;
  await bench.addFrames([...list]);
  busy.value = false;
  input.value!.value = '';
}
</script>

<template>
  <Button
    v-tooltip.bottom="
      'EXR, PNG, HDR, TIFF or JPEG, with their log if there is one. Files of one number make one frame.'
    "
    :label="busy ? 'Reading …' : 'Add frames'"
    :loading="busy"
    :disabled="!bench.shot"
    @click="input?.click()"
  />
  <input
    ref="input"
    type="file"
    multiple
    hidden
    data-test="more-frames"
    :accept="FRAME_FILES"
    @change="take(($event.target as HTMLInputElement).files)"
  />
</template>
