<script setup lang="ts">
// A number of a setting. What is being typed stays, whatever the server says meanwhile.
import { onMounted, ref, watch } from 'vue';

const props = defineProps<{ id: string; value: number; minimum: number; maximum: number; whole: boolean }>();
const emit = defineEmits<{ change: [value: number] }>();
const input = ref<HTMLInputElement>();
let typing = false;

function show() {
  typing = false;
  input.value!.value = String(props.value);
}
/** What was typed or stepped, within the range; anything else leaves the present value. */
function take() {
  const typed = input.value!.valueAsNumber;
  const value = Math.min(props.maximum, Math.max(props.minimum, props.whole ? Math.round(typed) : typed));
  if (Number.isFinite(typed) && value !== props.value) emit('change', value);
  show();
}
onMounted(show);
watch(
  () => props.value,
  () => {
    if (!typing) show();
  },
  { flush: 'post' },
);
</script>

<template>
  <input
    :id="id"
    ref="input"
    type="number"
    :min="minimum"
    :max="maximum"
    :step="whole ? 1 : 'any'"
    @input="typing = true"
    @change="take"
    @blur="show"
  />
</template>

<style scoped>
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
</style>
