<script setup lang="ts">
import { computed } from 'vue';
import { useBench } from '../stores/bench.ts';
import type { Proof } from '../api.ts';
import { FINDING_SIGNS, lightnessUnits, PROOF_STATES, proofName, seconds } from '../words.ts';
import { findingsOf, isMeasured } from './findingsOf.ts';
import { useLook } from '../stores/look.ts';
import { useOutdated } from '../stores/outdated.ts';
import { usePreview } from '../stores/preview.ts';
import LiveCard from '../live/LiveCard.vue';
import ProofThumb from './ProofThumb.vue';
import { useApart } from '../compare/useApart.ts';

const bench = useBench();
const look = useLook();
const outdated = useOutdated();
const preview = usePreview();
/** In the order of time, the pinned ones first. */
const proofs = computed(() => (bench.shot?.proofs ?? []).toSorted((a, b) => Number(b.pinned) - Number(a.pinned)));
const apart = useApart();
async function compare(id: number) {
  await bench.compareWith(id);
  bench.panel = 'compare';
  if (look.mode === 'one') look.mode = 'wipe';
}
/** Shows a proof as it was rendered. */
async function pick(id: number) {
  preview.stop();
  await bench.compareWith(null);
  await bench.show(id);
}
const mostNoise = computed(() =>
  Math.max(1e-6, bench.shot?.document.noise.limit ?? 0, ...proofs.value.map((p) => p.noise ?? 0)),
);
const mostTime = computed(() => Math.max(1e-6, ...proofs.value.map((p) => p.seconds ?? 0)));
const limit = computed(() => (bench.shot ? (100 * bench.shot.document.noise.limit) / mostNoise.value : 0));
/** How the noise stands to the limit: of no proof that has an error, or whose noise was not measured. */
const standing = (p: Proof) => {
  const [worst] = findingsOf(p);
  if (worst?.id === 'one-sample' || worst?.severity === 'error') return null;
  return p.noise! <= (bench.shot?.document.noise.limit ?? 0) ? 'within the limit' : 'above the limit';
};
/** Shows a proof with all that was found about it. */
async function explain(id: number) {
  await pick(id);
  bench.panel = 'history';
}
const left = (p: Proof) => {
  if (!p.startedAt || p.progress < 0.02) return '';
  const spent = (Date.now() - Date.parse(p.startedAt)) / 1000;
  return `, ${seconds((spent * (1 - p.progress)) / p.progress)} left`;
};
</script>

<template>
  <div class="shelf" aria-label="Proofs" data-test="shelf">
    <LiveCard v-if="preview.on" />
    <p v-if="proofs.length === 0" class="dim empty">
      {{
        bench.isFrames
          ? 'No frames left. “Add frames” brings in others.'
          : 'No proofs yet. “Render a proof” makes the first one; it will stand here with its noise and time.'
      }}
    </p>
    <div
      v-for="p in proofs"
      :key="p.id"
      class="proof"
      :class="{ chosen: p.id === bench.proofId }"
      :data-test="`proof-${proofName(p)}`"
    >
      <button class="pick" @click="pick(p.id)">
        <ProofThumb :proof="p" />
        <span class="text">
          <b
            >{{ proofName(p) }}
            <span class="dim"
              >{{ bench.isFrames ? '' : p.use }}{{ bench.shot?.reference === p.id ? ' ◆ reference' : ''
              }}{{ p.decision ? `, ${p.decision}` : '' }}</span
            ></b
          >
          <template v-if="p.state === 'done'">
            <template v-if="p.noise !== null">
              <span
                class="bar"
                :title="`noise ${lightnessUnits(p.noise)}, limit ${lightnessUnits(bench.shot!.document.noise.limit)}`"
                ><i :style="{ width: `${(100 * p.noise) / mostNoise}%` }" /><u :style="{ left: `${limit}%` }"
              /></span>
              <span class="number" data-test="noise"
                >{{ isMeasured(p) ? lightnessUnits(p.noise) : 'noise unknown' }}
                <span class="dim">{{ standing(p) }}</span></span
              >
            </template>
            <template v-if="p.seconds !== null">
              <span class="bar time" :title="`time ${seconds(p.seconds)}`"
                ><i :style="{ width: `${(100 * p.seconds) / mostTime}%` }"
              /></span>
              <span class="number">{{ seconds(p.seconds) }}</span>
            </template>
            <span v-if="apart.has(p.id)" class="number dim" data-test="apart-from-reference"
              >{{ apart.get(p.id)!.deltaE.toFixed(1) }} ΔE off</span
            >
            <span v-if="p.frame !== null" class="number" data-test="frame">frame {{ p.frame }}</span>
            <span v-if="p.noise === null" class="dim">{{ p.region.width }} × {{ p.region.height }} px</span>
          </template>
          <span v-else-if="p.state === 'failed'" class="failed" :title="p.error ?? ''">failed: {{ p.error }}</span>
          <template v-else>
            <span class="bar" role="progressbar" :aria-valuenow="Math.round(100 * p.progress)"
              ><i :style="{ width: `${100 * p.progress}%` }"
            /></span>
            <span data-test="progress"
              >{{ PROOF_STATES[p.state] }} {{ Math.floor(100 * p.progress) }} %{{ left(p) }}</span
            >
          </template>
        </span>
      </button>
      <button
        v-if="findingsOf(p).length > 0"
        class="found"
        :class="findingsOf(p)[0].severity"
        :title="
          findingsOf(p)
            .map((f) => f.text)
            .join('\n')
        "
        :data-test="`findings-${proofName(p)}`"
        @click="explain(p.id)"
      >
        {{ FINDING_SIGNS[findingsOf(p)[0].severity] }} {{ findingsOf(p)[0].short }}
      </button>
      <span v-if="p.pinned || p.note" class="signs" :title="p.note">{{
        [p.pinned ? 'pinned' : '', p.note ? '✎' : ''].filter(Boolean).join(' ')
      }}</span>
      <span
        v-if="outdated.changes.has(p.id)"
        class="signs old"
        :title="`Since then: ${outdated.changes.get(p.id)!.join('; ')}`"
        data-test="outdated-mark"
        >▲ out of date</span
      >
      <button
        v-if="p.state === 'done' && bench.proof?.state === 'done' && p.id !== bench.proofId"
        class="against"
        :title="`Compare ${bench.proof ? proofName(bench.proof) : ''} with ${proofName(p)}`"
        :data-test="`against-${proofName(p)}`"
        @click="compare(p.id)"
      >
        against
      </button>
      <button
        v-if="p.state === 'queued' || p.state === 'rendering'"
        class="cancel"
        :data-test="`cancel-${proofName(p)}`"
        @click="bench.cancel(p.id)"
      >
        Cancel
      </button>
    </div>
  </div>
