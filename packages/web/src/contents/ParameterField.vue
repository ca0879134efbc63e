<script setup lang="ts">
// One parameter of what is selected: its value, unit and range; dragged by its name; back to what was imported, or to the
// default.
import { computed, ref } from 'vue';
import { parameterAt, valueWords } from '@dusting/core/scene';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import ColorField from './ColorField.vue';
import { defaultOf } from './defaults.ts';
import QuantityInput from './QuantityInput.vue';
import { draggedValue, followDrag } from './useDrag.ts';

/** Paths of the same value of everything that is selected. */
const props = defineProps<{
  keys: string[][];
  title?: string;
  /** What it does here, where the name alone does not say it. */
  role?: string;
}>();
const contents = useContents();
const slip = useSlip();
const fault = ref('');
const parameter = computed(() => parameterAt(props.keys[0], contents.document)!);
const id = computed(() => `field-${props.keys[0].join('-')}`);
const name = computed(() => props.title ?? parameter.value.title);
const values = computed(() => props.keys.map((keys) => contents.valueOf(keys)));
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const differ = computed(() => values.value.some((v) => !same(v, values.value[0])));
const value = computed(() => (differ.value ? null : values.value[0]));
const pending = computed(() => slip.lines.filter((line) => props.keys.some((k) => contents.pathOf(k) === line.path)));
const imported = computed(() => props.keys.map((keys) => contents.importedValue(keys)));
const standard = computed(() => defaultOf(props.keys[0]));
const isImported = computed(() => imported.value.every((v, i) => v === undefined || same(v, values.value[i])));
const words = (v: unknown) => `${valueWords(props.keys[0], v, contents.document!)} ${parameter.value.unit}`.trim();

const put = (next: unknown) => slip.setAll(props.keys.map((keys) => [contents.pathOf(keys), next]));
const hold = (next: unknown) => slip.hold(props.keys.map((keys) => [contents.pathOf(keys), next]));
const asImported = () => slip.setAll(props.keys.map((keys, i) => [contents.pathOf(keys), imported.value[i]]));
function drag(event: PointerEvent) {
  const start = value.value;
  if (typeof start !== 'number' || event.button !== 0) return;
  event.preventDefault();
  followDrag(event, (pixels) => hold(draggedValue(start, pixels, parameter.value)), slip.letGo);
}
const number = computed(() => value.value as number | null);
const color = computed(() => value.value as number[] | null);
const range = computed(() => `${words(parameter.value.minimum)} to ${words(parameter.value.maximum)}`);
const isNumber = computed(() => parameter.value.kind === 'number' || parameter.value.kind === 'whole');
</script>

<template>
  <div
    class="field"
    :class="[`of-${parameter.kind}`, { pending: pending.length > 0 }]"
    :data-test="`parameter-${keys[0].at(-1)}`"
  >
    <label
      :for="id"
      :class="{ draggable: isNumber && !differ }"
      :title="isNumber ? `${name}, ${range}: drag to change, with Shift finely` : name"
      @pointerdown="drag"
      >{{ name }}</label
    >
    <QuantityInput
      v-if="isNumber"
      :id="id"
      :value="number"
      :unit="parameter.unit"
      :minimum="parameter.minimum"
      :maximum="parameter.maximum"
      :whole="parameter.kind === 'whole'"
      @change="put"
      @fault="fault = $event"
    />
    <input
      v-else-if="parameter.kind === 'switch'"
      :id="id"
      type="checkbox"
      class="switch"
      :checked="value === true"
      :indeterminate="differ"
      @change="put(($event.target as HTMLInputElement).checked)"
    />
    <select
      v-else-if="parameter.kind === 'choice'"
      :id="id"
      class="entry choice"
      :value="value"
      @change="put(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="choice in parameter.choices" :key="choice">{{ choice }}</option>
    </select>
    <ColorField
      v-else-if="parameter.kind === 'color'"
      :id="id"
      :value="color"
      :most="parameter.maximum"
      class="color"
      @change="put"
      @hold="hold"
      @let-go="slip.letGo"
    />
    <span v-if="isNumber" class="dim unit" :title="range">{{ parameter.unit }}</span>
    <span class="back">
      <button
        v-if="!isImported"
        :title="`As imported: ${words(imported[0])}`"
        :aria-label="`${name} as imported`"
        @click="asImported"
      >
        ↺
      </button>
      <button
        v-if="standard !== undefined && !same(standard, value)"
        class="standard"
        :title="`Default: ${words(standard)}`"
        :aria-label="`${name} to its default`"
        @click="put(standard)"
      >
        ○
      </button>
    </span>
    <p v-if="role" class="dim role">{{ role }}</p>
    <p v-if="fault" class="fault" role="alert">▲ {{ fault }}</p>
    <p v-if="!fault && pending.length > 0 && parameter.kind !== 'color'" class="dim was">
      was {{ words(pending[0].old) }}
    </p>
  </div>
</template>

<style scoped>
.field {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 72px 40px 30px;
  gap: 0 6px;
  align-items: center;
  min-height: 29px;
}
label {
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.draggable {
  cursor: ew-resize;
  touch-action: none;
  user-select: none;
}
.pending label {
  font-weight: 650;
  border-left: 3px solid var(--wax);
  padding-left: 5px;
  margin-left: -3px;
}
/* its sheet opens below */
.field.of-color {
  align-items: start;
}
.of-color label,
.of-color .back {
  padding-top: 4px;
}
.field.of-switch {
  grid-template-columns: minmax(0, 1fr) 24px 0 34px;
}
input.switch {
  justify-self: end;
}
.choice,
.color {
  grid-column: 2 / 4;
}
.choice {
  font-size: 12.5px;
}

.unit {
  font-size: 11.5px;
  line-height: 1.1;
}
.back {
  grid-column: 4;
  display: flex;
}
.back button {
  width: 15px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--dim);
  font: inherit;
  cursor: pointer;
}
.standard {
  opacity: 0;
}
.field:hover .standard,
.standard:focus-visible {
  opacity: 1;
}
.role {
  grid-column: 1 / 5;
  font-size: 11.5px;
  line-height: 1.2;
  margin-top: -3px;
}
.fault,
.was {
  grid-column: 1 / 5;
  font-size: 12px;
  text-align: right;
  padding-right: 40px;
}
</style>
