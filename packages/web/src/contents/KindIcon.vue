<script setup lang="ts">
import { Box, Droplet, Grid2x2, Mountain, Sparkle, Video } from '@lucide/vue';
import type { ContentKind } from '@dusting/core/scene';

defineProps<{ kind: ContentKind }>();
const ICONS = { object: Box, surface: Droplet, light: Sparkle, texture: Grid2x2, camera: Video, environment: Mountain };
</script>

<template>
  <component :is="ICONS[kind]" class="icon" :size="14" :stroke-width="1.6" :aria-label="kind" />
</template>

<style scoped>
.icon {
  flex: none;
  vertical-align: -2px;
}
</style>
