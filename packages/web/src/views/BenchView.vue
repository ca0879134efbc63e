<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref } from 'vue';
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { useRoute } from 'vue-router';
import { copyText } from '../parts/copyText.ts';
import { useBench, type Panel } from '../stores/bench.ts';
import type { Opening } from '../stores/opening.ts';
import { useLook } from '../stores/look.ts';
import { useMix } from '../stores/mix.ts';
import { usePreview } from '../stores/preview.ts';
import { rangeOf } from '../picture/rangeOf.ts';
import { proofName, value } from '../words.ts';
import BenchHead from '../bench/BenchHead.vue';
import ChangeSlip from '../slip/ChangeSlip.vue';
import ComparePanel from '../compare/ComparePanel.vue';
import CostLine from '../wall/CostLine.vue';
import DefectRail from '../defects/DefectRail.vue';
import DiagnosisPanel from '../defects/DiagnosisPanel.vue';
import HistoryPanel from '../proofs/HistoryPanel.vue';
import { DENOISED } from '@dusting/core/render';
import KeyList from '../bench/KeyList.vue';
import LookPanel from '../wall/LookPanel.vue';
import LayersPanel from '../proofs/LayersPanel.vue';
import PictureFindings from '../wall/PictureFindings.vue';
import PictureWall from '../wall/PictureWall.vue';
import ProofShelf from '../proofs/ProofShelf.vue';
import ReadoutBar from '../wall/ReadoutBar.vue';
import SideHandle from '../parts/SideHandle.vue';
import SettingsHead from '../slip/SettingsHead.vue';
import DriftPanel from '../slip/DriftPanel.vue';
import SettingsPanel from '../slip/SettingsPanel.vue';
import WallTools from '../wall/WallTools.vue';
import { useDifferenceMap } from '../compare/useDifferenceMap.ts';
import { useAddress } from '../bench/useAddress.ts';
import { useBenchKeys } from '../bench/useBenchKeys.ts';
import LiveBadges from '../live/LiveBadges.vue';
import LiveReadout from '../live/LiveReadout.vue';
import ContentsPanel from '../contents/ContentsPanel.vue';
import PlanPanel from '../plan/PlanPanel.vue';
import SweepPanel from '../plan/SweepPanel.vue';
import { saveFile } from '../parts/saveFile.ts';

// three is large, and not always needed
const ModelView = defineAsyncComponent(() => import('../model/ModelView.vue'));

const route = useRoute();
const bench = useBench();
const look = useLook();
const preview = usePreview();
const mix = useMix();
const point = ref<{ x: number; y: number } | null>(null);
/** Width of the side panel, in pixels. */
const sideWidth = useLocalStorage('dusting.sideWidth', 300);
const keys = ref(false);
/** The model stands beside the picture. */
const model = useLocalStorage('dusting.model', false);
const wall = ref<InstanceType<typeof PictureWall>>();
const panels = computed<{ id: Panel; label: string }[]>(() => [
  { id: 'defect', label: 'Defect' },
  ...(bench.isFrames
    ? [{ id: 'layers' as const, label: 'Layers' }]
    : [
        { id: 'contents' as const, label: 'Contents' },
        { id: 'settings' as const, label: 'Settings' },
      ]),
  { id: 'look', label: 'Look' },
  { id: 'compare', label: 'Compare' },
  { id: 'history', label: 'History' },
]);
/** Plan, sweep and drift stand behind the tab of the settings. */
const tabOf = (of: Panel) => (of === 'plan' || of === 'sweep' || of === 'drift' ? 'settings' : of);
const panel = computed(() => (panels.value.some((p) => p.id === tabOf(bench.panel)) ? bench.panel : panels.value[0].id)); // prettier-ignore
// edits that the server has not got would go with the page: the browser asks first
useEventListener(window, 'beforeunload', (event) => bench.unsent && event.preventDefault());
const ready = ref(false);
const address = useAddress(ready);
onMounted(async () => {
  await bench.open(Number(route.params.shot));
  await address.open();
  ready.value = true;
});
onBeforeUnmount(() => {
  preview.end();
  bench.close();
});

