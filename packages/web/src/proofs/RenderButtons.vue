<script setup lang="ts">
// Sends a proof of the present revision, with either of its settings, and says before what it will take.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import { drift, finalLoses, parameterAt, valueWords, type SettingsUse } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useExpected } from '../stores/expected.ts';
import { formatRange } from '@dusting/core/diagnose';
import { seconds } from '../words.ts';

const bench = useBench();
const expected = useExpected();
const about = (use: SettingsUse) => {
  const time = expected.times[use];
  return time ? `about ${seconds(time.seconds.value)}` : '';
};
const hint = (use: SettingsUse, key: string) => {
  const time = expected.times[use];
  const range = time && formatRange(time.seconds, 's');
  const from = time?.from === 'shot' ? 'predicted from a proof of this shot' : 'judged by renders of other shots';
  return `${key}Renders the present revision with its ${use} settings; the slip stays where it is.${range ? ` ${range}, ${from}.` : ''}`;
};

/** What the final would show less of than the preview that somebody has looked at: it asks first. */
const lost = computed(() =>
  bench.shot && bench.done.some((p) => p.use === 'preview') && !bench.done.some((p) => p.use === 'final')
    ? finalLoses(drift(bench.shot.document))
    : [],
);
const said = computed(() =>
  lost.value.map(({ path, ...line }) => {
    const keys = path.split('/');
    const words = (use: SettingsUse) => valueWords([use, ...keys], line[use], bench.shot!.document);
    return `${parameterAt(['final', ...keys])?.title ?? path} ${words('final')} instead of ${words('preview')}`;
  }),
);
const asks = ref(false);
function render(use: SettingsUse, sure = false) {
  asks.value = use === 'final' && lost.value.length > 0 && !sure;
  if (!asks.value) bench.render('proof', { use });
}
function seeDrift() {
  asks.value = false;
  bench.panel = 'drift';
}
</script>

<template>
  <Button
    v-tooltip.bottom="hint(expected.other, '')"
    severity="secondary"
    variant="outlined"
    :disabled="!bench.shot || !!bench.busy"
    :data-test="`render-${expected.other}`"
    @click="render(expected.other)"
    >{{ expected.other === 'final' ? 'Final' : 'Preview' }}
    <span class="time">{{ about(expected.other) }}</span></Button
  >
  <Button
    v-tooltip.bottom="hint(expected.proposed, 'R. ')"
    :disabled="!bench.shot || !!bench.busy"
    :data-test="`render-${expected.proposed}`"
    @click="render(expected.proposed)"
    >Render the {{ expected.proposed }} <span class="time">{{ about(expected.proposed) }}</span></Button
  >
  <div
    v-if="asks"
    class="ask"
    role="alertdialog"
    aria-label="The final shows less than the preview"
    data-test="ask-drift"
    @keydown.esc.stop="asks = false"
  >
    <p>The final shows less light than the preview: {{ said.join('; ') }}.</p>
    <div class="acts">
      <Button
        label="See the drift"
        size="small"
        severity="secondary"
        autofocus
        data-test="see-drift"
        @click="seeDrift"
      />
      <Button
        label="Render anyway"
        size="small"
        severity="secondary"
        data-test="render-anyway"
        @click="render('final', true)"
      />
      <Button label="Cancel" size="small" severity="secondary" text @click="asks = false" />
    </div>
  </div>
</template>

<style scoped>
.ask {
  position: absolute;
  z-index: 20;
  top: 44px;
  right: 10px;
  width: 320px;
  padding: 8px 10px;
  border-left: 3px solid var(--wax);
  background: var(--room);
}
.acts {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.p-button {
  flex: none;
}
.time {
  font-weight: 400;
  opacity: 0.85;
}
</style>
