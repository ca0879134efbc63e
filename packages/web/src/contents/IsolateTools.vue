<script setup lang="ts">
// Parts of the shot by themselves, to find a cause. Only the preview shows it.
import { GLOW, ISOLATION_DEFAULTS, SKY, type Isolation } from '@dusting/core/scene';
import { useContents } from '../stores/contents.ts';
import { usePreview } from '../stores/preview.ts';
import ToolChoice from '../parts/ToolChoice.vue';
import LightSwitches from './LightSwitches.vue';

const preview = usePreview();
const contents = useContents();
type Switch = { [K in keyof Isolation]: Isolation[K] extends boolean ? K : never }[keyof Isolation];
const SWITCHES: { key: Switch; label: string; title: string }[] = [
  { key: 'grey', label: 'grey', title: 'All surfaces matt and grey' },
  { key: 'noTextures', label: 'no textures', title: 'Surfaces without their textures' },
  { key: 'flat', label: 'flat', title: 'Without normal and bump maps' },
  { key: 'noBackground', label: 'no background', title: 'Black where the camera meets nothing' },
];
const BOUNCES = [
  { key: 'direct', label: 'direct', title: 'Only light that comes straight from its source' },
  { key: 'less', label: '−1', title: 'One bounce less than the settings' },
  { key: 'more', label: '+1', title: 'One bounce more than the settings' },
] as const;
</script>

<template>
  <details class="isolate" :open="preview.isolating" data-test="isolate">
    <summary>Isolate, to find a cause</summary>
    <div class="tools">
      <ToolChoice
        :items="SWITCHES"
        :pressed="(key) => preview.isolation[key]"
        test-id="isolate"
        @press="preview.isolate({ [$event]: !preview.isolation[$event] })"
      />
    </div>
    <div class="tools">
      <span class="dim">bounces</span>
      <ToolChoice
        :items="BOUNCES"
        :pressed="(key) => preview.isolation.bounces === key"
        test-id="isolate"
        @press="preview.isolate({ bounces: preview.isolation.bounces === $event ? null : $event })"
      />
    </div>
    <div
      v-for="light in [
        ...Object.entries(contents.document?.lights ?? {}),
        [SKY, { name: 'environment' }] as const,
        [GLOW, { name: 'surfaces that shine' }] as const,
      ]"
      :key="light[0]"
      class="light"
    >
      <!-- prettier-ignore -->
      <span>{{ light[1].name }}</span>
      <LightSwitches :id="light[0]" />
    </div>
    <button
      v-if="preview.isolating"
      class="tool"
      data-test="isolate-end"
      @click="preview.isolation = { ...ISOLATION_DEFAULTS }"
    >
      Show everything again
    </button>
  </details>
</template>

<style scoped>
.isolate {
  background: #404040;
  margin: -10px -12px 0;
  padding: 6px 12px;
}
summary {
  cursor: pointer;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
  padding: 5px 0 1px;
}
.light {
  display: flex;
  justify-content: space-between;
  align-items: center;
  height: 28px;
  margin-right: -12px;
}
.tool[aria-pressed='true'] {
  background: var(--wax);
  color: #1d1d1d;
  box-shadow: none;
}
</style>
