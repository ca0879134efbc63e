<script setup lang="ts">
// One piece of evidence, whatever it is: its title, the thing itself, where it comes from, and what can be done with it.
import { computed, ref } from 'vue';
import Button from 'primevue/button';
import Dialog from 'primevue/dialog';
import { evidenceCsv, evidenceText, type Evidence, type Reference } from '@dusting/core/diagnose';
import { copyText } from '../parts/copyText.ts';
import type { View } from '../picture/view.ts';
import type { Sketch } from '../stores/diagnosis.ts';
import BarsView from './BarsView.vue';
import ChecklistView from './ChecklistView.vue';
import CurvesView from './CurvesView.vue';
import DialView from './DialView.vue';
import HistogramView from './HistogramView.vue';
import MapView from './MapView.vue';
import PathsView from './PathsView.vue';
import PicturesView from './PicturesView.vue';
import PixelsView from './PixelsView.vue';
import RaysView from './RaysView.vue';
import TableView from './TableView.vue';
import UvView from './UvView.vue';

const props = defineProps<{
  evidence: Evidence;
  open: boolean;
  /** It lies on the picture: a map, pixels, or a layer. */
  shown: boolean;
  /** How pictures are displayed. */
  view: Omit<View, 'centre' | 'scale'>;
}>();
const emit = defineEmits<{
  go: [to: Reference];
  show: [on: boolean];
  draw: [sketch: Sketch];
  /** To be marked where the model is open. */
  mark: [sketch: Sketch];
  set: [values: [path: string, value: number | boolean][]];
  /** A layer as it is to be seen on the picture. */
  paint: [image: ImageData];
}>();
const VIEWS = {
  bars: BarsView,
  curves: CurvesView,
  histogram: HistogramView,
  map: MapView,
  table: TableView,
  pixels: PixelsView,
  paths: PathsView,
  rays: RaysView,
  pictures: PicturesView,
  dial: DialView,
  uv: UvView,
  checklist: ChecklistView,
} as const;
/** Props that only some of them take. */
const own = computed(() => ({
  ...(['curves', 'histogram', 'map', 'pictures', 'dial', 'uv'].includes(props.evidence.type) && { large: false }),
  ...(['map', 'pixels', 'dial'].includes(props.evidence.type) && { shown: props.shown }),
  ...(props.evidence.type === 'pictures' && { view: props.view }),
}));
const large = ref(false);
const csv = computed(() => evidenceCsv(props.evidence));
const words = computed(() => evidenceText(props.evidence).join('; '));
const copied = ref(false);
async function copy() {
  await copyText(csv.value!);
  copied.value = true;
  setTimeout(() => (copied.value = false), 2000);
}
const listeners = {
  go: (to: Reference) => emit('go', to),
  show: (on: boolean) => emit('show', on),
  draw: (sketch: Sketch) => emit('draw', sketch),
  mark: (sketch: Sketch) => emit('mark', sketch),
  set: (values: [path: string, value: number | boolean][]) => emit('set', values),
  paint: (image: ImageData) => emit('paint', image),
};
</script>

<template>
  <details :open="open" class="evidence" :data-test="`evidence-${evidence.id}`">
    <summary>{{ evidence.title }}</summary>
    <p class="unseen">{{ words }}</p>
    <component :is="VIEWS[evidence.type]" :evidence="evidence as never" v-bind="own" v-on="listeners" />
    <p class="source">
      <span>{{ evidence.source }}</span>
      <span class="acts">
        <Button v-if="csv" :label="copied ? 'Copied' : 'Copy CSV'" text size="small" @click="copy" />
        <Button label="Open large" text size="small" :data-test="`large-${evidence.id}`" @click="large = true" />
      </span>
    </p>
    <Dialog
      v-model:visible="large"
      :header="evidence.title"
      :modal="false"
      position="topleft"
      class="large-evidence"
      data-test="large"
    >
      <component
        :is="VIEWS[evidence.type]"
        :evidence="evidence as never"
        v-bind="{ ...own, ...('large' in own && { large: true }) }"
        v-on="listeners"
      />
      <p class="source">{{ evidence.source }}</p>
    </Dialog>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-weight: 600;
}
.source {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  font-size: 11.5px;
  color: var(--dim);
}
.acts {
  margin-left: auto;
}
.unseen {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
}
</style>
