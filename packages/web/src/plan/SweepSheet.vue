<script setup lang="ts">
// The trials of one sweep: pictures with noise and time, the knee of the curve marked.
import { computed } from 'vue';
import { isCount, kneeOf, type SweepValue } from '@dusting/core/plan';
import { raysIn } from '@dusting/core/render';
import { parameterAt, valueAt } from '@dusting/core/scene';
import { api, type Proof, type Sweep } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { lightnessUnits, seconds } from '../words.ts';
import ConfirmButton from '../bench/ConfirmButton.vue';
import ProofThumb from '../bench/ProofThumb.vue';
import { useSweepApart } from './useSweepApart.ts';

const props = defineProps<{ sweep: Sweep }>();
const bench = useBench();
const slip = useSlip();
const running = computed(() => props.sweep.trials.filter((t) => ['queued', 'rendering', 'merging'].includes(t.state)));
const title = (path: string) => parameterAt([props.sweep.use, ...path.split('/')])?.title ?? path;
const valueOf = (trial: Proof, path: string) => valueAt(trial.settings, path.split('/')) as SweepValue;
const name = (trial: Proof) => props.sweep.axes.map(({ path }) => `${title(path)} ${valueOf(trial, path)}`).join(', ');
const done = computed(() => props.sweep.trials.filter((t) => t.state === 'done'));
/** One sample tells no noise. */
const hasNoise = (trial: Proof) => trial.settings.pixelSamples > 1;
/** A setting that changes what is seen is judged by how far that is from the dearest picture, a count by the noise. */
const isSeen = computed(() => !props.sweep.axes.every(({ path }) => isCount(path)));
const apart = useSweepApart(
  () => props.sweep,
  () => isSeen.value,
);
const gainOf = (trial: Proof) => (isSeen.value ? apart.value.get(trial.id) : hasNoise(trial) ? (trial.noise ?? undefined) : undefined); // prettier-ignore
/** Of that against the rays: they say what a trial takes, whatever else the machine does. */
const knee = computed(() => {
  const told = done.value.flatMap((trial) => {
    const gain = gainOf(trial);
    return gain === undefined ? [] : [{ id: trial.id, cost: trial.statistics ? raysIn(trial.statistics) : 0, gain }];
  });
  return told[kneeOf(told)]?.id;
});
const take = (trial: Proof) =>
  slip.setAll(
    props.sweep.axes.map(({ path }): [string, unknown] => [`/${props.sweep.use}/${path}`, valueOf(trial, path)]),
  );
const stop = async () => {
  await bench.act(() => api.cancelSweep(props.sweep.id));
  await bench.refresh();
};
const remove = async () => {
  await bench.act(() => api.removeSweep(props.sweep.id));
  await bench.refresh();
};
</script>

<template>
  <div class="sweep" :data-test="`sweep-${sweep.id}`">
    <header>
      <b>{{ sweep.axes.map(({ path }) => title(path)).join(' and ') }}</b>
      <span class="dim">{{ sweep.region.width }} × {{ sweep.region.height }} px</span>
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
    <p v-if="running.length > 0 && done.length === 0" class="dim">The first trial is being rendered …</p>
    <div class="cells">
      <div
        v-for="trial in done"
        :key="trial.id"
        class="cell"
        :class="{ knee: trial.id === knee }"
        :data-test="`trial-${sweep.axes.map(({ path }) => valueOf(trial, path)).join('-')}`"
      >
        <button class="look" :title="`Look at ${name(trial)}`" @click="bench.show(trial.id)">
          <ProofThumb :proof="trial" />
        </button>
        <p>{{ name(trial) }}</p>
        <p class="number">
          {{ hasNoise(trial) ? lightnessUnits(trial.noise ?? 0) : 'noise unknown' }}, {{ seconds(trial.seconds ?? 0) }}
        </p>
        <p v-if="isSeen && apart.has(trial.id)" class="number" data-test="trial-apart">
          {{ apart.get(trial.id)! > 0 ? `${apart.get(trial.id)!.toFixed(2)} ΔE off the dearest` : 'the dearest' }}
        </p>
        <p v-if="trial.id === knee" class="mark" data-test="knee">
          ◣ knee of the curve, {{ isSeen ? 'difference' : 'noise' }} against rays
        </p>
        <button class="tool" @click="take(trial)">Put on the slip</button>
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
header {
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
.look {
  display: block;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.tool {
  margin-top: 3px;
}
</style>
