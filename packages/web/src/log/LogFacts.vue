<script setup lang="ts">
// What a log that another renderer wrote says about its frame.
import type { LogFacts, LogTimes } from '@dusting/core/frames';
import { megabytes, seconds } from '../words.ts';

defineProps<{ facts: LogFacts; times: LogTimes | null }>();
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
  <template v-if="times">
    <p data-test="log-times">
      By its time stamps the log spans <span class="number">{{ seconds(times.span) }}</span><template
        v-if="times.steps.length > 0"
        >; the longest steps come after:</template
      >
    </p>
    <table v-if="times.steps.length > 0">
      <tbody>
        <tr v-for="(step, i) in times.steps" :key="i">
          <td>{{ step.after }}</td>
          <td class="number">{{ seconds(step.seconds) }}</td>
        </tr>
      </tbody>
    </table>
  </template>
  <p v-if="facts.missing.length > 0" data-test="log-missing">▲ Not found: {{ facts.missing.join(', ') }}</p>
</template>

<style scoped>
td {
  overflow-wrap: anywhere;
}
td.number {
  text-align: right;
  white-space: nowrap;
}
</style>
