<script setup lang="ts">
import Button from 'primevue/button';
import type { Tint } from '@dusting/core/plan';
import { linearToSrgb, srgbToLinear } from '@dusting/core/color';
import { useBench } from '../stores/bench.ts';
import { useMix } from '../stores/mix.ts';
import { COMPONENT_COLORS, layerLabel } from '../words.ts';

const bench = useBench();
const mix = useMix();
const toHex = (tint: Tint) =>
  `#${tint
    .map((t) =>
      Math.round(255 * linearToSrgb(Math.min(1, t)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
const fromHex = (hex: string) => [1, 3, 5].map((i) => srgbToLinear(parseInt(hex.slice(i, i + 2), 16) / 255)) as Tint;
const color = (name: string) => COMPONENT_COLORS[name as keyof typeof COMPONENT_COLORS] ?? 'transparent';
const signed = (stops: number) => `${stops > 0 ? '+' : ''}${stops.toFixed(1)}`;
</script>

<template>
  <section class="panel tight">
    <header>
      <h2>Mix</h2>
      <div v-if="mix.hasGroups" class="segments" role="group" aria-label="Parts of the mix">
        <button class="tool" :aria-pressed="mix.kind === 'components'" @click="mix.kind = 'components'">
          components
        </button>
        <button class="tool" :aria-pressed="mix.kind === 'groups'" data-test="mix-groups" @click="mix.kind = 'groups'">
          lights
        </button>
      </div>
    </header>
    <p v-if="mix.names.length === 0" class="dim">This proof has no parts of the light to mix.</p>
    <p v-else-if="bench.layer !== 'beauty'" class="dim">Switch to the beauty layer to see the mix.</p>
    <div v-for="name in mix.names" :key="name" class="part" :data-test="`mix-${name}`">
      <input
        type="checkbox"
        :checked="mix.part(name).on"
        :aria-label="`${layerLabel(name)} on`"
        @change="mix.set(name, { on: ($event.target as HTMLInputElement).checked })"
      />
      <button class="name" title="this one alone" @click="mix.solo(name)">
        <i :style="{ background: color(name) }" />{{ layerLabel(name) }}
      </button>
      <input
        type="range"
        min="-4"
        max="4"
        step="0.1"
        :value="mix.part(name).stops"
        :aria-label="`${layerLabel(name)}, stops`"
        @input="mix.set(name, { stops: ($event.target as HTMLInputElement).valueAsNumber })"
        @dblclick="mix.set(name, { stops: 0 })"
      />
      <span class="number stops">{{ signed(mix.part(name).stops) }}</span>
      <input
        type="color"
        :value="toHex(mix.part(name).tint)"
        :aria-label="`${layerLabel(name)}, tint`"
        @input="mix.set(name, { tint: fromHex(($event.target as HTMLInputElement).value) })"
      />
    </div>
    <div v-if="mix.changed.length > 0" class="acts">
      <Button label="As rendered" severity="secondary" text size="small" data-test="mix-reset" @click="mix.reset()" />
      <Button
        v-if="mix.kind === 'groups'"
        v-tooltip.bottom="
          mix.canSlip
            ? 'Changes strength and colour of the lights, so that a render gives this mix'
            : 'This proof was made at another revision: its lights are not the present ones. Render a proof first.'
        "
        label="Put it on the slip"
        size="small"
        severity="secondary"
        :disabled="!mix.canSlip"
        data-test="mix-to-slip"
        @click="mix.toSlip()"
      />
    </div>
  </section>
</template>

<style scoped>
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.part {
  display: grid;
  grid-template-columns: 16px 1fr 56px 34px 24px;
  gap: 6px;
  align-items: center;
  min-height: 28px;
}
.name {
  border: 0;
  padding: 0;
  background: none;
  color: var(--text);
  font: inherit;
  text-align: left;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  cursor: pointer;
}
i {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 5px;
}
input[type='range'],
input[type='checkbox'] {
  width: 100%;
  margin: 0;
}
input[type='color'] {
  width: 24px;
  height: 20px;
  padding: 0;
  border: 1px solid var(--line);
  background: none;
}
.stops {
  text-align: right;
}
</style>
