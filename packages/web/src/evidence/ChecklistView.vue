<script setup lang="ts">
import type { ChecklistEvidence, Reference } from '@dusting/core/diagnose';

defineProps<{ evidence: ChecklistEvidence }>();
const emit = defineEmits<{ go: [to: Reference] }>();
const SIGNS = { passed: '✓', failed: '✕', unknown: '?' } as const;
const NAMES = { passed: 'holds', failed: 'does not hold', unknown: 'not known' } as const;
</script>

<template>
  <ul>
    <li v-for="(check, i) in evidence.checks" :key="i" :class="check.state">
      <span :title="NAMES[check.state]" :aria-label="NAMES[check.state]">{{ SIGNS[check.state] }}</span>
      <button v-if="check.about[0]" class="link" @click="emit('go', check.about[0])">{{ check.text }}</button>
      <template v-else>{{ check.text }}</template>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 7px;
  padding: 1px 0;
}
li.failed > span {
  color: #e8a87c;
}
li.passed > span {
  color: var(--dim);
}
</style>
