<script setup lang="ts">
// Patterns by which the logs of this house are read, beside those that are built in.
import { ref } from 'vue';
import { compilePattern, LOG_PATTERN_KINDS, type LogPatternKind } from '@dusting/core/frames';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';

/** Expressions that took too long, and were left out. */
defineProps<{ stopped: string[] }>();
const bench = useBench();
const edits = useEdits();
const NAMES: Record<LogPatternKind, string> = {
  time: 'frame time',
  memory: 'peak memory',
  missing: 'missing file',
  stamp: 'time stamp',
  error: 'an error',
  warning: 'a warning',
  note: 'a note',
};
const fact = ref<LogPatternKind>('time');
const expression = ref('');
const fault = ref('');
async function add() {
  const pattern = { fact: fact.value, expression: expression.value };
  fault.value = '';
  try {
    compilePattern(pattern);
  } catch (error) {
    fault.value = (error as Error).message;
    return;
  }
  if (await edits.addLogPattern(pattern)) expression.value = '';
}
</script>

<template>
  <p v-for="slow in stopped" :key="slow" class="fault" role="alert" data-test="log-pattern-stopped">
    ▲ The pattern <code>{{ slow }}</code> takes too long, and was left out: remove it or write it without nested
    repeats.
  </p>
  <details v-if="bench.shot">
    <summary>Patterns for logs of this house</summary>
    <p v-for="pattern in bench.shot.logPatterns" :key="pattern.id" class="pattern">
      <span
        >{{ NAMES[pattern.fact] }}: <code>{{ pattern.expression }}</code></span
      >
      <button class="tool" :aria-label="`Remove ${pattern.expression}`" @click="edits.removeLogPattern(pattern)">
        ×
      </button>
    </p>
    <form class="pattern" @submit.prevent="add">
      <select v-model="fact" class="entry" aria-label="What it finds" data-test="log-pattern-kind">
        <option v-for="kind in LOG_PATTERN_KINDS" :key="kind" :value="kind">{{ NAMES[kind] }}</option>
      </select>
      <input
        v-model="expression"
        class="entry"
        placeholder="took ([\d.]+ s)"
        aria-label="Regular expression"
        data-test="log-pattern"
      />
      <button class="tool" type="submit">Add</button>
    </form>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <p class="dim small">
      The first group in brackets is what is found; a line that fits “an error”, “a warning” or “a note” is one.
    </p>
  </details>
</template>

<style scoped>
.pattern {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
  padding-top: 4px;
  overflow-wrap: anywhere;
}
.pattern input {
  flex: 1;
  min-width: 0;
}
.small {
  font-size: 11.5px;
}
summary {
  cursor: pointer;
}
</style>
