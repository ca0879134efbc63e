<script setup lang="ts">
// The revisions in words: returned to, compared, noted.
import { computed, ref, watch } from 'vue';
import Button from 'primevue/button';
import { api } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { ago } from '../words.ts';

/** Changes of a revision that are shown at once. */
const MOST_LINES = 4;

const bench = useBench();
const edits = useEdits();
/** Two revisions to compare, in the order of their numbers. */
const picked = ref<number[]>([]);
const compared = ref<string[] | null>(null);
function pick(number: number) {
  const others = picked.value.filter((n) => n !== number);
  picked.value = (others.length < picked.value.length ? others : [...others, number]).slice(-2).sort((a, b) => a - b);
}
watch([() => picked.value.join(), () => bench.shot?.id], async () => {
  compared.value = null;
  const [from, to] = picked.value;
  const { shot } = bench;
  if (!shot || to === undefined) return;
  compared.value = (await bench.load(() => api.changes(shot.id, from, to))) ?? null;
});
const whole = ref<number | null>(null);
const shown = computed(() =>
  (bench.shot?.revisions ?? []).map((r) => {
    const lines = whole.value === r.number ? r.changes : r.changes.slice(0, MOST_LINES);
    return { ...r, lines, more: r.changes.length - lines.length };
  }),
);
</script>

<template>
  <h2>Revisions</h2>
  <div v-if="picked.length > 0" class="compared" data-test="compared-revisions">
    <p v-if="picked.length === 1" class="dim">Choose another revision to compare with revision {{ picked[0] }}.</p>
    <template v-else-if="compared">
      <p>
        <b>{{ picked[0] }} to {{ picked[1] }}</b>
        {{ compared.length === 0 ? 'Nothing differs.' : '' }}
      </p>
      <p v-for="line in compared" :key="line">{{ line }}</p>
    </template>
  </div>
  <div v-for="r in shown" :key="r.number" class="revision" :data-test="`revision-${r.number}`">
    <p>
      <b>{{ r.number }}</b> {{ r.reason || r.lines[0] }}
      <span class="dim">{{ r.number === bench.shot?.revision ? 'present' : '' }}</span>
    </p>
    <template v-for="line in r.lines" :key="line">
      <p v-if="line !== (r.reason || r.lines[0])" class="line">{{ line }}</p>
    </template>
    <button v-if="r.more > 0" class="more" @click="whole = r.number">{{ r.more }} more</button>
    <p class="dim">{{ ago(r.createdAt) }}</p>
    <textarea
      :value="r.note"
      rows="1"
      maxlength="2000"
      placeholder="Note"
      :aria-label="`Note of revision ${r.number}`"
      :data-test="`revision-note-${r.number}`"
      @change="edits.noteRevision(r.number, ($event.target as HTMLTextAreaElement).value)"
    />
    <div class="acts">
      <Button
        v-if="r.number !== bench.shot?.revision"
        label="Return to this"
        size="small"
        text
        severity="secondary"
        @click="edits.revert(r.number)"
      />
      <Button
        :label="picked.includes(r.number) ? 'Compared' : 'Compare'"
        size="small"
        text
        severity="secondary"
        :aria-pressed="picked.includes(r.number)"
        :data-test="`compare-revision-${r.number}`"
        @click="pick(r.number)"
      />
    </div>
  </div>
</template>

<style scoped>
.revision {
  border-bottom: 1px solid var(--line);
  padding-bottom: 4px;
}
.line {
  padding-left: 14px;
}
.more {
  border: 0;
  padding: 0 0 0 14px;
  background: none;
  color: var(--dim);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
.compared {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
}
textarea {
  width: 100%;
  margin-top: 3px;
  padding: 3px 6px;
  background: var(--wall);
  border: 1px solid transparent;
  color: var(--text);
  font: inherit;
  resize: vertical;
}
textarea:focus {
  border-color: var(--wax);
  outline: none;
}
</style>