/** A few pixels during which the machine did something else would darken the map of the time. */
const isTime = computed(() => bench.layer === 'time');
/** Layers of one data channel are shown in false colour over the range that they hold. */
const difference = useDifferenceMap();
const range = computed<[number, number] | null>(() => {
  if (difference.kind.value) return difference.range.value;
  const p = bench.picture;
  if (!p || p.channels.length !== 1 || bench.proof?.state !== 'done') return null;
  if (bench.layer === 'occlusion') return null; // open is white: it is read as a picture
  return rangeOf(p, isTime.value ? 0.995 : 1);
});
const UNITS: Record<string, string> = { time: 'ms', depth: 'm', samples: 'samples' };
const failed = computed(() => bench.proof?.state === 'failed' && bench.proof.error);
const busy = computed(() => bench.busy);
/** What is seen is not yet the render that was sent. */
const waiting = computed(() => {
  const { pictured, proof } = bench;
  if (!proof || proof.state === 'done' || proof.state === 'failed' || pictured?.id === proof.id) return '';
  return `${proofName(proof)} is being prepared${pictured ? `; the picture is still ${proofName(pictured)}` : ': its first picture comes in a moment'}.`;
});

/** A layer that is asked for, and is not seen yet. */
function openingText({ layer, share }: Opening) {
  if (layer !== DENOISED) return `Opening ${layer} …`;
  return share === null ? 'Opening the layers that the look without noise is made of …' : `Making the look without noise: ${Math.round(100 * share)} %`; // prettier-ignore
}

const copied = ref(false);
/** A link that opens this view: the address of the page, which follows it. */
async function copyLink() {
  const done = await bench.act(() => copyText(location.href).then(() => true));
  copied.value = done === true;
  setTimeout(() => (copied.value = false), 2000);
}
/** The picture as it is seen, pixel for pixel: of the region, or whole. */
async function savePicture() {
  const png = await wall.value?.exportPng();
  if (!png || !bench.shot) return;
  const stops = look.stops === 0 ? '' : `_${look.stops > 0 ? '+' : ''}${look.stops}EV`;
  const what = preview.on || !bench.proof ? 'preview' : `${proofName(bench.proof)}_${bench.layer}`;
  saveFile(png, `${bench.shot.name}_${what}${stops}.png`);
}

useBenchKeys({ point, keys, busy, fit: () => wall.value?.fit(), copyLink, savePicture, toggleModel: () => (model.value = !model.value) }); // prettier-ignore
</script>

