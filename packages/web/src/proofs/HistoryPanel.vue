<script setup lang="ts">
import { computed } from 'vue';
import { importFindings, percent } from '@dusting/core/diagnose';
import { useBench } from '../stores/bench.ts';
import { megabytes, MEMORY_NAMES, proofName, seconds } from '../words.ts';
import FindingLine from '../defects/FindingLine.vue';
import ConfirmButton from '../parts/ConfirmButton.vue';
import LogPanel from '../log/LogPanel.vue';
import ProofNotes from './ProofNotes.vue';
import RevisionList from './RevisionList.vue';

const bench = useBench();
/** Of the types that there are. */
const rays = computed(() => Object.entries(bench.proof?.statistics?.rays ?? {}).filter(([, count]) => count > 0));
/** Events that a camera sample leads to, all of its splits together. */
const bounces = computed(() => {
  const { rays: all, samples } = bench.proof?.statistics ?? {};
  return all && samples ? (all.diffuse + all.specular + all.transmission + all.volume) / samples : 0;
});
/** What the time went to, as measured, the most first. */
const times = computed(() => {
  const { kindSeconds, pixelSeconds } = bench.proof?.statistics ?? {};
  if (!kindSeconds || !pixelSeconds) return [];
  const shares = Object.entries(kindSeconds).map(([kind, taken]) => [kind, taken / pixelSeconds] as const);
  return shares.filter(([, share]) => share > 0.005).sort((a, b) => b[1] - a[1]);
});
</script>

<template>
  <section v-if="bench.shot" class="panel">
    <ProofNotes />
    <RevisionList v-if="!bench.isFrames" />
    <LogPanel v-if="bench.proof?.log.length" :proof="bench.proof" />
    <template v-if="bench.proof?.statistics">
      <h2>Statistics of {{ proofName(bench.proof) }}</h2>
      <table>
        <tbody>
          <tr v-for="[type, count] in rays" :key="type">
            <td>
              {{ type }} rays
              <span class="dim">{{ (count / bench.proof.statistics.samples).toFixed(2) }} a sample</span>
            </td>
            <td class="number">{{ count.toLocaleString('en') }}</td>
          </tr>
          <tr>
            <td>bounces <span class="dim">mean of a camera sample, all splits together</span></td>
            <td class="number" data-test="bounces">{{ bounces.toFixed(2) }}</td>
          </tr>
          <tr>
            <td>samples</td>
            <td class="number">{{ bench.proof.statistics.samples.toLocaleString('en') }}</td>
          </tr>
          <tr>
            <td>time a frame</td>
            <td class="number">{{ seconds(bench.proof.seconds ?? 0) }}</td>
          </tr>
          <tr v-for="[kind, taken] in times" :key="kind" :data-test="`time-${kind}`">
            <td>time: {{ kind === 'camera' ? 'camera rays and shading' : `${kind} samples` }}</td>
            <td class="number">{{ percent(taken) }}</td>
          </tr>
          <tr v-for="(bytes, kind) in bench.proof.memory" :key="kind">
            <td>memory: {{ MEMORY_NAMES[kind] }}</td>
            <td class="number">{{ megabytes(bytes) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <a v-if="bench.proof?.state === 'done'" :href="`/api/proofs/${bench.proof.id}/file`" download
      >Save {{ proofName(bench.proof) }} as OpenEXR</a
    >
    <ConfirmButton
      v-if="bench.proof"
      :label="`Delete ${proofName(bench.proof)} …`"
      :question="`Delete ${proofName(bench.proof)} with its layers and diagnoses? This cannot be undone.`"
      :yes="`Delete ${proofName(bench.proof)}`"
      test-id="delete-proof"
      @confirm="bench.removeProof(bench.proof.id)"
    />
    <template v-if="bench.shot.unsupported.length > 0">
      <h2>Not supported in this scene</h2>
      <FindingLine v-for="(f, i) in importFindings(bench.shot.unsupported)" :key="i" :finding="f" />
    </template>
  </section>
</template>

<style scoped>
a {
  color: var(--wax);
}
</style>
