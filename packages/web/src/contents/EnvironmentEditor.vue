<script setup lang="ts">
// The environment: its picture or gradient, and what the camera sees of it.
import { computed } from 'vue';
import type { Environment } from '@dusting/core/scene';
import { linearToSrgb } from '@dusting/core/color';
import type { TakenPicture } from '../api.ts';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import ToolChoice from '../parts/ToolChoice.vue';
import ColorField from './ColorField.vue';
import FileButton from './FileButton.vue';
import TexturePicture from './TexturePicture.vue';

type Gradient = NonNullable<Environment['gradient']>;
const START: Gradient = { zenith: [0.15, 0.3, 0.7], horizon: [0.7, 0.8, 0.9], ground: [0.12, 0.1, 0.08] };
const contents = useContents();
const slip = useSlip();
const environment = computed(() => contents.document!.environment);
const source = computed(() =>
  environment.value.picture ? 'picture' : environment.value.gradient ? 'gradient' : 'colour',
);
const asImported = computed(
  () => contents.importedValue(['environment', 'picture']) as Environment['picture'] | undefined,
);
const sources = computed(() =>
  (['picture', 'gradient', 'colour'] as const).map((key) => ({
    key,
    label: key,
    disabled: key === 'picture' && !environment.value.picture && !asImported.value,
  })),
);

function choose(next: string) {
  if (next === 'gradient')
    void slip.setAll([['/environment/picture', null], ['/environment/gradient', environment.value.gradient ?? START]]); // prettier-ignore
  else if (next === 'picture' && asImported.value) void slip.set('/environment/picture', asImported.value);
  else if (next === 'colour') void slip.setAll([['/environment/picture', null], ['/environment/gradient', null]]); // prettier-ignore
}
function take({ name, blob, width, height }: TakenPicture) {
  const white = environment.value.color.every((c) => c === 0) ? [['/environment/color', [1, 1, 1]] as [string, unknown]] : []; // prettier-ignore
  void slip.setAll([['/environment/picture', { name, blob, width, height }], ...white]);
}
const withColor = (key: keyof Gradient, color: number[]): Gradient => ({
  ...environment.value.gradient!,
  [key]: color,
});
const HEIGHTS = [
  ['zenith', 'overhead'],
  ['horizon', 'horizon'],
  ['ground', 'below'],
] as const;
const css = (color: number[]) => `rgb(${color.map((c) => Math.round(255 * linearToSrgb(Math.min(1, c)))).join(' ')})`;
const strip = computed(() => {
  const g = environment.value.gradient;
  return g ? `linear-gradient(${css(g.zenith)}, ${css(g.horizon)} 50%, ${css(g.ground)} 50%)` : '';
});
</script>

<template>
  <div class="line">
    <span>lit by</span>
    <div class="segments" role="group" aria-label="What the environment is">
      <ToolChoice :items="sources" :pressed="(key) => source === key" test-id="environment" @press="choose" />
    </div>
  </div>
  <template v-if="environment.picture">
    <TexturePicture :texture="{ ...environment.picture, encoding: 'srgb' }" :size="268" />
    <p class="dim">
      {{ environment.picture.name }}, {{ environment.picture.width }} × {{ environment.picture.height }} px
    </p>
  </template>
  <div class="line wrap">
    <FileButton label="Another picture …" test-id="replace-environment" @taken="take" />
  </div>
  <div v-if="environment.gradient && !environment.picture" class="gradient">
    <i :style="{ background: strip }" />
    <div>
      <label v-for="[key, title] in HEIGHTS" :key="key" class="line">
        <span>{{ title }}</span>
        <ColorField
          :id="`gradient-${key}`"
          :value="environment.gradient[key]"
          :most="1e9"
          @change="slip.set('/environment/gradient', withColor(key, $event))"
          @hold="slip.hold([['/environment/gradient', withColor(key, $event)]])"
          @let-go="slip.letGo"
        />
      </label>
    </div>
  </div>
  <label class="line">
    <span>the camera sees another background</span>
    <input
      type="checkbox"
      :checked="environment.background !== null"
      data-test="own-background"
      @change="slip.set('/environment/background', environment.background ? null : [0.5, 0.5, 0.5])"
    />
  </label>
  <ColorField
    v-if="environment.background"
    id="background"
    :value="environment.background"
    :most="1e9"
    @change="slip.set('/environment/background', $event)"
    @hold="slip.hold([['/environment/background', $event]])"
    @let-go="slip.letGo"
  />
</template>

<style scoped>
.line {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
.wrap {
  flex-wrap: wrap;
}
.gradient {
  display: grid;
  grid-template-columns: 34px 1fr;
  gap: 10px;
}
.gradient i {
  min-height: 84px;
}
.gradient .line > span {
  width: 64px;
}
.gradient :deep(.color) {
  flex: 1;
}
.gradient :deep(.sheet) {
  margin-left: -112px;
  margin-right: 0;
}
</style>
