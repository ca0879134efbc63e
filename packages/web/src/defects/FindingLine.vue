<script setup lang="ts">
// One finding, with links to what it is about.
import type { Finding, Reference } from '@dusting/core/diagnose';
import { FINDING_SIGNS } from '../words.ts';

defineProps<{ finding: Finding }>();
const emit = defineEmits<{ go: [to: Reference] }>();
const nameOf = (to: Reference) => {
  switch (to.type) {
    case 'setting':
      return to.path;
    case 'pixel':
      return `pixel ${to.x}, ${to.y}`;
    case 'region':
      return `region ${to.region.x}, ${to.region.y}`;
    case 'file':
      return to.place;
    default:
      return to.name;
  }
};
</script>

<template>
  <p class="finding" :class="finding.severity" data-test="finding">
    <span :title="finding.severity">{{ FINDING_SIGNS[finding.severity] }}</span>
    <span
      >{{ finding.text }}
      <button
        v-for="(to, i) in finding.about.filter((to) => to.type !== 'file')"
        :key="i"
        class="link"
        @click="emit('go', to)"
      >
        {{ nameOf(to) }}
      </button>
      <slot />
    </span>
  </p>
</template>

<style scoped>
.finding {
  display: flex;
  gap: 7px;
}
.error > span:first-child {
  color: #ee8c78;
}
.warning > span:first-child {
  color: var(--wax);
}
.link {
  margin-right: 6px;
}
</style>
