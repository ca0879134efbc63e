<script setup lang="ts">
import { computed } from 'vue';
import Select from 'primevue/select';
import { useBench } from '../stores/bench.ts';
import { giveKeysBack } from '../parts/giveKeysBack.ts';
import { looksEncoded } from '../picture/looksEncoded.ts';
import ExportMenu from '../proofs/ExportMenu.vue';
import { useLook } from '../stores/look.ts';
import { usePreview } from '../stores/preview.ts';
import { COMPONENT_NAMES } from '@dusting/core/diagnose';
import { DISPLAY_TRANSFORMS, type DisplayTransform } from '@dusting/core/color';
import { layerLabel } from '../words.ts';

defineProps<{ copied: boolean }>();
defineEmits<{ link: []; save: [] }>();
const bench = useBench();
const look = useLook();
const preview = usePreview();
const GROUPS: [string, RegExp][] = [
  [
    'Picture',
    /^(beauty|denoised|directDiffuse|indirectDiffuse|directSpecular|indirectSpecular|transmission|volume|emission|background|diffuse|specular|light\..*|sumGap)$/,
  ],
  ['Light groups', /^group\./],
  ['Cut off by a limit', /^cut\./],
  ['Standard error', /^error/],
  ['Mattes', /^matte\./],
  ['Data', /./],
];
const NAMES: Record<DisplayTransform, string> = {
  srgb: 'sRGB',
  rec709: 'Rec. 709',
  displayP3: 'Display P3',
  photographic: 'photographic',
  raw: 'raw',
};
const TRANSFORMS = DISPLAY_TRANSFORMS.map((id) => ({ id, label: NAMES[id] }));
/** Linear light, not data: raw, it looks too dark. */
const isPicture = computed(() => GROUPS.slice(0, 2).some(([, pattern]) => pattern.test(bench.layer)));
/** Where the picture seems to be viewed through the wrong transform. */
const warning = computed(() => {
  if (!isPicture.value || !bench.picture) return '';
  const encoded = looksEncoded(bench.picture);
  if (look.transform === 'raw') return encoded ? '' : 'linear, shown raw';
  return encoded ? 'seems encoded: try raw' : '';
});
const options = computed(() => {
  const left = new Set(bench.layers.map((l) => l.name));
  return GROUPS.map(([label, pattern]) => {
    const items = [...left].filter((n) => pattern.test(n)).sort((a, b) => rank(a) - rank(b));
    items.forEach((n) => left.delete(n));
    return { label, items: items.map((name) => ({ name, label: layerLabel(name) })) };
  }).filter((g) => g.items.length > 0);
});
const rank = (name: string) => Object.keys(COMPONENT_NAMES).indexOf(name);
</script>

<template>
  <div class="tools" role="toolbar" aria-label="Looking">
    <div class="pair" v-tooltip.bottom="'Layer: [ and ]'">
      <Select
        aria-label="Layer"
        v-model="bench.layer"
        :placeholder="options.length > 0 ? undefined : layerLabel(bench.layer)"
        :options="options"
        option-group-label="label"
        option-group-children="items"
        option-label="label"
        option-value="name"
        :disabled="preview.on || bench.proof?.state !== 'done'"
        data-test="layer"
        @hide="giveKeysBack"
      />
    </div>
    <div v-tooltip.bottom="'Exposure in stops: E and Shift+E'" class="stops">
      <span class="dim">Exposure</span>
      <button class="tool" aria-label="Half a stop less" @click="look.exposure -= 0.5">−</button>
      <input
        class="number"
        aria-label="Exposure in stops"
        :value="`${look.exposure >= 0 ? '+' : ''}${look.exposure.toFixed(1)} EV`"
        @change="look.exposure = parseFloat(($event.target as HTMLInputElement).value) || 0"
      />
      <button class="tool" aria-label="Half a stop more" @click="look.exposure += 0.5">+</button>
    </div>
    <label v-tooltip.bottom="'Gamma over the transform: G and Shift+G. 1 is none.'" class="stops">
      <span class="dim">γ</span>
      <input
        class="number gamma"
        aria-label="Gamma"
        data-test="gamma"
        :value="look.gamma.toFixed(1)"
        @change="look.setGamma(parseFloat(($event.target as HTMLInputElement).value))"
      />
    </label>
    <div v-tooltip.bottom="'Shadow check: S'" class="segments" role="group" aria-label="Shadow check">
      <span class="dim">Shadow check</span>
      <button
        v-for="s in [0, 1, 2] as const"
        :key="s"
        class="tool"
        :aria-pressed="look.shadowCheck === s"
        @click="look.shadowCheck = s"
      >
        {{ s === 0 ? 'off' : `+${s}` }}
      </button>
    </div>
    <div v-tooltip.bottom="'Display transform: D'" class="pair">
      <Select
        aria-label="Display transform"
        v-model="look.transform"
        :options="TRANSFORMS"
        option-label="label"
        option-value="id"
        data-test="transform"
        @hide="giveKeysBack"
      />
      <span v-if="warning" class="dim" data-test="transform-note">▲ {{ warning }}</span>
    </div>
    <button
      class="tool"
      v-tooltip.bottom="'Mark clipped, negative and broken pixels: M'"
      :aria-pressed="look.marks"
      @click="look.marks = !look.marks"
    >
      Marks
    </button>
    <button
      class="tool"
      v-tooltip.bottom="'Lines of equal value, at every stop or every tenth of the range: I'"
      :aria-pressed="look.isolines"
      @click="look.isolines = !look.isolines"
    >
      Lines
    </button>
    <span class="gap" />
    <button
      class="tool"
      v-tooltip.bottom="'Copy a link that opens this view: L'"
      :disabled="!bench.proof"
      data-test="link"
      @click="$emit('link')"
    >
      {{ copied ? 'Copied' : 'Link' }}
    </button>
    <ExportMenu @save="$emit('save')" />
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  gap: 9px;
  padding: 0 10px;
  height: 34px;
  background: var(--room);
  border-bottom: 1px solid var(--line);
  white-space: nowrap;
  overflow: hidden;
}
.pair,
.stops,
.segments {
  display: flex;
  align-items: center;
  gap: 5px;
}
.segments {
  gap: 0;
}
.gap {
  flex: 1;
}
.segments .dim {
  margin-right: 6px;
}
input {
  width: 64px;
  height: 26px;
  background: var(--wall);
  border: 1px solid var(--line);
  color: var(--text);
  text-align: center;
}
input.gamma {
  width: 34px;
}
.stops button {
  width: 24px;
  padding: 0;
}
.p-select {
  height: 26px;
  min-width: 104px;
}
</style>
