<script setup lang="ts">
// Where something stands and how it is turned.
import { computed, ref } from 'vue';
import { invertAffine, multiplyAffine, placementOf, transformFrom, type Placement } from '@dusting/core/math';
import type { Parameter } from '@dusting/core/scene';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import QuantityInput from './QuantityInput.vue';
import { draggedValue, followDrag } from './useDrag.ts';

/** Path to the content, which has a transform; whether its size may be changed. */
const props = defineProps<{ keys: string[]; size: boolean }>();
const contents = useContents();
const slip = useSlip();
const fault = ref('');
const keys = computed(() => [...props.keys, 'transform']);
const transform = computed(() => contents.valueOf(keys.value) as number[]);
const placement = computed(() => placementOf(transform.value));
const imported = computed(() => contents.importedValue(keys.value) as number[] | undefined);
const isImported = computed(
  () => !imported.value || JSON.stringify(imported.value) === JSON.stringify(transform.value),
);

type Field = { name: string; unit: string; least: number; most: number; get(p: Placement): number; set(p: Placement, v: number): Placement }; // prettier-ignore
const axis = (name: string, k: number): Field => ({
  name,
  unit: 'm',
  least: -1e9,
  most: 1e9,
  get: (p) => p.position[k],
  set: (p, v) => ({ ...p, position: p.position.map((old, i) => (i === k ? v : old)) as Placement['position'] }),
});
const turn = (name: 'heading' | 'pitch' | 'roll', most: number): Field => ({
  name,
  unit: 'deg',
  least: -most,
  most,
  get: (p) => p[name],
  set: (p, v) => ({ ...p, [name]: v }),
});
const SIZE: Field = {
  name: 'size',
  unit: '×',
  least: 1e-6,
  most: 1e6,
  get: (p) => Math.cbrt(Math.abs(p.scale[0] * p.scale[1] * p.scale[2])),
  set: (p, v) => {
    const factor = v / SIZE.get(p);
    return { ...p, scale: p.scale.map((s) => s * factor) as Placement['scale'] };
  },
};
const fields = computed(() => [
  axis('x', 0),
  axis('y, up', 1),
  axis('z', 2),
  turn('heading', 360),
  turn('pitch', 90),
  turn('roll', 360),
  ...(props.size ? [SIZE] : []),
]);

/** The transform, and those of later times, moved along with it. */
function linesOf(next: number[], from: number[]): [string, unknown][] {
  const later = (contents.valueOf([...props.keys, 'laterTransforms']) ?? []) as number[][];
  const clean = (values: number[]) => values.map((v) => Number(v.toPrecision(9)));
  const lines: [string, unknown][] = [[contents.pathOf(keys.value), clean(next)]];
  if (later.length > 0) {
    const change = multiplyAffine(next, invertAffine(from));
    lines.push([
      contents.pathOf([...props.keys, 'laterTransforms']),
      later.map((l) => clean(multiplyAffine(change, l))),
    ]);
  }
  return lines;
}
const put = (field: Field, value: number) =>
  slip.setAll(linesOf(transformFrom(field.set(placement.value, value)), transform.value));
function drag(field: Field, event: PointerEvent) {
  if (event.button !== 0) return;
  event.preventDefault();
  const start = placement.value;
  const from = transform.value;
  const range: Parameter = { title: '', kind: 'number', unit: field.unit, minimum: field.least, maximum: field.most, choices: [] }; // prettier-ignore
  const move = (pixels: number) =>
    // lengths by millimetres a pixel: what stands near the origin moves as well
    field.unit === 'm' ? field.get(start) + pixels * 0.002 : draggedValue(field.get(start), pixels, range);
  followDrag(event, (pixels) => slip.hold(linesOf(transformFrom(field.set(start, move(pixels))), from)), slip.letGo);
}
</script>

<template>
  <details open class="fold placement">
    <summary>
      Place
      <button
        v-if="!isImported"
        class="back"
        title="As imported"
        aria-label="Place as imported"
        @click.prevent="slip.setAll(linesOf(imported!, transform))"
      >
        ↺
      </button>
    </summary>
    <div v-for="f in fields" :key="f.name" class="row">
      <label
        :for="`place-${f.name}`"
        :title="`${f.name}: drag to change, with Shift finely`"
        @pointerdown="drag(f, $event)"
        >{{ f.name }}</label
      >
      <QuantityInput
        :id="`place-${f.name}`"
        :value="f.get(placement)"
        :unit="f.unit"
        :minimum="f.least"
        :maximum="f.most"
        :whole="false"
        :data-test="`place-${f.name}`"
        @change="put(f, $event)"
        @fault="fault = $event"
      />
      <span class="dim">{{ f.unit }}</span>
    </div>
    <p v-if="fault" role="alert" class="fault">▲ {{ fault }}</p>
  </details>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 1fr 72px 94px;
  gap: 6px;
  align-items: center;
  min-height: 29px;
}
label {
  cursor: ew-resize;
  touch-action: none;
  user-select: none;
}
.row .dim {
  font-size: 12px;
}
.back {
  border: 0;
  background: none;
  color: var(--dim);
  cursor: pointer;
}
</style>
