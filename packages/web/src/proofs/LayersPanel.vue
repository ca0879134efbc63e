<script setup lang="ts">
// What the layers of a frame are that another renderer wrote, and whether its parts of the light add up.
import { computed, ref, watch } from 'vue';
import Button from 'primevue/button';
import Select from 'primevue/select';
import {
  LAYER_ROLES,
  sourceName,
  SUM_GAP,
  type LayerMapping,
  type SourceLayer,
  type SumCheck,
} from '@dusting/core/frames';
import { api } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { ROLE_NAMES, value } from '../words.ts';
import { giveKeysBack } from '../parts/giveKeysBack.ts';

const bench = useBench();
const edits = useEdits();
const layers = ref<SourceLayer[]>([]);
const sum = ref<SumCheck | null>(null);
const chosen = ref<LayerMapping>({});
const roles = LAYER_ROLES.map((id) => ({ id, label: ROLE_NAMES[id] }));

async function load() {
  const id = bench.proofId;
  if (id === null) return void (layers.value = []);
  const found = await bench.load(() => api.sources(id));
  if (!found || bench.proofId !== id) return;
  layers.value = found.layers;
  sum.value = found.sum;
  const { mapping } = bench.shot!;
  chosen.value = Object.fromEntries(found.layers.map(({ name }) => [name, mapping?.[name] ?? 'data']));
}
watch([() => bench.proofId, () => JSON.stringify(bench.shot?.mapping)], load, { immediate: true });

const changed = computed(() => layers.value.some(({ name }) => chosen.value[name] !== bench.shot?.mapping?.[name]));
const percent = (share: number) =>
  share > 0 && share < 0.001 ? 'under 0.1' : (100 * share).toFixed(share < 0.1 ? 1 : 0);
/** What the check found, in a sentence. */
const sentence = computed(() => {
  const s = sum.value;
  if (!s) return 'There is no part of the light among these layers: nothing to add up.';
  const parts = s.parts.length === 1 ? 'One part' : `${s.parts.length} parts`;
  if (s.off === 0)
    return `${parts} of the light: ${s.parts.length === 1 ? 'it makes' : 'they add up to'} the beauty picture, to 1 % at every pixel.`;
  const way = s.gap >= 0 ? 'is missing from the components' : 'is more in the components than in the beauty';
  return `${parts} of the light ${s.parts.length === 1 ? 'does' : 'do'} not add up: ${percent(s.off)} % of the pixels are off by more than 1 %. In the mean ${percent(Math.abs(s.gap) / (s.beauty || 1))} % of the light ${way}.`;
});
/** The gap as a picture, with a region about the worst pixel. */
function showWorst() {
  const { width, height } = bench.proof!.settings;
  const { x, y } = sum.value!.worst;
  const [left, top] = [Math.max(0, x - 12), Math.max(0, y - 12)];
  bench.layer = SUM_GAP;
  bench.region = { x: left, y: top, width: Math.min(25, width - left), height: Math.min(25, height - top) };
}
</script>

<template>
  <section class="panel">
    <p v-if="layers.length === 0" class="dim">No frame is shown. Add frames, or choose one from the shelf.</p>
    <template v-else>
      <p data-test="sum">{{ sentence }}</p>
      <p v-if="sum && sum.off > 0" class="worst">
        <span
          >Largest at {{ sum.worst.x }}, {{ sum.worst.y }}: <span class="number">{{ value(sum.worst.gap) }}</span></span
        >
        <Button label="Show it" size="small" text severity="secondary" data-test="show-worst" @click="showWorst" />
      </p>
      <h2>What the layers are</h2>
      <p class="dim">Known by their names. What you correct is kept for later frames with the same names.</p>
      <div v-for="l in layers" :key="l.name" class="row">
        <span class="name" :title="`${sourceName(l.name)}: ${l.channels.join(' ')}`"
          >{{ sourceName(l.name) }}<br /><span class="dim channels">{{ l.channels.join(' ') }}</span></span
        >
        <Select
          v-model="chosen[l.name]"
          :options="roles"
          option-label="label"
          option-value="id"
          size="small"
          :aria-label="`What ${sourceName(l.name)} is`"
          :data-test="`role-${l.name || 'main'}`"
          @hide="giveKeysBack"
        />
      </div>
      <div class="acts">
        <Button label="Keep this" :disabled="!changed" data-test="keep-mapping" @click="edits.saveMapping(chosen)" />
        <Button v-if="changed" label="As it was" severity="secondary" text @click="load" />
      </div>
    </template>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 148px;
  gap: 8px;
  align-items: center;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  line-height: 1.25;
}
.channels {
  font-size: 12px;
}
.worst {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
