<script setup lang="ts">
// One light alone, or off, for looking: neither goes on the slip.
import { computed } from 'vue';
import { usePreview } from '../stores/preview.ts';

/** Id of a light, SKY or GLOW. */
const props = defineProps<{ id: string }>();
const preview = usePreview();
const alone = computed(() => preview.isolation.lights?.includes(props.id) ?? false);
const muted = computed(() => preview.isolation.muted.includes(props.id));
/** Alone; with Ctrl together with those that are alone already. */
function solo(add: boolean) {
  const others = (preview.isolation.lights ?? []).filter((l) => l !== props.id);
  const lights = alone.value ? (add ? others : []) : add ? [...others, props.id] : [props.id];
  preview.isolate({ lights: lights.length > 0 ? lights : null });
}
function mute() {
  const others = preview.isolation.muted.filter((l) => l !== props.id);
  preview.isolate({ muted: muted.value ? others : [...others, props.id] });
}
</script>

<template>
  <span class="switches">
    <button
      :aria-pressed="alone"
      title="This light alone, for looking; with Ctrl together with others"
      :data-test="`solo-${id}`"
      @click="solo($event.ctrlKey || $event.metaKey)"
    >
      alone
    </button>
    <button :aria-pressed="muted" title="This light off, for looking" :data-test="`mute-${id}`" @click="mute">
      off
    </button>
  </span>
</template>

<style scoped>
.switches {
  display: flex;
  align-items: center;
  gap: 4px;
  padding-right: 12px;
}
button {
  height: 22px;
  padding: 0 6px;
  border: 1px solid var(--line);
  background: none;
  color: var(--dim);
  font-size: 12px;
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--wax);
  border-color: var(--wax);
  color: #1d1d1d;
}
</style>
