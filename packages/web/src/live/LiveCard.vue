<script setup lang="ts">
// The live preview on the shelf: which settings, how far it is, and what it may do next.
import { computed } from 'vue';
import Select from 'primevue/select';
import { giveKeysBack } from '../parts/giveKeysBack.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { SAMPLE_CHOICES, usePreview } from '../stores/preview.ts';
import { megabytes, proofName } from '../words.ts';

const bench = useBench();
const look = useLook();
const preview = usePreview();
const progress = computed(() => {
  const { report } = preview;
  if (!report) return 'preparing the scene …';
  const { least, samples } = report;
  const inside = bench.region && least.interest > least.frame ? `, ${least.interest} in the region` : '';
  return `${least.frame} of ${samples} samples${inside}`;
});
const share = computed(() => (preview.report ? preview.report.least.frame / preview.report.samples : 0));
const against = computed(() => (preview.frozen ? 'the kept picture' : bench.proof ? proofName(bench.proof) : null));
const USES = [
  { value: 'preview', label: 'preview settings' },
  { value: 'final', label: 'final settings' },
];
const SAMPLES = SAMPLE_CHOICES.map((value) => ({ value, label: `to ${value} samples` }));
/** What is taken unasked, and the other place. */
const places = computed(() =>
  preview.tooLarge
    ? [
        { value: 'unasked', label: 'by the server: too large for this page' },
        { value: 'browser', label: 'in this browser all the same' },
      ]
    : [
        { value: 'unasked', label: 'in this browser' },
        { value: 'server', label: 'by the server' },
      ],
);
const where = computed({
  get: () => preview.chosenWhere ?? 'unasked',
  set: (place) => (preview.chosenWhere = place === 'unasked' ? null : place),
});
function compare() {
  look.mode = look.mode === 'one' ? 'wipe' : 'one';
}
</script>

<template>
  <div class="live" data-test="live-card" :data-wish="preview.report?.wish">
    <p>
      <b>◉ Live preview</b>
      <Select
        v-model="where"
        class="where"
        :options="places"
        option-label="label"
        option-value="value"
        aria-label="Who computes the preview"
        :title="`It needs about ${megabytes(preview.memory.scene)}; this page may take ${megabytes(preview.memory.page)} (estimated)`"
        data-test="live-where"
        @hide="giveKeysBack"
      />
    </p>
    <p
      class="number"
      data-test="live-progress"
      :title="preview.firstAfter === null ? '' : 'measured from the edit to its first picture'"
    >
      {{ progress }}
      <span v-if="preview.firstAfter !== null" class="dim" data-test="live-first"
        >first picture after {{ Math.round(preview.firstAfter) }} ms</span
      >
    </p>
    <span class="bar"><i :style="{ width: `${100 * share}%` }" /></span>
    <p class="tools">
      <Select
        v-model="preview.use"
        :options="USES"
        option-label="label"
        option-value="value"
        aria-label="Settings of the preview"
        data-test="live-use"
        @hide="giveKeysBack"
      />
      <Select
        v-model="preview.samples"
        :options="SAMPLES"
        option-label="label"
        option-value="value"
        aria-label="Samples of the preview"
        @hide="giveKeysBack"
      />
      <button
        class="tool"
        :aria-pressed="preview.paused"
        title="X"
        data-test="live-pause"
        @click="preview.paused = !preview.paused"
      >
        {{ preview.paused ? 'Go on' : 'Pause' }}
      </button>
      <button
        class="tool"
        :aria-pressed="preview.denoised"
        title="N. A look without noise, for looking only"
        data-test="live-denoised"
        @click="preview.denoised = !preview.denoised"
      >
        Denoise
      </button>
      <button
        class="tool"
        :aria-pressed="preview.frozen !== null"
        title="F. Freeze this picture for comparison"
        data-test="live-freeze"
        @click="preview.freeze()"
      >
        Keep this
      </button>
      <button
        v-if="against"
        class="tool"
        :aria-pressed="look.mode !== 'one'"
        :title="`W. Beside ${against}`"
        data-test="live-against"
        @click="compare"
      >
        against {{ against }}
      </button>
      <button class="tool" title="V. Shows the proof again" data-test="live-end" @click="preview.stop()">End</button>
    </p>
  </div>
</template>

<style scoped>
.live {
  flex: none;
  width: max-content;
  min-width: 560px;
  padding: 5px 10px;
  border-right: 1px solid var(--line);
  background: #404040;
  box-shadow: inset 0 2px 0 var(--wax);
  font-size: 12.5px;
}
.live > p:first-child {
  float: left;
  margin-right: 14px;
}
/* as low as the buttons beside them: the shelf is */
.p-select {
  flex: none;
  height: 22px;
  vertical-align: middle;
}
.p-select :deep(.p-select-label) {
  padding: 0 0 0 7px;
  font-size: 12.5px;
  line-height: 20px;
}
.p-select :deep(.p-select-dropdown) {
  width: 24px;
}
.where {
  margin-left: 6px;
}
.number {
  font-size: 12px;
}
.bar {
  display: block;
  height: 3px;
  margin: 4px 0 5px;
  background: #555;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--wax);
}
.tools {
  display: flex;
  gap: 4px;
  align-items: center;
}
.tool {
  flex: none;
  width: auto;
  height: 24px;
  font-size: 12px;
}
</style>
