<script setup lang="ts">
// What the shown proof is compared with, and how.
import { computed } from 'vue';
import { useIntervalFn } from '@vueuse/core';
import Select from 'primevue/select';
import { useBench } from '../stores/bench.ts';
import { giveKeysBack } from '../parts/giveKeysBack.ts';
import { useLook } from '../stores/look.ts';
import { GAINS, type DifferenceKind } from '../picture/view.ts';
import { layerLabel, proofName } from '../words.ts';
import { MAP_RANGES } from './useDifferenceMap.ts';

/** Milliseconds for which each picture is up while they change by themselves. */
const BLINK_EVERY = 700;

const bench = useBench();
const look = useLook();
const options = computed(() => [
  { id: null, label: 'nothing' },
  ...bench.done.filter((p) => p.id !== bench.proofId).map((p) => ({ id: p.id as number | null, label: proofName(p) })),
]);
const MODES = [
  { mode: 'one', label: 'One' },
  { mode: 'wipe', label: 'Wipe' },
  { mode: 'blink', label: 'Blink' },
  { mode: 'side', label: 'Side' },
  { mode: 'difference', label: 'Difference' },
] as const;
const layers = computed(() => [
  { name: null as string | null, label: 'same layer' },
  ...bench.layers
    .filter((l) => l.name !== bench.layer)
    .map((l) => ({ name: l.name as string | null, label: layerLabel(l.name) })),
]);
const KINDS: { kind: DifferenceKind; label: string }[] = [
  { kind: 'signed', label: 'signed' },
  { kind: 'absolute', label: 'absolute' },
  { kind: 'relative', label: 'relative' },
  { kind: 'deltaE', label: 'colour, ΔE' },
  { kind: 'similarity', label: 'structure' },
];
const legend = computed(() => {
  const { gain, difference } = look;
  return {
    signed: `Grey: the same. Brighter: more light than before. White and black at ±${1 / gain}.`,
    absolute: `Black: the same. White at ${1 / gain}.`,
    relative: `Over the luminance before: dark blue 0, yellow ${100 / gain} % and more.`,
    deltaE: `CIEDE2000 as displayed: dark blue 0, yellow ${MAP_RANGES.deltaE[1]} and more. 1 is just seen.`,
    similarity: 'Structural similarity as displayed: yellow 1, alike; dark blue 0.',
  }[difference];
});
const setAngle = (text: string) => {
  const angle = Number.parseFloat(text);
  if (Number.isFinite(angle)) look.wipe = { ...look.wipe, angle: ((Math.round(angle) % 360) + 360) % 360 };
};
useIntervalFn(() => {
  if (look.blinking && look.mode === 'blink') look.blink = !look.blink;
}, BLINK_EVERY);
async function choose(id: number | null) {
  await bench.compareWith(id);
  if (id !== null && look.mode === 'one') look.mode = 'wipe';
}
</script>

<template>
  <div class="compare">
    <div class="pair">
      <span>{{ bench.proof ? proofName(bench.proof) : 'It' }} against</span>
      <Select
        aria-label="Compared with"
        :model-value="bench.besideId"
        :options="options"
        placeholder="nothing"
        option-label="label"
        option-value="id"
        data-test="against"
        @hide="giveKeysBack"
        @update:model-value="choose"
      />
    </div>
    <div v-if="bench.besideId !== null" class="segments" role="group" aria-label="Comparing, W">
      <button
        v-for="m in MODES"
        class="tool"
        :key="m.mode"
        :aria-pressed="look.mode === m.mode"
        @click="look.mode = m.mode"
      >
        {{ m.label }}
      </button>
    </div>
    <template v-if="bench.besideId !== null">
      <div v-if="look.mode === 'difference'" class="pair">
        <Select
          v-model="look.difference"
          aria-label="Kind of difference"
          :options="KINDS"
          option-label="label"
          option-value="kind"
          data-test="difference-kind"
          @hide="giveKeysBack"
        />
        <label v-if="!['deltaE', 'similarity'].includes(look.difference)"
          ><span class="dim">gain</span>
          <Select
            v-model="look.gain"
            aria-label="Gain"
            class="gain"
            :options="GAINS.map((value) => ({ value, label: `× ${value}` }))"
            option-label="label"
            option-value="value"
            @hide="giveKeysBack"
        /></label>
      </div>
      <p v-if="look.mode === 'difference'" class="dim" data-test="difference-legend">{{ legend }}</p>
      <div v-else-if="look.mode === 'wipe'" class="pair">
        <label
          ><span class="dim">Turned by</span>
          <input
            class="number"
            aria-label="Angle of the wipe in degrees"
            :value="`${look.wipe.angle}°`"
            @change="setAngle(($event.target as HTMLInputElement).value)"
        /></label>
        <span class="dim">or drag it with Shift</span>
      </div>
      <div v-else-if="look.mode === 'blink'" class="pair">
        <span data-test="blink-shown">{{
          look.blink ? bench.proof && proofName(bench.proof) : bench.beside && proofName(bench.beside)
        }}</span>
        <label><input v-model="look.blinking" type="checkbox" /> by itself</label>
        <span class="dim">B changes</span>
      </div>
      <div class="pair">
        <span class="dim">Layer of {{ bench.beside && proofName(bench.beside) }}</span>
        <Select
          v-model="bench.besideLayer"
          aria-label="Layer of the other one"
          :options="layers"
          option-label="label"
          option-value="name"
          placeholder="same layer"
          @hide="giveKeysBack"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.compare {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.pair {
  display: flex;
  gap: 10px;
  align-items: center;
}
.p-select {
  flex: 1;
  min-width: 0;
}
.p-select.gain {
  flex: none;
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
input.number {
  width: 52px;
  height: 26px;
  text-align: center;
}
input.number {
  background: var(--wall);
  border: 1px solid var(--line);
  color: var(--text);
  font: inherit;
  height: 26px;
}
</style>
