<script setup lang="ts">
// Takes in a picture from a file. What cannot be read is said here, and nothing changes.
import { ref } from 'vue';
import { api, type TakenPicture } from '../api.ts';

defineProps<{ label: string; testId: string }>();
const emit = defineEmits<{ taken: [picture: TakenPicture] }>();
const input = ref<HTMLInputElement>();
const busy = ref(false);
const fault = ref('');
async function take() {
  const file = input.value!.files?.[0];
  if (!file) return;
  busy.value = true;
  fault.value = '';
  try {
    emit('taken', await api.takePicture(file));
  } catch (error) {
    fault.value = (error as Error).message;
  }
  busy.value = false;
  input.value!.value = '';
}
</script>

<template>
  <button class="tool" :disabled="busy" @click="input?.click()">{{ busy ? 'Reading …' : label }}</button>
  <input
    ref="input"
    type="file"
    hidden
    accept=".png,.jpg,.jpeg,.tif,.tiff,.exr,.hdr"
    :data-test="testId"
    @change="take"
  />
  <p v-if="fault" role="alert" class="fault" :data-test="`${testId}-fault`">▲ {{ fault }}</p>
</template>

<style scoped>
.fault {
  color: var(--wax);
  font-size: 12.5px;
  flex-basis: 100%;
}
</style>
