<script setup lang="ts">
// Always in reach: pending changes, what they will cost, and the two ways on.
import { computed } from 'vue';
import Button from 'primevue/button';
import { useBench } from '../stores/bench.ts';
import { useSlip } from '../stores/slip.ts';
import { lightnessUnits, seconds } from '../words.ts';

const bench = useBench();
const slip = useSlip();
const busy = computed(() => bench.shot?.proofs.some((p) => ['queued', 'rendering', 'merging'].includes(p.state)));
/** Colours and other lists by their numbers. */
const short = (v: unknown) =>
  Array.isArray(v) ? v.map((n) => (typeof n === 'number' ? Number(n.toPrecision(3)) : n)).join(' ') : v;
const predicted = computed(() =>
  slip.prediction
    ? { seconds: slip.prediction.regionSeconds.value, noise: slip.prediction.noise?.value ?? null }
    : null,
);
</script>

<template>
  <section class="slip" aria-label="Change slip" data-test="slip">
    <header>
      <h2>Change slip</h2>
    </header>
    <p v-if="slip.lines.length === 0" class="dim">
      No pending changes. Change a setting, or take a remedy, and it is collected here.
    </p>
    <table v-else>
      <tbody>
        <tr v-for="line in slip.lines" :key="line.path" :data-test="`line-${line.label}`">
          <td>{{ line.label }}</td>
          <td class="number values">
            <span class="dim">{{ short(line.old) }} →</span> {{ short(line.new) }}
          </td>
          <td class="off">
            <button :aria-label="`Take ${line.label} off the slip`" @click="slip.set(line.path, line.old)">×</button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="note in slip.notes" :key="note" class="note" data-test="slip-note">▲ {{ note }}</p>
    <p v-if="slip.prediction" data-test="prediction">
      Predicted <span class="number">{{ seconds(slip.prediction.seconds.value) }}</span> a frame
      <span v-if="seconds(slip.prediction.seconds.low) !== seconds(slip.prediction.seconds.high)" class="dim">
        ({{ seconds(slip.prediction.seconds.low) }} to {{ seconds(slip.prediction.seconds.high) }})</span
      >,
      <template v-if="bench.region">
        {{ ' ' }}<span class="number">{{ seconds(slip.prediction.regionSeconds.value) }}</span> for the region,
      </template>
      {{ ' ' }}
      <template v-if="slip.prediction.noise">
        noise <span class="number">{{ lightnessUnits(slip.prediction.noise.value) }}</span>.
      </template>
      <template v-else>noise only a trial can tell.</template>
    </p>
    <p v-else-if="slip.lines.length > 0" class="dim">No prediction: render a proof with these settings first.</p>
    <footer v-if="slip.lines.length > 0">
      <Button
        :label="bench.region ? 'Try on the region' : 'Try on the frame'"
        :disabled="busy"
        data-test="try"
        @click="bench.render('trial', predicted)"
      />
      <Button label="Throw away" severity="secondary" text @click="slip.change([])" />
    </footer>
  </section>
</template>

<style scoped>
.slip {
  border-top: 1px solid var(--line);
  background: #404040;
  padding: 8px 12px 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
header,
footer {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
td {
  padding: 2px 6px 2px 0;
}
.values {
  text-align: right;
  white-space: nowrap;
}
.off {
  width: 20px;
}
.off button {
  background: none;
  border: 0;
  color: var(--dim);
  cursor: pointer;
  font-size: 15px;
  line-height: 1;
}
.note {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
  line-height: 1.35;
}
</style>
