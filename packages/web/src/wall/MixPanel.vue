<script setup lang="ts">
import Button from 'primevue/button';
import { computed } from 'vue';
import { inL, percent } from '@dusting/core/diagnose';
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
const isTracedTwice = computed(() => bench.layers.some(({ name }) => name === 'indirectDiffuse') && (bench.isFrames || (bench.proof?.settings.depth.diffuse ?? 0) > 1)); // prettier-ignore
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
    <template v-if="mix.hasOcclusion">
      <div class="part" data-test="mix-occlusion">
        <input
          id="mix-occlusion"
          type="checkbox"
          :checked="mix.occlusion !== null"
          @change="mix.multiply(mix.occlusion ? null : {})"
        />
        <label for="mix-occlusion">times occlusion</label>
        <template v-if="mix.occlusion">
          <input
            type="range"
            min="0"
            max="1"
            step="0.05"
            :value="mix.occlusion.strength"
            aria-label="Strength of the occlusion"
            data-test="occlusion-strength"
            @input="mix.multiply({ strength: ($event.target as HTMLInputElement).valueAsNumber })"
          />
          <span class="number stops">{{ percent(mix.occlusion.strength) }}</span>
          <input
            type="color"
            :value="toHex(mix.occlusion.color)"
            aria-label="What is occluded turns to"
            title="What is occluded turns to"
            @input="mix.multiply({ color: fromHex(($event.target as HTMLInputElement).value) })"
          />
        </template>
      </div>
      <div v-if="mix.occlusion" class="part">
        <span /><span>its contrast</span>
        <input
          type="range"
          min="-2"
          max="2"
          step="0.1"
          :value="Math.log2(mix.occlusion.contrast)"
          aria-label="Contrast of the occlusion"
          @input="mix.multiply({ contrast: 2 ** ($event.target as HTMLInputElement).valueAsNumber })"
          @dblclick="mix.multiply({ contrast: 1 })"
        />
        <span class="number stops">{{ mix.occlusion.contrast.toFixed(2) }}</span>
      </div>
      <p v-if="mix.taken" class="dim" data-test="occlusion-takes">
        It takes {{ inL(mix.taken.mean) }} on average, and {{ inL(mix.taken.darkest) }} of the darkest tenth.
        <template v-if="isTracedTwice">Indirect light was traced as well: corners are darkened twice.</template>
      </p>
    </template>
    <div v-if="mix.isChanged" class="acts">
      <Button label="As rendered" severity="secondary" text size="small" data-test="mix-reset" @click="mix.reset()" />
      <Button
        v-if="mix.kind === 'groups' && mix.changed.length > 0"
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
  grid-template-columns: 16px 1fr 48px 42px 24px;
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
