<script setup lang="ts">
// What a log that another renderer wrote says about its frame, and the patterns that find it.
import { computed, ref } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { LOG_FACTS, LOG_PATTERNS, readLogFacts, type LogFact, type LogPattern } from '@dusting/core/frames';
import type { Proof } from '../api.ts';
import { megabytes, seconds } from '../words.ts';

const props = defineProps<{ proof: Proof }>();
const own = useLocalStorage<LogPattern[]>('dusting.logPatterns', []);
const facts = computed(() => readLogFacts(props.proof.log, [...LOG_PATTERNS, ...own.value]));
const NAMES: Record<LogFact, string> = { time: 'frame time', memory: 'peak memory', missing: 'missing file' };
const fact = ref<LogFact>('time');
const expression = ref('');
const fault = ref('');
function add() {
  const pattern = { fact: fact.value, expression: expression.value };
  try {
    readLogFacts([], [pattern]);
    own.value = [...own.value, pattern];
    expression.value = fault.value = '';
  } catch (error) {
    fault.value = (error as Error).message;
  }
}
</script>

<template>
  <p v-if="facts.time !== null || facts.memory !== null" data-test="log-facts">
    <template v-if="facts.time !== null"
      >Frame time <span class="number">{{ seconds(facts.time) }}</span>.
    </template>
    <template v-if="facts.memory !== null"
      >Peak memory <span class="number">{{ megabytes(facts.memory) }}</span>.
    </template>
    <span class="dim">As the log says.</span>
  </p>
  <p v-if="facts.missing.length > 0" data-test="log-missing">▲ Not found: {{ facts.missing.join(', ') }}</p>
  <details>
    <summary>Patterns for this log</summary>
    <p v-for="(pattern, i) in own" :key="pattern.expression" class="pattern">
      <span
        >{{ NAMES[pattern.fact] }}: <code>{{ pattern.expression }}</code></span
      >
      <button class="tool" :aria-label="`Remove ${pattern.expression}`" @click="own = own.filter((_, k) => k !== i)">
        ×
      </button>
    </p>
    <form class="pattern" @submit.prevent="add">
      <select v-model="fact" class="entry" aria-label="What it finds">
        <option v-for="f in LOG_FACTS" :key="f" :value="f">{{ NAMES[f] }}</option>
      </select>
      <input
        v-model="expression"
        class="entry"
        placeholder="took ([\d.]+ s)"
        aria-label="Regular expression with one group"
        data-test="log-pattern"
      />
      <button class="tool" type="submit">Add</button>
    </form>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
  </details>
</template>

<style scoped>
.pattern {
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: space-between;
  padding-top: 4px;
}
.pattern input {
  flex: 1;
  min-width: 0;
}
summary {
  cursor: pointer;
}
</style>
