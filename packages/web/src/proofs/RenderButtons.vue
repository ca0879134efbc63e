<script setup lang="ts">
// Sends a proof of the present revision, with either of its settings, and says before what it will take.
import Button from 'primevue/button';
import type { SettingsUse } from '@dusting/core/scene';
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
</script>

<template>
  <Button
    v-tooltip.bottom="hint(expected.other, '')"
    severity="secondary"
    variant="outlined"
    :disabled="!bench.shot || !!bench.busy"
    :data-test="`render-${expected.other}`"
    @click="bench.render('proof', { use: expected.other })"
    >{{ expected.other === 'final' ? 'Final' : 'Preview' }}
    <span class="time">{{ about(expected.other) }}</span></Button
  >
  <Button
    v-tooltip.bottom="hint(expected.proposed, 'R. ')"
    :disabled="!bench.shot || !!bench.busy"
    :data-test="`render-${expected.proposed}`"
    @click="bench.render('proof', { use: expected.proposed })"
    >Render the {{ expected.proposed }} <span class="time">{{ about(expected.proposed) }}</span></Button
  >
</template>

<style scoped>
.p-button {
  flex: none;
}
.time {
  font-weight: 400;
  opacity: 0.85;
}
</style>
