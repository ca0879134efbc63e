<script setup lang="ts">
// Which surface the selected objects have.
import { computed } from 'vue';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';

const contents = useContents();
const slip = useSlip();
const keys = computed(() => contents.selectedKeys('surface'));
const values = computed(() => new Set(keys.value.map((k) => contents.valueOf(k) as string)));
const value = computed(() => (values.value.size === 1 ? [...values.value][0] : ''));
const put = (surface: string) => slip.setAll(keys.value.map((k) => [contents.pathOf(k), surface]));
</script>

<template>
  <label class="choice">
    surface
    <select
      class="entry"
      :value="value"
      data-test="surface-choice"
      @change="put(($event.target as HTMLSelectElement).value)"
    >
      <option v-if="value === ''" value="" disabled>differ</option>
      <option v-for="(surface, id) in contents.document?.surfaces" :key="id" :value="id">{{ surface.name }}</option>
    </select>
  </label>
</template>

<style scoped>
.choice {
  display: flex;
  align-items: center;
  gap: 10px;
}
select {
  flex: 1;
}
</style>
