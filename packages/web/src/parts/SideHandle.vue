<script setup lang="ts">
// The edge of the side panel: dragged, or moved with the arrow keys, it makes the panel wider or narrower.
const SIDE = { least: 280, most: 760, step: 20 };

const width = defineModel<number>({ required: true });
const within = (wanted: number) => Math.min(SIDE.most, window.innerWidth / 2, Math.max(SIDE.least, wanted));
let from: { x: number; width: number } | null = null;
function down(event: PointerEvent) {
  (event.target as HTMLElement).setPointerCapture(event.pointerId);
  from = { x: event.clientX, width: width.value };
}
function move({ clientX }: PointerEvent) {
  if (from) width.value = Math.round(within(from.width + from.x - clientX));
}
</script>

<template>
  <div
    class="handle"
    role="separator"
    tabindex="0"
    aria-label="Width of the panel"
    aria-orientation="vertical"
    :aria-valuemin="SIDE.least"
    :aria-valuemax="SIDE.most"
    :aria-valuenow="width"
    title="Drag to make the panel wider"
    data-test="side-handle"
    @pointerdown="down"
    @pointermove="move"
    @pointerup="from = null"
    @keydown.left.stop.prevent="width = within(width + SIDE.step)"
    @keydown.right.stop.prevent="width = within(width - SIDE.step)"
  />
</template>

<style scoped>
.handle {
  position: absolute;
  left: -4px;
  top: 0;
  bottom: 0;
  width: 8px;
  cursor: col-resize;
  z-index: 2;
  touch-action: none;
}
.handle:hover {
  background: rgb(216 178 94 / 35%);
}
</style>
