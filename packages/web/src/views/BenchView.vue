<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { onKeyStroke } from '@vueuse/core';
import { RouterLink, useRoute } from 'vue-router';
import Button from 'primevue/button';
import { DISPLAY_TRANSFORMS } from '@dusting/core/color';
import { useBench, type Panel } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { useMix } from '../stores/mix.ts';
import { useSlip } from '../stores/slip.ts';
import { useUndo } from '../stores/undo.ts';
import { rangeOf } from '../picture/rangeOf.ts';
import { CHANNELS, MODES } from '../picture/view.ts';
import { PROOF_STATES, proofName, value } from '../words.ts';
import ChangeSlip from '../bench/ChangeSlip.vue';
import ComparePanel from '../bench/ComparePanel.vue';
import DefectRail from '../bench/DefectRail.vue';
import DiagnosisPanel from '../bench/DiagnosisPanel.vue';
import HistoryPanel from '../bench/HistoryPanel.vue';
import AddFrames from '../bench/AddFrames.vue';
import KeyList from '../bench/KeyList.vue';
import LookPanel from '../bench/LookPanel.vue';
import LayersPanel from '../bench/LayersPanel.vue';
import PictureWall from '../bench/PictureWall.vue';
import ProofShelf from '../bench/ProofShelf.vue';
import ReadoutBar from '../bench/ReadoutBar.vue';
import SettingsPanel from '../bench/SettingsPanel.vue';
import WallTools from '../bench/WallTools.vue';
import { useDifferenceMap } from '../bench/useDifferenceMap.ts';
import { useAddress } from '../bench/useAddress.ts';
import { nudgeRegion } from '../bench/nudgeRegion.ts';
import { saveFile } from '../bench/saveFile.ts';

const route = useRoute();
const bench = useBench();
const look = useLook();
const slip = useSlip();
const mix = useMix();
const undo = useUndo();
const point = ref<{ x: number; y: number } | null>(null);
const overlay = ref(false);
const keys = ref(false);
const wall = ref<InstanceType<typeof PictureWall>>();
const panels = computed<{ id: Panel; label: string }[]>(() => [
  { id: 'defect', label: 'Defect' },
  bench.isFrames ? { id: 'layers', label: 'Layers' } : { id: 'settings', label: 'Settings' },
  { id: 'look', label: 'Look' },
  { id: 'compare', label: 'Compare' },
  { id: 'history', label: 'History' },
]);
const panel = computed(() => (panels.value.some((p) => p.id === bench.panel) ? bench.panel : panels.value[1].id));
const ready = ref(false);
const address = useAddress(ready);
onMounted(async () => {
  await bench.open(Number(route.params.shot));
  await address.open();
  ready.value = true;
});
onBeforeUnmount(bench.close);

/** Layers of one data channel are shown in false colour over the range that they hold. */
const difference = useDifferenceMap();
const range = computed<[number, number] | null>(() => {
  if (difference.kind.value) return difference.range.value;
  const p = bench.picture;
  if (!p || p.channels.length !== 1 || bench.proof?.state !== 'done') return null;
  return rangeOf(p);
});
const UNITS: Record<string, string> = { time: 'ms', depth: 'm', samples: 'samples' };
const failed = computed(() => bench.proof?.state === 'failed' && bench.proof.error);
const busy = computed(() => bench.shot?.proofs.find((p) => ['queued', 'rendering', 'merging'].includes(p.state)));

const copied = ref(false);
/** A link that opens this view: the address of the page, which follows it. */
async function copyLink() {
  const done = await bench.act(() => navigator.clipboard.writeText(location.href).then(() => true));
  copied.value = done === true;
  setTimeout(() => (copied.value = false), 2000);
}
/** The picture as it is seen, pixel for pixel: of the region, or whole. */
async function savePicture() {
  const png = await wall.value?.exportPng();
  if (!png || !bench.proof) return;
  const stops = look.stops === 0 ? '' : `_${look.stops > 0 ? '+' : ''}${look.stops}EV`;
  saveFile(png, `${bench.shot!.name}_${proofName(bench.proof)}_${bench.layer}${stops}.png`);
}

/** Moves the picture by a tenth of the wall. */
function pan(x: number, y: number) {
  const { centre, scale, canvas } = look;
  look.centre = { x: centre.x + (x * canvas.width) / 10 / scale, y: centre.y + (y * canvas.height) / 10 / scale };
}
/** Moves the region by a step, or its right and lower edge. */
function moveRegion(key: string, edge: boolean) {
  const { region, proof } = bench;
  if (!region || !proof) return;
  const step = { ArrowLeft: [-8, 0], ArrowRight: [8, 0], ArrowUp: [0, -8], ArrowDown: [0, 8] }[key] ?? [0, 0];
  bench.region = nudgeRegion(region, step as [number, number], edge, proof.settings);
  void bench.compareRegion();
}
const typing = (event: KeyboardEvent) =>
  (event.target as HTMLElement).closest('input, textarea, [role=listbox], [role=combobox]') !== null;