<template>
  <div
    class="bench"
    :class="{ alone: look.alone, modelled: model && !bench.isFrames }"
    :style="{ '--side': `${sideWidth}px` }"
  >
    <BenchHead v-if="!look.alone" v-model:model="model" v-model:keys="keys" style="grid-area: top" />
    <WallTools v-if="!look.alone" style="grid-area: tools" :copied="copied" @link="copyLink" @save="savePicture" />
    <DefectRail v-if="!look.alone" style="grid-area: rail" />
    <ModelView v-if="model && bench.shot && !bench.isFrames" class="beside" />
    <PictureWall ref="wall" :range="range" :map="difference.map.value" class="picture" @point="point = $event">
      <p v-if="bench.shot && bench.shot.proofs.length === 0 && !bench.isFrames && !preview.on" class="empty">
        This shot has not been rendered yet.<br />Press R, or “Render the preview” above: a coarse picture comes first
        and gets sharper.
      </p>
      <p v-else-if="failed && !preview.on" class="empty">{{ failed }}</p>
      <p v-if="waiting && !preview.on" class="waiting" data-test="waiting">{{ waiting }}</p>
      <PictureFindings v-if="!preview.on && !mix.active && !look.alone" />
      <LiveBadges v-if="preview.on" />
      <p v-if="mix.active && !preview.on" class="mixed" data-test="mixed">▲ a mix, not as rendered: see Look</p>
      <p v-else-if="bench.opening && !preview.on" class="mixed opening" data-test="opening">
        {{ openingText(bench.opening) }}
        <button v-if="bench.seenLayer !== bench.opening.layer" data-test="leave-opening" @click="bench.leaveOpening()">
          Leave it
        </button>
      </p>
      <p v-else-if="bench.seenLayer === DENOISED && !preview.on" class="mixed" data-test="denoised-note">
        ▲ denoised, not as rendered: numbers are those of the beauty
      </p>
      <p v-if="difference.computing.value" class="empty">Comparing pixel by pixel …</p>
      <div v-if="range && !preview.on && (look.mode === 'one' || difference.kind.value)" class="scale">
        <span class="number">{{ value(range[0]) }}</span><i /><span class="number"
          >{{ value(range[1]) }}
          {{
            difference.kind.value
              ? difference.kind.value === 'deltaE'
                ? 'ΔE'
                : ''
              : (UNITS[bench.layer] ?? '') + (isTime ? ' and more' : '')
          }}</span
        >
        <CostLine v-if="!difference.kind.value" />
      </div>
    </PictureWall>
    <aside v-if="!look.alone" class="side">
      <SideHandle v-model="sideWidth" />
      <KeyList v-if="keys" class="body" @close="keys = false" />
      <template v-else>
        <div class="tabs" role="tablist">
          <button
            v-for="p in panels"
            :key="p.id"
            role="tab"
            :aria-selected="tabOf(panel) === p.id"
            :data-test="`tab-${p.id}`"
            @click="bench.panel = p.id"
          >
            {{ p.label }}
          </button>
        </div>
        <div class="body">
          <DiagnosisPanel v-if="panel === 'defect'" @model="model = true" />
          <ContentsPanel v-else-if="panel === 'contents'" />
          <template v-else-if="tabOf(panel) === 'settings'">
            <SettingsHead />
            <SettingsPanel v-if="panel === 'settings'" />
            <PlanPanel v-else-if="panel === 'plan'" />
            <DriftPanel v-else-if="panel === 'drift'" />
            <SweepPanel v-else />
          </template>
          <LayersPanel v-else-if="panel === 'layers'" />
          <LookPanel v-else-if="panel === 'look'" :point="point" />
          <ComparePanel v-else-if="panel === 'compare'" />
          <HistoryPanel v-else />
        </div>
      </template>
      <ChangeSlip v-if="bench.shot && !bench.isFrames" />
    </aside>
    <component :is="preview.on ? LiveReadout : ReadoutBar" v-if="!look.alone" style="grid-area: read" :point="point" />
    <ProofShelf v-if="!look.alone" style="grid-area: shelf" />
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  height: 100vh;
  grid-template: 34px 34px 1fr 40px 80px / 54px minmax(0, 1fr) var(--side);
  grid-template-areas: 'top top top' 'tools tools side' 'rail picture side' 'read read side' 'shelf shelf side';
}
.bench.alone {
  grid-template: 1fr / 1fr;
  grid-template-areas: 'picture';
}
.picture,
.beside {
  grid-area: picture;
}
/* picture and model stand side by side */
.modelled .picture {
  margin-right: 50%;
}
.modelled .beside {
  margin-left: 50%;
}
.side {
  position: relative;
  min-width: 0;
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
  flex: auto;
  padding: 0 2px;
  background: none;
  border: 0;
  color: var(--dim);
  font: inherit;
  font-size: 12.5px;
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
.waiting {
  position: absolute;
  left: 10px;
  top: 8px;
  background: rgb(30 30 30 / 85%);
  padding: 3px 9px;
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
.opening {
  pointer-events: auto;
}
.opening button {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
.scale {
  position: absolute;
  left: 10px;
  bottom: 8px;
  max-width: calc(100% - 20px);
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
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
