<script setup lang="ts" generic="Key extends string">
// A row of buttons of which some are pressed: one of several, or each by itself.
defineProps<{
  items: readonly { key: Key; label: string; title?: string; disabled?: boolean }[];
  pressed: (key: Key) => boolean;
  /** Beginning of the names that tests know them by. */
  testId: string;
}>();
defineEmits<{ press: [key: Key] }>();
</script>

<template>
  <button
    v-for="item in items"
    :key="item.key"
    class="tool"
    :title="item.title"
    :disabled="item.disabled"
    :aria-pressed="pressed(item.key)"
    :data-test="`${testId}-${item.key}`"
    @click="$emit('press', item.key)"
  >
    {{ item.label }}
  </button>
</template>