onKeyStroke((event) => {
  if (typing(event)) return;
  const control = event.ctrlKey || event.metaKey;
  if (control && event.key.toLowerCase() === 'z') {
    event.preventDefault();
    return void (event.shiftKey ? undo.redo() : undo.undo());
  }
  if (bench.region && !control && event.key.startsWith('Arrow') && (event.shiftKey || event.altKey)) {
    event.preventDefault();
    return moveRegion(event.key, event.altKey);
  }
  if (control || event.altKey) return;
  const next = <T,>(list: readonly T[], now: T) => list[(list.indexOf(now) + 1) % list.length];
  const names = bench.layers.map((l) => l.name);
  const acts: Record<string, () => unknown> = {
    ']': () => names.length && (bench.layer = names[(names.indexOf(bench.layer) + 1) % names.length]),
    '[': () => names.length && (bench.layer = names[(names.indexOf(bench.layer) - 1 + names.length) % names.length]),
    e: () => (look.exposure += 0.5),
    E: () => (look.exposure -= 0.5),
    g: () => look.setGamma(look.gamma + 0.1),
    G: () => look.setGamma(look.gamma - 0.1),
    s: () => (look.shadowCheck = next([0, 1, 2] as const, look.shadowCheck)),
    d: () => (look.transform = next(DISPLAY_TRANSFORMS, look.transform)),
    m: () => (look.marks = !look.marks),
    c: () => (look.channel = next(CHANNELS, look.channel)),
    k: () => point.value && look.pin(point.value),
    i: () => (look.isolines = !look.isolines),
    b: () => {
      if (bench.besideId === null) return;
      if (look.mode === 'blink') look.blink = !look.blink;
      else look.mode = 'blink';
    },
    w: () => bench.besideId !== null && (look.mode = next(MODES, look.mode)),
    a: () => bench.proof && (bench.region = bench.proof.region),
    ArrowLeft: () => pan(-1, 0),
    ArrowRight: () => pan(1, 0),
    ArrowUp: () => pan(0, -1),
    ArrowDown: () => pan(0, 1),
    '0': () => wall.value?.fit(),
    '1': () => (look.scale = 1),
    '+': () => look.zoom(1.5),
    '-': () => look.zoom(1 / 1.5),
    h: () => (look.alone = !look.alone),
    l: copyLink,
    p: savePicture,
    r: () => !busy.value && !bench.isFrames && bench.render('proof'),
    t: () => slip.lines.length > 0 && !busy.value && bench.render('trial'),
    '?': () => (keys.value = !keys.value),
    Escape: () => {
      bench.region = null;
      bench.selectDefect(null);
      keys.value = false;
    },
  };
  acts[event.key]?.();
});
</script>

