<script setup lang="ts">
// A number with its unit: typed ("35 mm"), stepped with the arrow keys, or dragged by its label (see useDrag.ts).
import { onMounted, ref, watch } from 'vue';
import { parseQuantity, shortNumber } from './quantity.ts';

const props = defineProps<{
  id: string;
  /** null: several that differ. */
  value: number | null;
  unit: string;
  minimum: number;
  maximum: number;
  whole: boolean;
}>();
const emit = defineEmits<{ change: [value: number]; fault: [text: string] }>();
const input = ref<HTMLInputElement>();
/** Something was typed that is not taken yet: until then Ctrl+Z is that of the field. */
const typing = ref(false);

function show() {
  typing.value = false;
  emit('fault', '');
  input.value!.value = props.value === null ? '' : props.whole ? String(props.value) : shortNumber(props.value);
}
/** What was typed, or why it cannot be: then it stays to be mended. */
function take() {
  if (!typing.value) return;
  const text = input.value!.value;
  if (text.trim() === '') return show();
  const value = parseQuantity(text, props.unit);
  if (value === null) return emit('fault', `“${text}” is not a number${props.unit && ` of ${props.unit}`}`);
  const { minimum, maximum, unit } = props;
  if (value < minimum) return emit('fault', `at least ${shortNumber(minimum)} ${unit}`);
  if (value > maximum) return emit('fault', `at most ${shortNumber(maximum)} ${unit}`);
  const next = props.whole ? Math.round(value) : value;
  typing.value = false;
  emit('fault', '');
  if (next !== props.value) emit('change', next);
  else show();
}
function step(sign: number, event: KeyboardEvent) {
  const { value, whole, minimum, maximum } = props;
  if (value === null) return;
  const size = whole ? 1 : 10 ** (Math.floor(Math.log10(Math.abs(value) || 1)) - 1) * (event.shiftKey ? 10 : 1);
  emit('change', Math.min(maximum, Math.max(minimum, Number((value + sign * size).toPrecision(6)))));
}
onMounted(show);
watch(
  () => props.value,
  () => !typing.value && show(),
  { flush: 'post' },
);
</script>

<template>
  <input
    class="entry"
    :id="id"
    ref="input"
    type="text"
    inputmode="decimal"
    autocomplete="off"
    :placeholder="value === null ? 'differ' : ''"
    :data-settled="!typing"
    @input="typing = true"
    @change="take"
    @keydown.enter="take"
    @keydown.escape.stop="show"
    @keydown.up.prevent="step(1, $event)"
    @keydown.down.prevent="step(-1, $event)"
  />
</template>

<style scoped>
input {
  width: 72px;
  text-align: right;
}
</style>
