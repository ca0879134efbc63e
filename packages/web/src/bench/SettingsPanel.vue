<script setup lang="ts">
// The settings of one use, with the pending values in their places.
import { computed } from 'vue';
import Select from 'primevue/select';
import { RenderSettings, type SettingsUse } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';

const bench = useBench();
const slip = useSlip();
type Field = { path: string; title: string; unit?: string; minimum: number; maximum: number; whole: boolean };
const properties = RenderSettings.properties;
const field = (
  path: string,
  schema: { title?: string; unit?: string; minimum?: number; maximum?: number; type: string },
): Field => ({
  path,
  title: schema.title ?? path,
  unit: schema.unit,
  minimum: schema.minimum ?? 0,
  maximum: schema.maximum ?? 1e6,
  whole: schema.type === 'integer',
});
const GROUPS: { title: string; fields: Field[] }[] = [
  {
    title: 'Samples',
    fields: (['pixelSamples', 'diffuseSamples', 'specularSamples', 'transmissionSamples', 'lightSamples'] as const).map(
      (k) => field(k, properties[k]),
    ),
  },
  {
    title: 'Depth limits',
    fields: Object.entries(properties.depth.properties).map(([k, s]) => field(`depth/${k}`, s)),
  },
  { title: 'Clamps', fields: Object.entries(properties.clamp.properties).map(([k, s]) => field(`clamp/${k}`, s)) },
  {
    title: 'Picture',
    fields: [
      field('width', properties.width),
      field('height', properties.height),
      field('filter/width', properties.filter.properties.width),
      field('seed', properties.seed),
    ],
  },
];
const present = computed(() => (bench.shot ? slip.settings(bench.use) : null));
const lookUp = (path: string) =>
  path.split('/').reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], present.value) as number;
const pending = (path: string) => slip.lines.find((l) => l.path === `/${bench.use}/${path}`);
const USES: { value: SettingsUse; label: string }[] = [
  { value: 'final', label: 'final settings' },
  { value: 'preview', label: 'preview settings' },
];
/** What was typed or stepped, within the range; anything else leaves the present value. */
function set(f: Field, input: HTMLInputElement) {
  const typed = input.valueAsNumber;
  const value = Number.isFinite(typed)
    ? Math.min(f.maximum, Math.max(f.minimum, f.whole ? Math.round(typed) : typed))
    : lookUp(f.path);
  input.value = String(value);
  if (value !== lookUp(f.path)) void slip.set(`/${bench.use}/${f.path}`, value);
}
</script>

<template>
  <section v-if="present">
    <Select v-model="bench.use" :options="USES" option-label="label" option-value="value" aria-label="Which settings" />
    <div v-for="group in GROUPS" :key="group.title">
      <h3>{{ group.title }}</h3>
      <div v-for="f in group.fields" :key="f.path" class="row" :class="{ pending: pending(f.path) }">
        <label :for="`set-${f.path}`">{{ f.title }}</label>
        <input
          :id="`set-${f.path}`"
          type="number"
          class="number"
          :value="lookUp(f.path)"
          :min="f.minimum"
          :max="f.maximum"
          :step="f.whole ? 1 : 'any'"
          @change="set(f, $event.target as HTMLInputElement)"
        />
        <span class="dim unit">{{ pending(f.path) ? `was ${pending(f.path)!.old}` : f.unit?.split(',')[0] }}</span>
      </div>
    </div>
  </section>
</template>

<style scoped>
section {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
h3 {
  font-weight: 650;
  padding-bottom: 2px;
  border-bottom: 1px solid var(--line);
}
.row {
  display: grid;
  grid-template-columns: 1fr 62px 64px;
  gap: 8px;
  align-items: center;
  min-height: 31px;
}
input {
  width: 62px;
  height: 26px;
  padding: 0 6px;
  text-align: right;
  background: var(--wall);
  border: 1px solid #5e5e5e;
  color: var(--text);
  appearance: textfield;
}
input:focus {
  border-color: var(--wax);
  outline: none;
}
.pending label {
  font-weight: 650;
  margin-left: -3px;
  border-left: 3px solid var(--wax);
  padding-left: 5px;
  white-space: nowrap;
}
.unit {
  font-size: 12px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
</style>
