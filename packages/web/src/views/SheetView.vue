<script setup lang="ts">
// All proofs of a shot side by side with their values: a sweep at a glance. Sortable, and saved as one picture.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import { useLocalStorage } from '@vueuse/core';
import Button from 'primevue/button';
import Select from 'primevue/select';
import { listChanges, parameterAt } from '@dusting/core/scene';
import type { Proof } from '../api.ts';
import ProofPicture from '../proofs/ProofPicture.vue';
import { saveCanvas } from '../parts/saveFile.ts';
import { useApart } from '../compare/useApart.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { lightnessUnits, proofName, seconds } from '../words.ts';
import { drawSheet, type SheetCell } from '../picture/drawSheet.ts';

const route = useRoute();
const router = useRouter();
const bench = useBench();
const look = useLook();
const apart = useApart();
const across = useLocalStorage('dusting.sheetColumns', 4);
const order = useLocalStorage<'number' | 'noise' | 'seconds' | 'apart'>('dusting.sheetOrder', 'number');
const pinnedOnly = ref(false);
const ORDERS = [
  { id: 'number', label: 'in order of time' },
  { id: 'noise', label: 'least noise first' },
  { id: 'seconds', label: 'quickest first' },
  { id: 'apart', label: 'nearest to the reference first' },
];
const COLUMNS = [2, 3, 4, 5, 6, 8];
onMounted(() => bench.open(Number(route.params.shot)));
onBeforeUnmount(bench.close);

const cells = computed(() => {
  const value = (p: Proof) =>
    ({ number: p.id, noise: p.noise, seconds: p.seconds, apart: apart.value.get(p.id)?.deltaE })[order.value] ??
    Infinity;
  return bench.done.filter((p) => !pinnedOnly.value || p.pinned).toSorted((a, b) => value(a) - value(b));
});
/** What differs from the settings of the first one, in words. */
const changes = (p: Proof) => {
  const first = cells.value[0];
  if (!first || first.id === p.id) return [];
  return listChanges(first.settings, p.settings).map((c) => {
    const title = parameterAt([p.use, ...c.path.split('.')])?.title ?? c.path;
    return `${title}: ${c.old} → ${c.new}`;
  });
};
const lines = (p: Proof) =>
  [
    [
      proofName(p),
      p.frame === null ? '' : `frame ${p.frame}`,
      bench.shot?.reference === p.id ? '◆ reference' : '',
      p.note,
    ]
      .filter(Boolean)
      .join('  '),
    [
      p.noise === null ? '' : `noise ${lightnessUnits(p.noise)}`,
      p.seconds === null ? '' : seconds(p.seconds),
      apart.value.has(p.id) ? `${apart.value.get(p.id)!.deltaE.toFixed(1)} ΔE off` : '',
    ]
      .filter(Boolean)
      .join(' · '),
    ...changes(p).slice(0, 3),
  ].filter(Boolean);

type Painted = InstanceType<typeof ProofPicture>;
const painted = new Map<number, Painted>();
const hold = (id: number) => (picture: unknown) => {
  if (picture) painted.set(id, picture as Painted);
  else painted.delete(id);
};

async function save() {
  const sheet = drawSheet(
    cells.value.map((p): SheetCell => ({ canvas: painted.get(p.id)!.canvas!, lines: lines(p) })),
    across.value,
    `${bench.shot!.name}, ${look.words}`,
  );
  await bench.act(() => saveCanvas(sheet, `${bench.shot!.name}_sheet.png`));
}
const openOnBench = (p: Proof) => router.push(`/shots/${bench.shot!.id}?proof=${proofName(p)}`);
</script>

<template>
  <main>
    <header>
      <RouterLink to="/" class="home">Dusting</RouterLink>
      <b>{{ bench.shot?.name }}</b> <span class="dim">contact sheet</span>
      <span v-if="bench.error" class="message" role="alert">{{ bench.error }}</span>
      <span class="gap" />
      <label
        ><span class="dim">Sorted</span>
        <Select
          v-model="order"
          :options="ORDERS"
          option-label="label"
          option-value="id"
          aria-label="Sorted"
          data-test="sheet-order"
      /></label>
      <label
        ><span class="dim">Columns</span> <Select v-model="across" :options="COLUMNS" aria-label="Columns"
      /></label>
      <label><input v-model="pinnedOnly" type="checkbox" /> pinned only</label>
      <Button label="Save as PNG" :disabled="cells.length === 0" data-test="save-sheet" @click="save" />
      <RouterLink v-if="bench.shot" :to="`/shots/${bench.shot.id}`" class="back">Back to the bench</RouterLink>
    </header>
    <p v-if="cells.length === 0" class="dim empty">
      {{ pinnedOnly ? 'No proof is pinned.' : 'No proof is finished yet: the sheet shows all that are.' }}
    </p>
    <div class="grid" :style="{ gridTemplateColumns: `repeat(${across}, 1fr)` }">
      <button v-for="p in cells" :key="p.id" class="cell" :data-test="`cell-${proofName(p)}`" @click="openOnBench(p)">
        <ProofPicture :ref="hold(p.id)" :proof="p" class="picture" />
        <span v-for="(line, i) in lines(p)" :key="i" :class="i === 0 ? 'first' : 'dim'">{{ line }}</span>
      </button>
    </div>
  </main>
</template>

<style scoped>
main {
  min-height: 100vh;
  background: var(--room);
}
header {
  display: flex;
  align-items: center;
  gap: 14px;
  height: 40px;
  padding: 0 12px;
  border-bottom: 1px solid var(--line);
}
.home {
  color: var(--wax);
  font-weight: 700;
  text-decoration: none;
}
.back {
  color: var(--wax);
}
.gap {
  flex: 1;
}
.empty {
  padding: 24px 12px;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.grid {
  display: grid;
  gap: 12px;
  padding: 12px;
}
.cell {
  display: flex;
  flex-direction: column;
  min-width: 0;
  padding: 0 0 4px;
  border: 0;
  background: none;
  color: var(--text);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.cell:focus-visible {
  outline: 2px solid var(--wax);
}
.picture {
  margin-bottom: 4px;
}
.cell span {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.first {
  font-weight: 650;
}
</style>
