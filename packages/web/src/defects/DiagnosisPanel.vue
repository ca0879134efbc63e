<script setup lang="ts">
// The selected defect or region: marking it, explaining it, and what helps.
import { computed } from 'vue';
import Button from 'primevue/button';
import ProgressBar from 'primevue/progressbar';
import { DIAGNOSES } from '@dusting/core/diagnose';
import { useBench } from '../stores/bench.ts';
import { useDiagnosis } from '../stores/diagnosis.ts';
import { useEdits } from '../stores/edits.ts';
import { DEFECT_SIGNS, DEFECT_STATES, proofName } from '../words.ts';
import ExpectedObject from './ExpectedObject.vue';
import DiagnosisResult from './DiagnosisResult.vue';
import MarkDefect from './MarkDefect.vue';

const emit = defineEmits<{ model: [] }>();
const bench = useBench();
const diagnosis = useDiagnosis();
const edits = useEdits();
const module = computed(() => (bench.defect ? DIAGNOSES[bench.defect.kind] : undefined));
const mayExplain = computed(() => !diagnosis.isRunning && !diagnosis.result);
const shown = computed(() => (bench.proof ? proofName(bench.proof) : 'a proof'));
</script>

<template>
  <MarkDefect v-if="!bench.defect" />
  <section v-else>
    <header>
      <h2>
        {{ DEFECT_SIGNS[bench.defect.kind].sign }} D{{ bench.defect.number }}:
        {{ DEFECT_SIGNS[bench.defect.kind].name }}
      </h2>
      <span data-test="defect-state"
        >{{ DEFECT_STATES[bench.defect.state].sign }} {{ DEFECT_STATES[bench.defect.state].name }}</span
      >
    </header>
    <p v-if="!module" class="dim">
      There is no diagnosis for this kind yet. The line below the picture says how much light each depth limit cuts off
      here, and the layers “cut off by a limit” show where.
    </p>
    <template v-else>
      <ExpectedObject v-if="module.asks && !bench.isFrames" :asks="module.asks" />
      <p v-if="diagnosis.view?.state === 'failed'" role="alert">▲ {{ diagnosis.view.error }}</p>
      <p v-if="diagnosis.view?.state === 'cancelled'" class="dim">The diagnosis was cancelled.</p>
      <Button
        v-if="mayExplain"
        :label="`Explain it on ${shown}`"
        :disabled="bench.proof?.state !== 'done'"
        data-test="explain"
        @click="diagnosis.explain()"
      />
      <div v-if="diagnosis.isRunning" class="running" data-test="diagnosing">
        <p>{{ diagnosis.view!.stage || 'Reading the proof' }} …</p>
        <ProgressBar :value="Math.round(100 * diagnosis.view!.progress)" aria-label="Progress of the diagnosis" />
        <Button
          label="Cancel"
          size="small"
          severity="secondary"
          data-test="cancel-diagnosis"
          @click="diagnosis.cancel()"
        />
      </div>
    </template>
    <template v-if="diagnosis.result">
      <p v-if="diagnosis.on && diagnosis.on.id !== bench.proofId" class="dim">
        Explained on {{ proofName(diagnosis.on) }}.
        <button class="link" data-test="explain-shown" @click="diagnosis.explain()">
          Explain it on {{ shown }} instead
        </button>
      </p>
      <div v-if="diagnosis.view!.outOfDate.length > 0" class="old" data-test="out-of-date">
        <span>▲ Out of date: {{ diagnosis.view!.outOfDate.join('; ') }}.</span>
        <Button
          label="Explain it again"
          size="small"
          severity="secondary"
          data-test="explain-again"
          @click="diagnosis.explainAgain()"
        />
      </div>
      <DiagnosisResult :result="diagnosis.result" @model="emit('model')" />
    </template>
    <footer>
      <Button
        v-if="bench.defect.state !== 'fixed'"
        label="Mark as fixed"
        size="small"
        severity="secondary"
        data-test="fixed"
        @click="edits.setDefectState(bench.defect, 'fixed')"
      />
      <Button
        v-if="bench.defect.state === 'open' || bench.defect.state === 'explained'"
        label="Accept it"
        size="small"
        severity="secondary"
        @click="edits.setDefectState(bench.defect, 'accepted')"
      />
      <Button
        v-else
        label="Open again"
        size="small"
        severity="secondary"
        @click="edits.setDefectState(bench.defect, 'open')"
      />
      <Button label="Remove" size="small" text severity="secondary" @click="edits.removeDefect(bench.defect)" />
    </footer>
  </section>
</template>

<style scoped>
section {
  display: flex;
  flex-direction: column;
  gap: 8px;
  align-items: stretch;
}
header {
  display: flex;
  justify-content: space-between;
}
.running {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.old {
  display: flex;
  flex-direction: column;
  gap: 6px;
  align-items: flex-start;
  border-left: 3px solid var(--wax);
  padding-left: 8px;
}
footer {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 6px;
}
</style>
