<script setup lang="ts">
// The colour wanted behind walls of this glass, and the tint or the absorption that yields it.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import { targetTint, wallTransmittance } from '@dusting/core/diagnose';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import ColorField from './ColorField.vue';
import QuantityInput from './QuantityInput.vue';

const props = defineProps<{ id: string }>();
const contents = useContents();
const slip = useSlip();
const surface = computed(() => contents.document!.surfaces[props.id]);
const walls = ref(1);
const thickness = ref(0.003);
const fault = ref('');
const wall = computed(() => wallTransmittance(surface.value, thickness.value));
const present = computed(() => wall.value.rgb.map((c) => c ** walls.value));
const chosen = ref<number[] | null>(null);
const wanted = computed(() => chosen.value ?? present.value);
const lost = computed(() => wall.value.passed ** walls.value);
const answer = computed(() =>
  targetTint(wanted.value, { interfaces: walls.value * wall.value.interfaces, length: walls.value * thickness.value }, [
    lost.value,
    lost.value,
    lost.value,
  ]),
);
const CHANNELS = ['red', 'green', 'blue'];
const tooBright = computed(() => {
  const names = answer.value.tooBright.map((k) => CHANNELS[k]);
  const list = names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)} are` : `${names[0]} is`;
  return names.length > 0 ? list : '';
});
const path = (parameter: string) => `/surfaces/${props.id}/${parameter}`;
const rounded = (color: number[]) => color.map((c) => Number(c.toPrecision(4)));
const asTint = () =>
  slip.setAll([
    [path('transmission_tint'), rounded(answer.value.tint)],
    [path('transmission_depth'), 0],
  ]);
const asAbsorption = () =>
  slip.setAll([
    [path('transmission_tint'), [1, 1, 1]],
    [path('transmission_color'), rounded(answer.value.colour!)],
    [path('transmission_depth'), Number((walls.value * thickness.value).toPrecision(6))],
  ]);
</script>

<template>
  <details class="fold" data-test="target-tint">
    <summary>Colour wanted behind it</summary>
    <div class="row">
      <label for="target-walls">walls</label>
      <QuantityInput
        id="target-walls"
        :value="walls"
        :minimum="1"
        :maximum="64"
        whole
        unit=""
        @change="walls = $event"
        @fault="fault = $event"
      />
      <label for="target-thickness">each</label>
      <QuantityInput
        id="target-thickness"
        :value="thickness"
        :minimum="0"
        :maximum="1000"
        :whole="false"
        unit="m"
        @change="thickness = $event"
        @fault="fault = $event"
      />
    </div>
    <div class="row color">
      <span>wanted</span>
      <ColorField id="target-color" :value="wanted" :most="1" @change="chosen = $event" @hold="chosen = $event" />
    </div>
    <p class="dim">Now, straight on: {{ present.map((c) => c.toFixed(2)).join(' ') }} (computed, linear).</p>
    <p v-if="surface.maps.base_color" class="dim">
      The texture {{ contents.document!.textures[surface.maps.base_color]?.name }} filters on top of it.
    </p>
    <p v-if="fault" role="alert">▲ {{ fault }}</p>
    <p v-if="tooBright" role="alert" data-test="too-bright">
      ▲ No filter brightens: {{ tooBright }} wanted above the {{ Math.round(100 * lost) }} % that the reflections leave.
    </p>
    <div class="row">
      <Button label="Set as tint" size="small" severity="secondary" data-test="as-tint" @click="asTint" />
      <Button
        label="Set as absorption"
        size="small"
        severity="secondary"
        :disabled="!answer.colour || surface.geometry_thin_walled"
        data-test="as-absorption"
        @click="asAbsorption"
      />
    </div>
  </details>
</template>

<style scoped>
.row {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 29px;
}
.row label {
  flex: none;
}
.color :deep(.sheet) {
  margin: 4px 0 6px -122px;
}
.color > span {
  width: 116px;
  flex: none;
}
.color :deep(.color) {
  flex: 1;
  min-width: 0;
}
.color {
  align-items: start;
}
.color > span {
  padding-top: 4px;
}
</style>
