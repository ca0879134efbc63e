<script setup lang="ts">
// Always in reach: pending changes, what they will cost, and the two ways on.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import { useBench } from '../stores/bench.ts';
import { isOfScene, parameterAt, pathKeys, placeWords, valueWords } from '@dusting/core/scene';
import RayBudget from '../plan/RayBudget.vue';
import { useEdits } from '../stores/edits.ts';
import { useSlip, type SlipLine } from '../stores/slip.ts';
import { lightnessUnits, megabytes, proofName, seconds } from '../words.ts';

const bench = useBench();
const edits = useEdits();
const slip = useSlip();
const short = (line: SlipLine, v: unknown) => valueWords(pathKeys(line.path), v, slip.document!);
const unit = (line: SlipLine) => parameterAt(pathKeys(line.path), slip.document)?.unit ?? '';
const partChange = (line: SlipLine) =>
  pathKeys(line.path).length > 2 || line.path.startsWith('/environment/') ? '' : line.old === undefined ? 'added' : line.new === undefined ? 'removed' : ''; // prettier-ignore
const otherLines = computed(() =>
  (bench.other?.theirs ?? []).map((o) => {
    const keys = pathKeys(o.path);
    return `${placeWords(keys, slip.document!)} ${valueWords(keys, 'value' in o ? o.value : undefined, slip.document!)}`;
  }),
);
const keeping = ref(false);
const reason = ref('');
async function keep() {
  if (!(await edits.keepSlip(reason.value))) return;
  keeping.value = false;
  reason.value = '';
}
/** Lines that change the scene and not its settings. */
const sceneLines = computed(() => slip.patch.filter(isOfScene).length);
const pilot = computed(() => bench.shot?.proofs.find((p) => p.id === slip.prediction?.pilot));
</script>

<template>
  <section class="slip" aria-label="Change slip" data-test="slip">
    <header>
      <h2>Change slip</h2>
      <span v-if="bench.unsent" class="dim" data-test="unsent">not sent yet: the server is away</span>
    </header>
    <div v-if="bench.other" class="other" role="alert" data-test="other-window">
      <p>
        Another window changed this shot{{ bench.other.revision ? `: revision ${bench.other.revision}` : '' }}.
        {{ bench.other.theirs.length > 0 ? `Its slip: ${otherLines.join('; ')}.` : 'Its slip is empty.' }}
        {{ bench.other.held ? 'What you have here is not saved yet.' : '' }}
      </p>
      <div class="acts">
        <Button
          label="Take it"
          size="small"
          severity="secondary"
          data-test="take-theirs"
          @click="bench.settle('theirs')"
        />
        <Button
          label="Keep mine"
          size="small"
          severity="secondary"
          data-test="keep-mine"
          @click="bench.settle('mine')"
        />
      </div>
    </div>
    <p v-if="slip.lines.length === 0" class="dim">
      No pending changes. Change a setting, or take a remedy, and it is collected here.
    </p>
    <div v-else class="lines">
      <table>
        <tbody>
          <tr v-for="line in slip.lines" :key="line.path" :data-test="`line-${line.key}`">
            <td>{{ line.label }}</td>
            <!-- a part that comes or goes whole has its name on the left -->
            <td v-if="partChange(line)" class="dim values">{{ partChange(line) }}</td>
            <td v-else class="number values">
              <span class="dim">{{ short(line, line.old) }} →</span> {{ short(line, line.new) }}
              <span class="dim">{{ unit(line) }}</span>
            </td>
            <td class="off">
              <button :aria-label="`Take ${line.label} off the slip`" @click="slip.set(line.path, line.old)">×</button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="note in slip.notes" :key="note" class="note" data-test="slip-note">▲ {{ note }}</p>
    <p v-if="sceneLines > 0" class="dim" data-test="scene-lines">
      Predictions ignore scene edits. Run a trial to measure noise and time.
    </p>
    <p v-if="slip.prediction && sceneLines < slip.lines.length" data-test="prediction">
      Predicted <span class="number">{{ seconds(slip.prediction.seconds.value) }}</span> a frame<span
        v-if="seconds(slip.prediction.seconds.low) !== seconds(slip.prediction.seconds.high)"
        class="dim"
      >
        ({{ seconds(slip.prediction.seconds.low) }} to {{ seconds(slip.prediction.seconds.high) }})</span
      ><template v-if="bench.region"
        >, <span class="number">{{ seconds(slip.prediction.regionSeconds.value) }}</span> for the region</template
      ><template v-if="slip.prediction.noise"
        >, noise <span class="number">{{ lightnessUnits(slip.prediction.noise.value) }}</span>.</template
      ><template v-else>, run a trial to measure the noise.</template>
      <template v-if="slip.prediction.memory !== null">
        {{ ' ' }}Memory <span class="number">{{ megabytes(slip.prediction.memory) }}</span>.
      </template>
      <span v-if="pilot" class="dim" data-test="by-pilot"> Predicted from {{ proofName(pilot) }}.</span>
    </p>
    <p v-else-if="slip.isPredicting" class="dim">Predicting …</p>
    <p v-else-if="slip.lines.length > sceneLines" class="dim">
      No prediction: render a proof with these settings first.
    </p>
    <RayBudget v-if="slip.prediction && sceneLines < slip.lines.length" :rows="slip.prediction.rays" />
    <footer v-if="slip.lines.length > 0">
      <Button
        :label="bench.region ? 'Try on the region' : 'Try on the frame'"
        :disabled="!!bench.busy || slip.isTrying"
        data-test="try"
        @click="slip.tryOut"
      />
      <Button
        v-tooltip.top="'Makes the next revision of it, without a trial'"
        label="Keep"
        severity="secondary"
        data-test="keep-slip"
        @click="keeping = !keeping"
      />
      <Button label="Throw away" severity="secondary" text @click="slip.change([])" />
    </footer>
    <form v-if="keeping && slip.lines.length > 0" class="keep" @submit.prevent="keep">
      <input
        class="entry"
        v-model="reason"
        placeholder="Why (may be left out)"
        aria-label="Why it is kept"
        data-test="keep-reason"
      />
      <Button type="submit" label="Keep it" size="small" data-test="keep-it" />
    </form>
  </section>
</template>

<style scoped>
.slip {
  border-top: 1px solid var(--line);
  background: #404040;
  padding: 8px 12px 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
  max-height: 60%;
  overflow-y: auto;
  flex: none;
}
header,
footer {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
td {
  padding: 2px 6px 2px 0;
}
.values {
  text-align: right;
  white-space: nowrap;
}
.off {
  width: 20px;
}
.off button {
  background: none;
  border: 0;
  color: var(--dim);
  cursor: pointer;
  font-size: 15px;
  line-height: 1;
}
.other {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
  display: flex;
  flex-direction: column;
  gap: 5px;
}
.lines {
  max-height: 118px;
  overflow-y: auto;
}
.keep {
  display: flex;
  gap: 6px;
}
.keep input {
  flex: 1;
}
.note {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
  line-height: 1.35;
}
</style>
