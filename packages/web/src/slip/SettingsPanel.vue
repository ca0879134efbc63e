<script setup lang="ts">
// The settings of one use, with the pending values in their places.
import { computed, ref } from 'vue';
import Select from 'primevue/select';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import QuantityInput from '../contents/QuantityInput.vue';
import { settingFields, type SettingField } from './settingFields.ts';

const bench = useBench();
const slip = useSlip();
const GROUPS: { title: string; fields: SettingField[] }[] = [
  {
    title: 'Samples',
    fields: settingFields('pixelSamples', 'diffuseSamples', 'specularSamples', 'transmissionSamples', 'volumeSamples', 'lightSamples'), // prettier-ignore
  },
  { title: 'Depth limits', fields: settingFields('depth') },
  { title: 'Clamps', fields: settingFields('clamp') },
  { title: 'Adaptive sampling', fields: settingFields('adaptive') },
  { title: 'Rays', fields: settingFields('clearShadows', 'roughnessFloor', 'rayDistance', 'outlierGroups') },
  { title: 'Occlusion layer', fields: settingFields('occlusion', 'clay') },
  { title: 'Picture', fields: settingFields('width', 'height', 'filter', 'seed') },
];
/** Why what was typed cannot be, by the path. */
const faults = ref<Record<string, string>>({});
const present = computed(() => (bench.shot ? slip.settings(bench.use) : null));
const lookUp = (path: string) =>
  path.split('/').reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], present.value) as number;
const pending = (path: string) => slip.lines.find((l) => l.path === `/${bench.use}/${path}`);
</script>

<template>
  <section v-if="present" class="panel">
    <div v-for="group in GROUPS" :key="group.title">
      <h3>{{ group.title }}</h3>
      <div v-for="f in group.fields" :key="f.path" class="row" :class="{ pending: pending(f.path) }">
        <label :for="`set-${f.path}`">{{ f.title }}</label>
        <Select
          v-if="f.kind === 'choice'"
          class="choice"
          :input-id="`set-${f.path}`"
          :model-value="lookUp(f.path)"
          :options="f.options"
          option-label="label"
          option-value="value"
          size="small"
          @update:model-value="slip.set(`/${bench.use}/${f.path}`, $event)"
        />
        <QuantityInput
          v-else
          :id="`set-${f.path}`"
          :value="lookUp(f.path)"
          :minimum="f.minimum"
          :maximum="f.maximum"
          :whole="f.whole"
          :unit="f.unit?.split(',')[0] ?? ''"
          @fault="faults[f.path] = $event"
          @change="slip.set(`/${bench.use}/${f.path}`, $event)"
        />
        <span v-if="f.kind === 'number' || pending(f.path)" class="dim unit">{{
          pending(f.path) ? `was ${pending(f.path)!.old}` : f.unit?.split(',')[0]
        }}</span>
        <p v-if="f.kind === 'number' && faults[f.path]" class="fault" role="alert">▲ {{ faults[f.path] }}</p>
      </div>
    </div>
  </section>
</template>

<style scoped>
h3 {
  font-weight: 650;
  padding-bottom: 2px;
  border-bottom: 1px solid var(--line);
}
.row {
  display: grid;
  grid-template-columns: 1fr 72px 64px;
  gap: 8px;
  align-items: center;
  min-height: 31px;
}
.pending label {
  font-weight: 650;
  margin-left: -3px;
  border-left: 3px solid var(--wax);
  padding-left: 5px;
  white-space: nowrap;
}
.fault {
  grid-column: 1 / 4;
  text-align: right;
}
.choice {
  grid-column: 2 / 4;
}
.unit {
  font-size: 12px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
</style>
