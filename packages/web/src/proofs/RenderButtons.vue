<script setup lang="ts">
// Sends a proof of the present revision, with either of its settings, and says before what it will take.
import { computed } from 'vue';
import Button from 'primevue/button';
import { parameterAt, valueWords, type SettingsUse } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useExpected } from '../stores/expected.ts';
import { formatRange, inL } from '@dusting/core/diagnose';
import { proofName, seconds } from '../words.ts';

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

const said = computed(() =>
  expected.lost.map(({ path, ...line }) => {
    const keys = path.split('/');
    const words = (use: SettingsUse) => valueWords([use, ...keys], line[use], bench.shot!.document);
    return `${parameterAt(['final', ...keys])?.title ?? path} ${words('final')} instead of ${words('preview')}`;
  }),
);
function seeDrift() {
  expected.asks = false;
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
    @click="expected.send(expected.other)"
    >{{ expected.other === 'final' ? 'Final' : 'Preview' }}
    <span class="time">{{ about(expected.other) }}</span></Button
  >
  <Button
    v-tooltip.bottom="hint(expected.proposed, 'R. ')"
    :disabled="!bench.shot || !!bench.busy"
    :data-test="`render-${expected.proposed}`"
    @click="expected.send(expected.proposed)"
    >Render the {{ expected.proposed }} <span class="time">{{ about(expected.proposed) }}</span></Button
  >
  <div
    v-if="expected.asks"
    class="ask"
    role="alertdialog"
    aria-label="The final shows less than the preview"
    data-test="ask-drift"
    @keydown.esc.stop="expected.asks = false"
  >
    <p>The final shows less light than the preview: {{ said.join('; ') }}.</p>
    <p v-if="expected.apart" data-test="ask-apart">
      Over all of {{ proofName(expected.apart.on) }} they are {{ inL(expected.apart.mean) }} apart on average
      (measured).
    </p>
    <div class="acts">
      <Button
        label="See the drift"
        size="small"
        severity="secondary"
        variant="outlined"
        autofocus
        data-test="see-drift"
        @click="seeDrift"
      />
      <Button
        label="Render anyway"
        size="small"
        severity="secondary"
        variant="outlined"
        data-test="render-anyway"
        @click="expected.send('final', true)"
      />
      <Button label="Cancel" size="small" severity="secondary" text @click="expected.asks = false" />
    </div>
  </div>
</template>

<style scoped>
.ask {
  position: absolute;
  /* above the hint of the button that was pressed, which would cover it */
  z-index: 2000;
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
