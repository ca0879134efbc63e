<script setup lang="ts">
// A colour: linear as the renderer takes it, or as it is displayed; lightness, saturation and hue apart from each other.
import { computed, ref } from 'vue';
import {
  fromLightnessSaturationHue,
  linearToSrgb,
  srgbToLinear,
  toLightnessSaturationHue,
  type LightnessSaturationHue,
} from '@dusting/core/color';
import QuantityInput from './QuantityInput.vue';

const props = defineProps<{
  id: string;
  /** Linear Rec. 709; null: several that differ. */
  value: number[] | null;
  /** Greatest value: 1 for a share. */
  most: number;
}>();
const emit = defineEmits<{ change: [value: number[]]; hold: [value: number[]]; letGo: [] }>();
const open = ref(false);
const shown = computed(() => props.value ?? [0, 0, 0]);
const display = (c: number) => Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, c))));
const hex = computed(() => `#${shown.value.map((c) => display(c).toString(16).padStart(2, '0')).join('')}`);
const rounded = (color: number[]) => color.map((c) => Number(c.toPrecision(4)));

/** What is being set: it keeps its hue through black and grey. */
let kept: LightnessSaturationHue | null = null;
const parts = computed(() => toLightnessSaturationHue(shown.value));
const limit = computed(() => (props.most > 1 ? Infinity : 1));
function move(part: keyof LightnessSaturationHue, to: number) {
  kept = { ...(kept ?? parts.value), [part]: to };
  emit('hold', rounded(fromLightnessSaturationHue(kept, limit.value)));
}
function end() {
  kept = null;
  emit('letGo');
}
const SLIDERS = [
  { part: 'lightness', title: 'lightness', least: 0, most: 1, step: 0.002 },
  { part: 'saturation', title: 'saturation', least: 0, most: 0.5, step: 0.002 },
  { part: 'hue', title: 'hue', least: 0, most: 360, step: 0.5 },
] as const;
const fault = ref('');
function takeHex(text: string) {
  const digits = /^\s*#?([0-9a-f]{6})\s*$/i.exec(text)?.[1];
  fault.value = digits ? '' : 'six hexadecimal digits, such as #c08040';
  if (digits) emit('change', rounded([0, 2, 4].map((i) => srgbToLinear(parseInt(digits.slice(i, i + 2), 16) / 255))));
}
function takeLinear(index: number, to: number) {
  emit('change', shown.value.map((c, k) => (k === index ? to : c))); // prettier-ignore
}
</script>

<template>
  <div class="color">
    <button
      :id="id"
      class="entry swatch"
      :aria-expanded="open"
      :title="`${rounded(shown).join(' ')} linear`"
      @click="open = !open"
    >
      <i :style="{ background: value ? hex : 'none' }" />
      <span class="number">{{
        value
          ? rounded(value)
              .map((c) => Number(c.toPrecision(2)))
              .join(' ')
          : 'differ'
      }}</span>
    </button>
    <div v-if="open" class="sheet">
      <div class="row">
        <span class="dim">linear</span>
        <QuantityInput
          v-for="(name, k) in ['red', 'green', 'blue']"
          :id="`${id}-${name}`"
          :key="name"
          :aria-label="`${name}, linear`"
          :value="value ? value[k] : null"
          unit=""
          :minimum="0"
          :maximum="most"
          :whole="false"
          @change="takeLinear(k, $event)"
          @fault="fault = $event"
        />
      </div>
      <div class="row">
        <label class="dim" :for="`${id}-hex`">displayed</label>
        <input
          :id="`${id}-hex`"
          class="entry hex number"
          :value="hex"
          @change="takeHex(($event.target as HTMLInputElement).value)"
        />
        <span v-if="Math.max(...shown) > 1" class="dim">brighter than white</span>
      </div>
      <label v-for="s in SLIDERS" :key="s.part" class="row">
        <span class="dim">{{ s.title }}</span>
        <input
          type="range"
          :min="s.least"
          :max="s.part === 'lightness' && most > 1 ? 3 : s.most"
          :step="s.step"
          :value="parts[s.part]"
          :data-test="`${s.part}`"
          @input="move(s.part, Number(($event.target as HTMLInputElement).value))"
          @change="end"
        />
        <span class="number">{{ s.part === 'hue' ? `${Math.round(parts.hue)}°` : parts[s.part].toFixed(2) }}</span>
      </label>
      <p v-if="fault" role="alert" class="fault">▲ {{ fault }}</p>
    </div>
  </div>
</template>

<style scoped>
.swatch {
  display: flex;
  align-items: center;
  gap: 7px;
  width: 100%;
  padding: 0 4px;
  cursor: pointer;
}
.swatch i {
  width: 28px;
  height: 16px;
}
.swatch span {
  font-size: 11.5px;
  white-space: nowrap;
  overflow: hidden;
}
/* under the row, over its whole width */
.sheet {
  margin: 4px -40px 6px -122px;
  padding: 6px 8px;
  background: #424242;
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.row {
  display: flex;
  align-items: center;
  gap: 6px;
}
.row > .dim:first-child {
  width: 68px;
  flex: none;
  font-size: 12px;
}
.row input[type='range'] {
  flex: 1;
  min-width: 0;
}
.row .number {
  width: 38px;
  text-align: right;
}
.row :deep(input[type='text']) {
  width: 100%;
  min-width: 0;
}
.hex.number {
  width: 84px;
  text-align: left;
}
</style>
