<script setup lang="ts">
// Of a light: alone and off, the softness of its shadows, and which objects it lights.
import { computed, ref } from 'vue';
import { lightSize, penumbra } from '@dusting/core/scene';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import { shortNumber } from './quantity.ts';
import LightSwitches from './LightSwitches.vue';

/** How far behind an edge the penumbra is told for, metres. */
const BEHIND = 0.1;

const props = defineProps<{ id: string }>();
const contents = useContents();
const slip = useSlip();
const light = computed(() => contents.document!.lights[props.id]);
/** Metres from the light to what the camera is nearest to among the objects: the mean place of them. */
const distance = computed(() => {
  const places = Object.values(contents.document!.objects).map(({ transform }) => [3, 7, 11].map((k) => transform[k]));
  const middle = [0, 1, 2].map((k) => places.reduce((sum, place) => sum + place[k], 0) / Math.max(1, places.length));
  return Math.hypot(...[3, 7, 11].map((k, i) => light.value.transform[k] - middle[i]));
});
const softness = computed(() => {
  if (light.value.kind !== 'sun' && lightSize(light.value) === 0)
    return 'It has no size: the edges of its shadows are hard.';
  const width = penumbra(light.value, Math.max(1e-6, distance.value - BEHIND), BEHIND);
  const size = width < 0.01 ? `${shortNumber(width * 1000)} mm` : `${shortNumber(width)} m`;
  const from = light.value.kind === 'sun' ? '' : `, ${shortNumber(distance.value)} m from it`;
  return `Penumbra ${size} wide, ${BEHIND * 1000} mm behind an edge${from}; computed.`;
});

const choosing = ref(false);
const search = ref('');
const linked = computed(() => light.value.linked);
const objects = computed(() => {
  const all = Object.entries(contents.document!.objects).map(([id, { name }]) => ({ id, name }));
  const gone = (linked.value ?? []).filter((id) => !(id in contents.document!.objects)).map((id) => ({ id, name: `${id}, which is gone` })); // prettier-ignore
  const words = search.value.trim().toLowerCase();
  return [...gone, ...all].filter(({ name }) => name.toLowerCase().includes(words));
});
const put = (ids: string[] | null) => slip.set(`/lights/${props.id}/linked`, ids);
function toggle(id: string) {
  const now = linked.value ?? Object.keys(contents.document!.objects);
  const next = now.includes(id) ? now.filter((l) => l !== id) : [...now, id];
  void put(next.length === Object.keys(contents.document!.objects).length ? null : next);
}
</script>

<template>
  <div class="line">
    <span class="dim">{{ light.kind }} light, group “{{ light.group }}”</span>
    <LightSwitches :id="id" />
  </div>
  <p class="soft" data-test="penumbra">{{ softness }}</p>
  <div class="line">
    <span>
      Lights
      {{
        linked === null
          ? 'all objects'
          : `${linked.length} of ${Object.keys(contents.document!.objects).length} objects`
      }}
    </span>
    <button class="tool" :aria-expanded="choosing" data-test="choose-linked" @click="choosing = !choosing">
      {{ choosing ? 'Done' : 'Choose …' }}
    </button>
  </div>
  <div v-if="choosing" class="objects">
    <div class="line">
      <input class="entry" v-model="search" type="search" placeholder="Search" aria-label="Search the objects" />
      <button class="tool" @click="put(null)">all</button>
      <button class="tool" @click="put([])">none</button>
    </div>
    <label v-for="o in objects" :key="o.id">
      <input type="checkbox" :checked="linked?.includes(o.id) ?? true" @change="toggle(o.id)" /> {{ o.name }}
    </label>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 6px;
  margin-right: -12px;
  padding-right: 12px;
}
.line :deep(.switches) {
  padding: 0;
}
.soft {
  font-size: 12.5px;
  color: var(--dim);
}
.objects {
  max-height: 220px;
  overflow-y: auto;
  background: #424242;
  padding: 6px 8px;
  display: flex;
  flex-direction: column;
  gap: 3px;
}
.objects input[type='search'] {
  flex: 1;
}
</style>
