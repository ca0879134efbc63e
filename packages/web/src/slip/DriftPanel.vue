<script setup lang="ts">
// Where preview and final settings differ, what each difference does, and the way to copy it over.
import { computed } from 'vue';
import Button from 'primevue/button';
import { drift, valueWords, type DriftEffect, type DriftLine, type SettingsUse } from '@dusting/core/scene';
import { cutShare, LIMITS, type Limit } from '@dusting/core/render';
import { finePercent, inL } from '@dusting/core/diagnose';
import { useExplainAs } from '../defects/useExplainAs.ts';
import { useBench } from '../stores/bench.ts';
import { useExpected } from '../stores/expected.ts';
import { useSlip } from '../stores/slip.ts';
import { proofName, seconds } from '../words.ts';
import { SETTING_FIELDS } from './settingFields.ts';

const bench = useBench();
const slip = useSlip();
const expected = useExpected();
const explainAs = useExplainAs();
const EFFECTS: Record<DriftEffect, string> = {
  light: 'Changes the light',
  layer: 'Changes the occlusion layer',
  noise: 'Changes the noise and the time',
  size: 'Changes the size',
};
const lines = computed(() => (slip.document ? drift(slip.document) : []));
const groups = computed(() =>
  (Object.keys(EFFECTS) as DriftEffect[])
    .map((effect) => ({ effect, lines: lines.value.filter((line) => line.effect === effect) }))
    .filter((group) => group.lines.length > 0),
);
/** What it can be measured on. */
const shown = computed(() => (bench.proof?.state === 'done' && !bench.isFrames ? bench.proof : null));
const titleOf = (path: string) => SETTING_FIELDS.find((f) => f.path === path)?.title ?? path;
const words = (line: DriftLine, use: SettingsUse) =>
  valueWords([use, ...line.path.split('/')], line[use], slip.document!);
const copy = (of: DriftLine[], to: SettingsUse) =>
  slip.setAll(of.map((line) => [`/${to}/${line.path}`, line[to === 'final' ? 'preview' : 'final']]));
/** What a limit cut off in the last proof that was rendered with the set that has the lower value. */
function cutBy(line: DriftLine): string {
  const limit = line.path.replace('depth/', '') as Limit;
  if (!line.path.startsWith('depth/') || !LIMITS.includes(limit)) return '';
  const use: SettingsUse = Number(line.preview) < Number(line.final) ? 'preview' : 'final';
  const proof = bench.done.findLast((p) => p.use === use && p.kind === 'proof' && p.statistics?.cutOff);
  if (!proof) return '';
  return `at ${line[use]}, ${finePercent(cutShare(proof.statistics!, limit))} of the light of ${proofName(proof)} is cut off (measured)`;
}
/** What the line alone does, where it was measured. */
function measuredBy({ path }: DriftLine): string {
  const { measured, on } = expected.drifted ?? { measured: {} as Record<string, number>, on: null };
  const alone = measured[`alone.${path}`];
  if (alone === undefined || !on) return '';
  const rays = measured[`rays.${path}`];
  return `the ${on.use === 'final' ? 'preview' : 'final'} value alone changes ${proofName(on)} by ${inL(alone)}${rays === undefined ? '' : `, at ${rays.toFixed(2)} times the rays`} (measured)`;
}
const time = (use: SettingsUse) => {
  const known = expected.times[use];
  return known ? `about ${seconds(known.seconds.value)} (predicted)` : 'not known yet';
};
</script>

<template>
  <section v-if="slip.document" class="panel" data-test="drift">
    <p v-if="lines.length === 0" class="dim">Preview and final settings are the same.</p>
    <p v-else>
      {{ lines.length }} settings differ between preview and final,
      {{ groups[0].effect === 'light' ? groups[0].lines.length : 'none' }} of them change the light.
    </p>
    <p v-if="groups[0]?.effect === 'light' && shown" class="measure">
      <Button
        :label="`Measure it on ${bench.region ? 'the region' : proofName(shown)}`"
        size="small"
        severity="secondary"
        variant="outlined"
        data-test="measure-drift"
        title="Renders both sets at few samples, and each difference by itself"
        @click="explainAs('drift', bench.region ?? shown.region)"
      />
      <span v-if="expected.apart" data-test="drift-apart"
        >{{ inL(expected.apart.mean) }} apart on average over {{ proofName(expected.apart.on) }} (measured)</span
      >
    </p>
    <p class="dim">A preview takes {{ time('preview') }}, a final {{ time('final') }}.</p>
    <div v-for="group in groups" :key="group.effect" class="group">
      <h3>{{ EFFECTS[group.effect] }}</h3>
      <table>
        <thead>
          <tr>
            <th scope="col">setting</th>
            <th scope="col" class="number">preview</th>
            <th scope="col"><span class="hidden">copy</span></th>
            <th scope="col" class="number">final</th>
          </tr>
        </thead>
        <tbody v-for="line in group.lines" :key="line.path" :data-test="`drift-${line.path}`">
          <tr>
            <td>{{ titleOf(line.path) }}</td>
            <td class="number">{{ words(line, 'preview') }}</td>
            <td class="copy">
              <button
                :aria-label="`Use ${words(line, 'final')} for the preview too`"
                title="Copy the final value to the preview"
                @click="copy([line], 'preview')"
              >
                ←
              </button>
              <button
                :aria-label="`Use ${words(line, 'preview')} for the final too`"
                title="Copy the preview value to the final"
                data-test="copy-to-final"
                @click="copy([line], 'final')"
              >
                →
              </button>
            </td>
            <td class="number">{{ words(line, 'final') }}</td>
          </tr>
          <tr v-if="measuredBy(line)" data-test="line-measured">
            <td colspan="4" class="dim effect">{{ measuredBy(line) }}</td>
          </tr>
          <tr v-if="cutBy(line)">
            <td colspan="4" class="dim effect">{{ cutBy(line) }}</td>
          </tr>
        </tbody>
      </table>
      <div v-if="group.lines.length > 1" class="acts">
        <Button
          label="All to the preview"
          size="small"
          severity="secondary"
          text
          @click="copy(group.lines, 'preview')"
        />
        <Button
          label="All to the final"
          size="small"
          severity="secondary"
          text
          :data-test="`all-${group.effect}`"
          @click="copy(group.lines, 'final')"
        />
      </div>
    </div>
  </section>
</template>

<style scoped>
.group {
  margin-top: 8px;
}
.measure {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
}
h3 {
  font-weight: 650;
  padding-bottom: 2px;
  border-bottom: 1px solid var(--line);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  font-weight: 400;
  font-size: 12px;
  color: var(--dim);
  text-align: left;
}
th.number,
td.number {
  text-align: right;
}
td {
  padding: 2px 0 2px 4px;
}
.copy {
  text-align: center;
  white-space: nowrap;
}
.copy button {
  width: 24px;
  height: 24px;
  padding: 0;
  border: 1px solid var(--line);
  background: none;
  color: inherit;
  cursor: pointer;
}
.effect {
  font-size: 12px;
  padding-bottom: 4px;
}
.acts {
  display: flex;
  justify-content: flex-end;
}
.hidden {
  position: absolute;
  clip-path: inset(50%);
}
</style>
