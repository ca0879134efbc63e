<script setup lang="ts">
// The settings of one use, with the pending values in their places.
import { computed, ref } from 'vue';
import Select from 'primevue/select';
import { RenderSettings } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import QuantityInput from '../contents/QuantityInput.vue';

const bench = useBench();
const slip = useSlip();
type Field = { path: string; title: string; unit?: string } & (
  | { kind: 'number'; minimum: number; maximum: number; whole: boolean }
  | { kind: 'choice'; options: { value: string | boolean; label: string }[] }
);
type Schema = { title?: string; unit?: string; minimum?: number; maximum?: number; type?: string; anyOf?: unknown[] };
const properties = RenderSettings.properties;
function field(path: string, schema: Schema): Field {
  const common = { path, title: schema.title ?? path, unit: schema.unit };
  if (schema.anyOf) {
    const values = (schema.anyOf as { const: string }[]).map((option) => option.const);
    return { ...common, kind: 'choice', options: values.map((value) => ({ value, label: value })) };
  }
  if (schema.type === 'boolean')
    return { ...common, kind: 'choice', options: [true, false].map((value) => ({ value, label: value ? 'yes' : 'no' })) }; // prettier-ignore
  const { minimum = 0, maximum = 1e6 } = schema;
  return { ...common, kind: 'number', minimum, maximum, whole: schema.type === 'integer' };
}
const fieldsOf = (group: 'depth' | 'clamp' | 'filter' | 'adaptive' | 'occlusion') =>
  Object.entries(properties[group].properties).map(([k, s]) => field(`${group}/${k}`, s as Schema));
const GROUPS: { title: string; fields: Field[] }[] = [
  {
    title: 'Samples',
    fields: (
      [
        'pixelSamples',
        'diffuseSamples',
        'specularSamples',
        'transmissionSamples',
        'volumeSamples',
        'lightSamples',
      ] as const
    ).map((k) => field(k, properties[k])),
  },
  { title: 'Depth limits', fields: fieldsOf('depth') },
  { title: 'Clamps', fields: fieldsOf('clamp') },
  { title: 'Adaptive sampling', fields: fieldsOf('adaptive') },
  {
    title: 'Rays',
    fields: (['clearShadows', 'roughnessFloor', 'rayDistance'] as const).map((k) => field(k, properties[k] as Schema)),
  },
  { title: 'Occlusion layer', fields: fieldsOf('occlusion') },
  {
    title: 'Picture',
    fields: [
      field('width', properties.width),
      field('height', properties.height),
      ...fieldsOf('filter'),
      field('seed', properties.seed),
    ],
  },
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
