<script setup lang="ts">
// The trials of one sweep: pictures with noise and time, the knee of the curve marked.
import { computed, ref } from 'vue';
import { kneeOf, sweepCurve, sweptValue } from '@dusting/core/plan';
import { raysIn } from '@dusting/core/render';
import { parameterAt, pathKeys, valueAt, valueWords } from '@dusting/core/scene';
import { api, type Proof, type Sweep } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { lightnessUnits, seconds } from '../words.ts';
import ConfirmButton from '../parts/ConfirmButton.vue';
import ProofPicture from '../proofs/ProofPicture.vue';
import { saveCanvas } from '../parts/saveFile.ts';
import { drawSheet } from '../picture/drawSheet.ts';
import { useLook } from '../stores/look.ts';
import { axisWords } from './sweepParameters.ts';
import { useSweepApart } from './useSweepApart.ts';

const props = defineProps<{ sweep: Sweep }>();
const bench = useBench();
const slip = useSlip();
const look = useLook();
const running = computed(() => props.sweep.trials.filter((t) => ['queued', 'rendering', 'merging'].includes(t.state)));
const axes = computed(() =>
  props.sweep.axes.map(({ path }) => {
    const keys = pathKeys(path);
    const parameter = parameterAt(keys, slip.document);
    const unit = parameter && parameter.kind !== 'whole' ? parameter.unit : ''; // of counts it says nothing new
    return { path, keys, unit, own: parameter?.title, title: axisWords(keys, slip.document!) };
  }),
);
const heading = computed(() => axes.value.map((axis) => axis.title).join(' and '));
const wordsOf = (trial: Proof, { path, keys, unit }: (typeof axes.value)[number]) =>
  `${valueWords(keys, sweptValue(trial.patch, path), slip.document!)} ${unit}`.trim();
/** The heading says of what. */
const name = (trial: Proof) =>
  axes.value.map((axis) => (axes.value.length > 1 ? `${axis.own} ` : '') + wordsOf(trial, axis)).join(', ');
const done = computed(() => props.sweep.trials.filter((t) => t.state === 'done'));
const curve = computed(() => sweepCurve(props.sweep.axes));
const apart = useSweepApart(
  () => props.sweep,
  () => curve.value !== 'noise against rays',
);
/** The noise of one sample cannot be measured. */
const noiseOf = (trial: Proof) => (trial.settings.pixelSamples > 1 ? (trial.noise ?? undefined) : undefined);
const deltaOf = (trial: Proof) => apart.value?.deltas.get(trial.id);
/** Rays say what a trial takes, whatever else the machine does. */
const raysOf = ({ statistics }: Proof) => (statistics ? raysIn(statistics) : undefined);
const knee = computed(() => {
  const [gainOf, costOf] = { 'noise against rays': [noiseOf, raysOf], 'difference against rays': [deltaOf, raysOf], 'noise against difference': [noiseOf, deltaOf] }[curve.value]; // prettier-ignore
  const points = done.value.flatMap((trial) => {
    const [gain, cost] = [gainOf(trial), costOf(trial)];
    return gain === undefined || cost === undefined ? [] : [{ id: trial.id, cost, gain }];
  });
  return points[kneeOf(points)]?.id;
});
const kneeWords = computed(() => `knee of the curve, ${curve.value}`);
const ofScene = computed(() => curve.value === 'noise against difference');
const reference = computed(() => (ofScene.value ? 'unchanged' : 'the most expensive'));
function linesOf(trial: Proof): string[] {
  const [noise, delta] = [noiseOf(trial), deltaOf(trial)];
  const apartWords = trial.id === apart.value?.reference ? reference.value : `${delta?.toFixed(2)} ΔE off ${reference.value}`; // prettier-ignore
  return [
    name(trial),
    `${noise === undefined ? 'noise unknown' : lightnessUnits(noise)}, ${seconds(trial.seconds ?? 0)}`,
    ...(delta === undefined ? [] : [apartWords]),
  ];
}

/** What was swept may be gone by now. */
const canTake = computed(() => axes.value.every(({ keys }) => valueAt(slip.document, keys) !== undefined));
const take = (trial: Proof) =>
  slip.setAll(axes.value.map(({ path }): [string, unknown] => [path, sweptValue(trial.patch, path)]));
const stop = async () => {
  await bench.act(() => api.cancelSweep(props.sweep.id));
  await bench.refresh();
};
const pictures = ref<InstanceType<typeof ProofPicture>[]>([]);
async function save() {
  const shown = new Map(pictures.value.map(({ $props, canvas }) => [$props.proof.id, canvas!]));
  const cells = done.value.map((trial) => ({
    canvas: shown.get(trial.id)!,
    lines: [...linesOf(trial), ...(trial.id === knee.value ? [kneeWords.value] : [])],
  }));
  const title = `${bench.shot!.name}: ${heading.value}, ${look.words}`;
  await bench.act(() => saveCanvas(drawSheet(cells, props.sweep.axes.at(-1)!.values.length, title), `${bench.shot!.name}_sweep.png`)); // prettier-ignore
}
const remove = async () => {
  await bench.act(() => api.removeSweep(props.sweep.id));
  await bench.refresh();
};
</script>

<template>
  <div class="sweep" :data-test="`sweep-${sweep.id}`">
    <header>
      <b>{{ heading }}</b>
      <button v-if="running.length > 0" class="tool" data-test="sweep-stop" @click="stop">
        Stop, {{ running.length }} left
      </button>
      <ConfirmButton
        v-else
        label="Delete"
        question="Delete the sweep and its trials?"
        yes="Delete them"
        test-id="sweep-delete"
        @confirm="remove"
      />
    </header>
    <p class="dim under">
      {{ sweep.region.width }} × {{ sweep.region.height }} px
      <button v-if="done.length > 0" class="tool" data-test="sweep-save" @click="save">Save as PNG</button>
    </p>
    <p v-if="running.length > 0 && done.length === 0" class="dim">The first trial is being rendered …</p>
    <p v-if="ofScene && apart?.reference === null" class="dim">
      Add the current value to the sweep to see how far the other trials are from it.
    </p>
    <div class="cells">
      <div
        v-for="trial in done"
        :key="trial.id"
        class="cell"
        :class="{ knee: trial.id === knee }"
        :data-test="`trial-${axes.map(({ path }) => sweptValue(trial.patch, path)).join('-')}`"
      >
        <button class="look" :title="`Look at ${name(trial)}`" @click="bench.show(trial.id)">
          <ProofPicture ref="pictures" :proof="trial" />
        </button>
        <p v-for="(line, i) in linesOf(trial)" :key="i" :class="i === 0 ? 'value' : 'number'">{{ line }}</p>
        <p v-if="trial.id === knee" class="mark" data-test="knee">◣ {{ kneeWords }}</p>
        <button class="tool" :disabled="!canTake" @click="take(trial)">Put on the slip</button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.sweep {
  border-top: 1px solid var(--line);
  padding-top: 8px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
header,
.under {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
.cells {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.cell {
  border: 1px solid var(--line);
  padding: 4px;
  font-size: 12px;
  line-height: 1.35;
}
.cell.knee {
  border-color: var(--wax);
}
.mark {
  color: var(--wax);
}
.value {
  font-weight: 650;
}
.look {
  display: block;
  width: 100%;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.tool {
  margin-top: 3px;
}
</style>
