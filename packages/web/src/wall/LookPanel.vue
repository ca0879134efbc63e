<script setup lang="ts">
import GraphPanel from './GraphPanel.vue';
import MixPanel from './MixPanel.vue';
import PinList from './PinList.vue';

defineProps<{ point: { x: number; y: number } | null }>();
</script>

<template>
  <div class="look">
    <GraphPanel :point="point" />
    <MixPanel />
    <PinList />
  </div>
</template>

<style scoped>
.look {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
</style>
