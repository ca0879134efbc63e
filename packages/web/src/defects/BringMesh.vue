<script setup lang="ts">
// What a frame cannot tell of displacement is computed from mesh and map: both become a shot of their own, which is opened.
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { useBench } from '../stores/bench.ts';
import { useShots } from '../stores/shots.ts';

const bench = useBench();
const shots = useShots();
const router = useRouter();
const input = ref<HTMLInputElement>();
const over = ref(false);
async function take(list: FileList | null | undefined) {
  over.value = false;
  if (!list?.length) return;
  const files = [...list];
  await shots.load();
  const wanted = `${bench.shot!.document.name}, mesh and map`;
  const names = new Set(shots.rows?.map(({ name }) => name));
  let name = wanted;
  for (let n = 2; names.has(name); n++) name = `${wanted} ${n}`;
  const added = await shots.add(files, name);
  input.value!.value = '';
  if (added) await router.push(`/shots/${added.id}`);
}
</script>

<template>
  <div
    class="bring"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="take($event.dataTransfer?.files)"
  >
    <button class="tool" :disabled="shots.importing !== null" @click="input?.click()">
      {{ shots.importing === null ? 'Bring in mesh and map' : shots.stage || 'Reading …' }}
    </button>
    <p class="dim">One mesh (.obj, .glb, .gltf) and its displacement map, chosen together or dropped here.</p>
    <input
      ref="input"
      type="file"
      hidden
      multiple
      accept=".obj,.glb,.gltf,.bin,.mtl,.png,.jpg,.jpeg,.tif,.tiff,.exr,.hdr"
      data-test="bring-mesh"
      @change="take(input!.files)"
    />
    <p v-if="shots.error" role="alert" class="fault" data-test="bring-mesh-fault">▲ {{ shots.error }}</p>
  </div>
</template>

<style scoped>
.bring {
  display: grid;
  gap: 6px;
  justify-items: start;
  padding: 10px;
  border: 1px dashed var(--line);
}
.over {
  border-color: var(--wax);
}
.fault {
  color: var(--wax);
}
</style>
