<script setup lang="ts">
// What a diagnosis found, whatever its kind: one sentence, what else is wrong there, causes, what helps, and the evidence.
import { computed } from 'vue';
import Button from 'primevue/button';
import { DIAGNOSES, percent, type Explanation } from '@dusting/core/diagnose';
import EvidenceView from '../evidence/EvidenceView.vue';
import { colourOf } from '../evidence/palette.ts';
import { useBench } from '../stores/bench.ts';
import { useDiagnosis, type Sketch } from '../stores/diagnosis.ts';
import { useLook } from '../stores/look.ts';
import { useSlip } from '../stores/slip.ts';
import { DEFECT_SIGNS, proofName } from '../words.ts';
import BringMesh from './BringMesh.vue';
import FindingLine from './FindingLine.vue';
import RemedyCard from './RemedyCard.vue';
import { useExplainAs } from './useExplainAs.ts';
import { useGoTo } from './useGoTo.ts';

const props = defineProps<{ result: Explanation }>();
const emit = defineEmits<{ model: [] }>();
const bench = useBench();
const diagnosis = useDiagnosis();
const explainAs = useExplainAs();
const look = useLook();
const slip = useSlip();
const goTo = useGoTo();
/** The first pieces lie open, the others are one press away. */
const OPEN_AT_FIRST = 2;
const causes = computed(() => props.result.causes.filter(({ share }) => share === null || share >= 0.005));
const trialOf = (remedy: Explanation['remedies'][number]) => {
  const trial = diagnosis.trialOf(remedy);
  const values = trial && diagnosis.measured.get(trial.id);
  return values ? { name: proofName(trial), values } : null;
};
/** A number stays on the line of its unit. */
const bound = (line: string) => line.replace(/(\d) (?=%|L\*|(m|mm|km|px|s|ms|EV)\b)/g, '$1\u00a0');
function draw(sketch: Sketch) {
  diagnosis.sketch = sketch;
  emit('model');
}
</script>

<template>
  <div class="summary" data-test="summary">
    <p v-for="line in result.summary.split('\n')" :key="line">{{ bound(line) }}</p>
  </div>
  <FindingLine v-for="other in result.others" :key="other.id" :finding="other" data-test="other" @go="goTo">
    <Button
      v-if="other.kind && DIAGNOSES[other.kind]"
      :label="`Explain as ${DEFECT_SIGNS[other.kind].name}`"
      size="small"
      text
      :data-test="`explain-${other.kind}`"
      @click="explainAs(other.kind, result.region)"
    />
  </FindingLine>
  <BringMesh v-if="bench.isFrames && result.kind === 'displacement'" />
  <template v-if="causes.length > 0">
    <h3>Causes</h3>
    <ol class="causes">
      <li v-for="cause in causes" :key="cause.id" :data-test="`cause-${cause.id}`">
        <span>{{ cause.title }}</span>
        <template v-if="cause.share !== null">
          <span class="number">{{ percent(cause.share) }}</span>
          <i :style="{ width: `${100 * cause.share}%`, background: colourOf(cause.id) }" />
        </template>
      </li>
    </ol>
  </template>
  <template v-if="result.remedies.length > 0">
    <h3>What helps</h3>
    <RemedyCard
      v-for="remedy in result.remedies"
      :key="remedy.id"
      :remedy="remedy"
      :trial="trialOf(remedy)"
      @take="slip.add(remedy.patch)"
    />
  </template>
  <Button
    v-if="result.kind === 'noise' && !bench.isFrames"
    label="Plan the samples that meet the limit"
    severity="secondary"
    data-test="to-plan"
    @click="bench.panel = 'plan'"
  />
  <h3>Evidence</h3>
  <EvidenceView
    v-for="(evidence, i) in result.evidence"
    :key="evidence.id"
    :evidence="evidence"
    :open="i < OPEN_AT_FIRST"
    :shown="diagnosis.overlayId === evidence.id"
    :view="look.plain"
    @go="goTo"
    @show="diagnosis.overlayId = $event ? evidence.id : null"
    @draw="draw"
    @mark="diagnosis.sketch = $event"
    @set="slip.setAll"
    @paint="diagnosis.layer = $event"
  />
</template>

<style scoped>
.summary {
  display: grid;
  gap: 7px;
  font-size: 14.5px;
  line-height: 1.4;
}
h3 {
  font-weight: 600;
  margin-top: 4px;
}
.causes {
  list-style: none;
  margin: 0;
  padding: 0;
}
.causes li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 8px;
  padding: 2px 0;
}
.causes i {
  grid-column: 1 / -1;
  height: 4px;
}
</style>