</template>

<style scoped>
.shelf {
  display: flex;
  height: 80px;
  gap: 6px;
  padding: 4px 8px;
  overflow-x: auto;
  background: var(--room);
  border-top: 1px solid var(--line);
}
.empty {
  align-self: center;
}
.proof {
  position: relative;
  flex: none;
  border: 1px solid var(--line);
  background: var(--panel);
}
.chosen {
  border-color: var(--wax);
  box-shadow: inset 0 -3px 0 var(--wax);
}
.pick {
  display: flex;
  gap: 8px;
  height: 100%;
  padding: 4px;
  background: none;
  border: 0;
  color: inherit;
  font: inherit;
  font-size: 12.5px;
  text-align: left;
  cursor: pointer;
}
.text {
  display: flex;
  flex-direction: column;
  width: 136px;
  line-height: 1.25;
}
.text .number {
  white-space: nowrap;
}
.text .number .dim {
  font-family: var(--sans);
  font-size: 11.5px;
}
.bar {
  position: relative;
  display: block;
  height: 5px;
  margin-top: 4px;
  background: #555;
}
.bar i {
  display: block;
  height: 100%;
  background: #d0d0d0;
}
.time i {
  background: #979797;
}
.bar u {
  position: absolute;
  top: -2px;
  bottom: -2px;
  width: 2px;
  background: var(--wax);
}
.found {
  position: absolute;
  right: 3px;
  bottom: 5px;
  max-width: 96px;
  padding: 0 4px;
  overflow: hidden;
  border: 0;
  background: rgb(30 30 30 / 85%);
  color: var(--text);
  font: inherit;
  font-size: 11.5px;
  text-overflow: ellipsis;
  white-space: nowrap;
  cursor: pointer;
}
.failed {
  max-height: 48px;
  overflow: hidden;
}
.signs {
  position: absolute;
  left: 4px;
  top: 4px;
  padding: 0 4px;
  background: rgb(30 30 30 / 85%);
  font-size: 11.5px;
  pointer-events: none;
}
.signs.old {
  top: auto;
  bottom: 5px;
  pointer-events: auto;
}
.proof:hover .old {
  opacity: 0;
}
.against {
  position: absolute;
  left: 4px;
  bottom: 5px;
  padding: 0 5px;
  border: 0;
  background: rgb(30 30 30 / 85%);
  color: var(--text);
  font: inherit;
  font-size: 11.5px;
  cursor: pointer;
  opacity: 0;
}
.proof:hover .against,
.against:focus {
  opacity: 1;
}
.cancel {
  position: absolute;
  right: 4px;
  bottom: 6px;
  border: 1px solid var(--line);
  background: var(--room);
  color: var(--text);
  font: inherit;
  font-size: 12px;
  cursor: pointer;
}
</style>
