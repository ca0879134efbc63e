<script setup lang="ts">
// Pinned pixels: read again on every proof and at every exposure.
import { ref, watch } from 'vue';
import { api, type PixelReading } from '../api.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { layerLabel, value } from '../words.ts';

const bench = useBench();
const look = useLook();
const readings = ref<(PixelReading[] | null)[]>([]);
watch(
  [() => look.pins, () => bench.proofId, () => bench.proof?.state],
  async ([pins, id, state]) => {
    if (id === null || state !== 'done') return void (readings.value = []);
    const found = await Promise.all(
      pins.map(({ x, y }) =>
        api.pixel(id, x, y).then(
          (p) => p.layers,
          () => null,
        ),
      ),
    );
    if (bench.proofId === id && look.pins === pins) readings.value = found;
  },
  { immediate: true },
);
const shown = (values: number[]) =>
  look
    .sent(values)
    .map((v) => Math.round(255 * v))
    .join(' ');
const of = (i: number, layer: string) => readings.value[i]?.find((l) => l.layer === layer);
</script>

<template>
  <section class="panel tight">
    <h2>Pinned pixels</h2>
    <p v-if="look.pins.length === 0" class="dim">
      K pins the pixel under the pointer; it stays when the proof changes.
    </p>
    <div v-for="(pin, i) in look.pins" :key="`${pin.x},${pin.y}`" class="pin" :data-test="`pin-${i + 1}`">
      <p>
        <b>{{ i + 1 }}</b> <span class="number">{{ pin.x }}, {{ pin.y }}</span>
        <span v-if="of(i, 'samples')" class="dim number"> {{ of(i, 'samples')!.values[0] }} samples</span>
        <button :aria-label="`Unpin ${i + 1}`" @click="look.unpin(i)">×</button>
      </p>
      <p v-if="!readings[i]" class="dim">not in this proof</p>
      <template v-else>
        <p v-for="layer in new Set([bench.layer, 'beauty'])" :key="layer" class="number">
          <span class="dim">{{ layerLabel(layer) }}</span> {{ of(i, layer)?.values.map(value).join(' ') ?? '–' }}
          <template v-if="of(i, layer)?.error != null">± {{ value(of(i, layer)!.error!) }}</template>
        </p>
        <p v-if="(of(i, 'beauty')?.values.length ?? 0) >= 3" class="number dim">
          shown {{ shown(of(i, 'beauty')!.values) }}
        </p>
        <details>
          <summary class="dim">all layers</summary>
          <p v-for="l in readings[i]" :key="l.layer" class="number">
            <span class="dim">{{ layerLabel(l.layer) }}</span> {{ l.values.map(value).join(' ')
            }}<template v-if="l.error !== null"> ± {{ value(l.error) }}</template>
          </p>
        </details>
      </template>
    </div>
  </section>
</template>

<style scoped>
.pin {
  border-bottom: 1px solid var(--line);
  padding-bottom: 3px;
}
.pin p span {
  margin-right: 8px;
}
.pin p {
  line-height: 1.3;
}
button {
  float: right;
  background: none;
  border: 0;
  color: var(--text);
  cursor: pointer;
}
</style>
