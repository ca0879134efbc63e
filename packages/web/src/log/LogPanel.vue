<script setup lang="ts">
// The log of a proof: messages by severity, those that say the same together, harmless ones out of the count.
import { computed, ref, watch } from 'vue';
import Button from 'primevue/button';
import { severeCount, groupLog, LOG_PATTERNS, type LogGroup } from '@dusting/core/frames';
import type { Proof } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import { useEdits } from '../stores/edits.ts';
import { FINDING_SIGNS, proofName } from '../words.ts';
import LogFacts from './LogFacts.vue';
import LogPatterns from './LogPatterns.vue';
import { readLog } from './readLog.ts';

const props = defineProps<{ proof: Proof }>();
const bench = useBench();
const contents = useContents();
const edits = useEdits();
const patterns = computed(() => [...(bench.shot?.logPatterns ?? []), ...LOG_PATTERNS]);
/** Those of the house give the severity of a line of another renderer. null: it is being read. */
const reading = ref<Awaited<ReturnType<typeof readLog>> | null>(null);
let asked = 0;
watch(
  () => (bench.isFrames ? ([props.proof.log, patterns.value] as const) : null),
  async (wanted) => {
    const mine = ++asked;
    const read = wanted ? await bench.act(() => readLog(...wanted)) : null;
    if (mine === asked) reading.value = read ?? null;
  },
  { immediate: true },
);
const lines = computed(() => (bench.isFrames ? (reading.value?.lines ?? []) : props.proof.log));
const groups = computed(() => groupLog(lines.value, bench.shot?.harmless ?? []));
const severe = computed(() => severeCount(groups.value));
const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
const count = computed(() => {
  const { errors, warnings } = severe.value;
  const parts = [errors > 0 && counted(errors, 'error'), warnings > 0 && counted(warnings, 'warning')].filter(Boolean);
  return parts.length > 0 ? parts.join(', ') : 'No errors or warnings';
});
const marking = ref<string | null>(null);
const reason = ref('');
async function mark(group: LogGroup, house: boolean) {
  if (!(await edits.markHarmless(group.key, reason.value, house))) return;
  marking.value = null;
  reason.value = '';
}
function unmark(group: LogGroup) {
  const found = bench.shot!.harmless.find((h) => h.key === group.key);
  if (found) void edits.unmarkHarmless(found);
}
/** What of the scene the message names: the longest of the names in it. */
function concerned({ text }: LogGroup) {
  const named = contents.all.filter(({ name }) => name.length > 2 && text.includes(name));
  return named.sort((a, b) => b.name.length - a.name.length)[0] ?? null;
}
</script>

<template>
  <h2>
    Log of {{ proofName(proof) }}: <span data-test="log-count">{{ count }}</span>
  </h2>
  <template v-if="bench.isFrames">
    <LogFacts v-if="reading" :facts="reading.facts" :times="reading.times" />
    <p v-else class="dim">Reading the log …</p>
    <LogPatterns :stopped="reading?.stopped.map(({ expression }) => expression) ?? []" />
  </template>
  <div v-for="group in groups" :key="group.key" class="group" :class="{ quiet: group.harmless !== null }">
    <p>
      {{ FINDING_SIGNS[group.level] }} {{ group.text }}
      <span v-if="group.count > 1" class="dim">{{ group.count }} times</span>
    </p>
    <p v-if="group.harmless !== null" class="dim">harmless: {{ group.harmless }}</p>
    <p class="links">
      <button v-if="concerned(group)" @click="contents.pick(concerned(group))">{{ concerned(group)!.name }}</button>
      <button v-if="group.harmless !== null" @click="unmark(group)">Stop ignoring</button>
      <button
        v-else-if="group.level !== 'note'"
        :aria-expanded="marking === group.key"
        data-test="mark-harmless"
        @click="marking = marking === group.key ? null : group.key"
      >
        harmless …
      </button>
    </p>
    <form v-if="marking === group.key" class="mark" @submit.prevent="mark(group, false)">
      <input v-model="reason" class="entry" placeholder="Why it is harmless" aria-label="Why it is harmless" />
      <div class="acts">
        <Button type="submit" label="In this shot" size="small" :disabled="!reason.trim()" data-test="harmless-here" />
        <Button
          label="In every shot"
          size="small"
          severity="secondary"
          :disabled="!reason.trim()"
          @click="mark(group, true)"
        />
      </div>
    </form>
  </div>
</template>

<style scoped>
.group {
  overflow-wrap: anywhere;
}
.quiet {
  color: var(--dim);
}
.links {
  display: flex;
  gap: 10px;
}
.links button {
  border: 0;
  padding: 0;
  background: none;
  color: var(--dim);
  font: inherit;
  font-size: 12px;
  text-decoration: underline;
  cursor: pointer;
}
.mark {
  display: flex;
  flex-direction: column;
  gap: 5px;
  padding: 4px 0;
}
</style>
