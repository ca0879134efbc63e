<script setup lang="ts">
// The live preview on the shelf: which settings, how far it is, and what it may do next.
import { computed } from 'vue';
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
function compare() {
  look.mode = look.mode === 'one' ? 'wipe' : 'one';
}
</script>

<template>
  <div class="live" data-test="live-card" :data-wish="preview.report?.wish">
    <p>
      <b>◉ Live preview</b>
      <select
        v-model="preview.chosenWhere"
        class="entry where"
        aria-label="Who computes the preview"
        :title="`It needs about ${megabytes(preview.memory.scene)}; this page may take ${megabytes(preview.memory.page)} (estimated)`"
        data-test="live-where"
      >
        <option :value="null">
          {{ preview.tooLarge ? 'by the server: too large for this page' : 'in this browser' }}
        </option>
        <option v-if="!preview.tooLarge" value="server">by the server</option>
        <option v-else value="browser">in this browser all the same</option>
      </select>
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
      <select class="entry" v-model="preview.use" aria-label="Settings of the preview" data-test="live-use">
        <option value="preview">preview settings</option>
        <option value="final">final settings</option>
      </select>
      <select class="entry" v-model.number="preview.samples" aria-label="Samples of the preview">
        <option v-for="n in SAMPLE_CHOICES" :key="n" :value="n">to {{ n }} samples</option>
      </select>
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
.tool,
select {
  flex: none;
  width: auto;
  height: 24px;
  font-size: 12px;
}
</style>