<template>
  <div class="bench" :class="{ alone: look.alone }">
    <header v-if="!look.alone" class="top">
      <RouterLink to="/" class="home">Dusting</RouterLink>
      <span v-if="bench.shot" class="name"
        ><b>{{ bench.shot.name }}</b>
        <span v-if="!bench.isFrames" class="dim">revision {{ bench.shot.revision }}</span></span
      >
      <span v-if="bench.proof" class="dim" data-test="shown">
        {{ proofName(bench.proof) }}{{ bench.isFrames ? '' : `, ${bench.proof.use}`
        }}{{ bench.proof.state === 'done' ? '' : `: ${PROOF_STATES[bench.proof.state]}`
        }}<template v-if="bench.shot && bench.proof.revision !== bench.shot.revision"
          >, made at revision {{ bench.proof.revision }}</template
        >
      </span>
      <span v-if="!bench.connected" class="message">No connection to the server. Trying again; nothing is lost.</span>
      <span v-else-if="bench.error" class="message" role="alert" data-test="error"
        >{{ bench.error }} <button aria-label="Dismiss" @click="bench.error = ''">×</button></span
      >
      <span class="gap" />
      <Button
        v-tooltip.bottom="`${undo.last ? `Takes back: ${undo.last.name}` : 'Nothing to take back'} (Ctrl+Z)`"
        label="Undo"
        text
        severity="secondary"
        size="small"
        :disabled="!undo.last"
        data-test="undo"
        @click="undo.undo()"
      />
      <Button
        v-tooltip.bottom="`${undo.next ? `Makes again: ${undo.next.name}` : 'Nothing to make again'} (Ctrl+Shift+Z)`"
        label="Redo"
        text
        severity="secondary"
        size="small"
        :disabled="!undo.next"
        data-test="redo"
        @click="undo.redo()"
      />
      <RouterLink v-if="bench.done.length > 1" :to="`/shots/${bench.shot!.id}/sheet`" class="sheet" data-test="sheet"
        >Sheet</RouterLink
      >
      <Button label="Keys" text severity="secondary" size="small" @click="keys = !keys" />
      <AddFrames v-if="bench.isFrames" />
      <Button
        v-else
        v-tooltip.bottom="'R. Renders the present revision; the slip stays where it is.'"
        :label="`Render a proof (${bench.use})`"
        :disabled="!bench.shot || !!busy"
        data-test="render"
        @click="bench.render('proof')"
      />
    </header>
    <WallTools v-if="!look.alone" style="grid-area: tools" :copied="copied" @link="copyLink" @save="savePicture" />
    <DefectRail v-if="!look.alone" style="grid-area: rail" />
    <PictureWall
      ref="wall"
      :range="range"
      :overlay="overlay"
      :map="difference.map.value"
      class="picture"
      @point="point = $event"
    >
      <p v-if="bench.shot && bench.shot.proofs.length === 0 && !bench.isFrames" class="empty">
        This shot has not been rendered yet.<br />Press R, or “Render a proof” above: a coarse picture comes first and
        gets sharper.
      </p>
      <p v-else-if="failed" class="empty">{{ failed }}</p>
      <p v-if="mix.active" class="mixed" data-test="mixed">▲ a mix, not as rendered: see Look</p>
      <p v-if="difference.computing.value" class="empty">Comparing pixel by pixel …</p>
      <div v-if="range && (look.mode === 'one' || difference.kind.value)" class="scale number">
        <span>{{ value(range[0]) }}</span><i /><span
          >{{ value(range[1]) }}
          {{
            difference.kind.value ? (difference.kind.value === 'deltaE' ? 'ΔE' : '') : (UNITS[bench.layer] ?? '')
          }}</span
        >
      </div>
    </PictureWall>
    <aside v-if="!look.alone" class="side">
      <KeyList v-if="keys" class="body" @close="keys = false" />
      <template v-else>
        <div class="tabs" role="tablist">
          <button
            v-for="p in panels"
            :key="p.id"
            role="tab"
            :aria-selected="panel === p.id"
            :data-test="`tab-${p.id}`"
            @click="bench.panel = p.id"
          >
            {{ p.label }}
          </button>
        </div>
        <div class="body">
          <DiagnosisPanel v-if="panel === 'defect'" v-model:overlay="overlay" />
          <SettingsPanel v-else-if="panel === 'settings'" />
          <LayersPanel v-else-if="panel === 'layers'" />
          <LookPanel v-else-if="panel === 'look'" :point="point" />
          <ComparePanel v-else-if="panel === 'compare'" />
          <HistoryPanel v-else />
        </div>
      </template>
      <ChangeSlip v-if="bench.shot && !bench.isFrames" />
    </aside>
    <ReadoutBar v-if="!look.alone" style="grid-area: read" :point="point" />
    <ProofShelf v-if="!look.alone" style="grid-area: shelf" />
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  height: 100vh;
  grid-template: 34px 34px 1fr 40px 80px / 54px 1fr 300px;
  grid-template-areas: 'top top top' 'tools tools side' 'rail picture side' 'read read side' 'shelf shelf side';
}
.bench.alone {
  grid-template: 1fr / 1fr;
  grid-template-areas: 'picture';
}
.top {
  grid-area: top;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 10px;
  border-bottom: 1px solid var(--line);
}
.home {
  color: var(--wax);
  font-weight: 700;
  text-decoration: none;
}
.name .dim {
  margin-left: 8px;
}
.sheet {
  font-size: 12.25px;
  color: var(--text);
  text-decoration: none;
}
.gap {
  flex: 1;
}
.message {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
}
.message button {
  background: none;
  border: 0;
  color: inherit;
  cursor: pointer;
}
.picture {
  grid-area: picture;
}
.side {
  grid-area: side;
  display: flex;
  flex-direction: column;
  min-height: 0;
  background: var(--panel);
  border-left: 1px solid var(--line);
}
.tabs {
  display: flex;
  height: 34px;
  border-bottom: 1px solid var(--line);
}
.tabs button {
  flex: 1;
  background: none;
  border: 0;
  color: var(--dim);
  font: inherit;
  cursor: pointer;
}
.tabs button[aria-selected='true'] {
  color: var(--text);
  box-shadow: inset 0 -2px 0 var(--wax);
}
.body {
  flex: 1;
  overflow-y: auto;
  padding: 10px 12px;
}
.empty {
  position: absolute;
  left: 0;
  right: 0;
  top: 42%;
  text-align: center;
  color: var(--dim);
  pointer-events: none;
}
.mixed {
  position: absolute;
  right: 10px;
  bottom: 8px;
  background: rgb(30 30 30 / 85%);
  padding: 2px 8px;
  pointer-events: none;
}
.scale {
  position: absolute;
  left: 10px;
  bottom: 8px;
  display: flex;
  gap: 8px;
  align-items: center;
  background: rgb(30 30 30 / 85%);
  padding: 2px 8px;
  pointer-events: none;
}
.scale i {
  width: 140px;
  height: 8px;
  background: linear-gradient(90deg, #440154, #3b528b, #21918c, #5ec962, #fde725);
}
</style>
