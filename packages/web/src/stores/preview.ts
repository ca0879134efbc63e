// The live preview: what is wished for, and what came of it.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw, watch } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import {
  isIsolating,
  isOfScene,
  ISOLATION_DEFAULTS,
  listChanges,
  type Isolation,
  type SettingsUse,
} from '@dusting/core/scene';
import { fromHalf } from '@dusting/core/formats';
import { estimatePreviewMemory } from '@dusting/core/render';
import type { PreviewReport, PreviewWish } from '@dusting/preview';
import type { Region } from '@dusting/core/image';
import type { LayerPicture } from '../api.ts';
import { pageMemory, startPreview, type Previewer } from '../workers/previewer.ts';
import { useBench } from './bench.ts';
import { useSlip } from './slip.ts';

export const SAMPLE_CHOICES = [4, 16, 64, 256, 1024];

export const usePreview = defineStore('preview', () => {
  const bench = useBench();
  const slip = useSlip();
  const on = ref(false);
  const paused = ref(false);
  const use = useLocalStorage<SettingsUse>('dusting.previewUse', 'preview');
  const samples = useLocalStorage('dusting.previewSamples', 64);
  const denoised = useLocalStorage('dusting.previewDenoised', false);
  const isolation = ref<Isolation>({ ...ISOLATION_DEFAULTS });
  const report = shallowRef<PreviewReport | null>(null);
  const picture = shallowRef<LayerPicture | null>(null);
  const fault = ref('');
  /** Milliseconds from the last edit to its first picture. */
  const firstAfter = ref<number | null>(null);
  /** A picture that was kept to compare with. */
  const frozen = shallowRef<LayerPicture | null>(null);
  let previewer: Previewer | null = null;
  let wishes = 0;
  let wishedAt = 0;
  let waiting = false;

  const isolating = computed(() => isIsolating(isolation.value));
  /** What the user looks at, in shares of the frame. */
  const interest = computed<Region | null>(() => {
    const { region, shot, proof } = bench;
    const frame = proof?.settings ?? shot?.document?.final;
    if (!region || !frame) return null;
    return { x: region.x / frame.width, y: region.y / frame.height, width: region.width / frame.width, height: region.height / frame.height }; // prettier-ignore
  });
  /** In what the preview's settings are not the final ones. */
  const differs = computed(() => {
    const document = slip.document;
    if (!document || use.value === 'final') return [];
    return listChanges(document.final, document.preview);
  });

  /** Who computes it: what the user chose, or the page as long as the scene fits into its memory. */
  const chosenWhere = ref<Previewer['where'] | null>(null);
  const memory = computed(() => {
    const { document } = slip;
    return { scene: document ? estimatePreviewMemory(document, use.value) : 0, page: pageMemory() };
  });
  const tooLarge = computed(() => memory.value.scene > memory.value.page);
  const where = computed(() => chosenWhere.value ?? (tooLarge.value ? 'server' : 'browser'));

  function wish() {
    const { shot } = bench;
    if (!on.value || !shot || !previewer) return;
    const next: PreviewWish = {
      patch: JSON.parse(JSON.stringify(slip.seen)),
      use: use.value,
      isolation: JSON.parse(JSON.stringify(isolation.value)),
      samples: samples.value,
      interest: interest.value,
      denoised: denoised.value,
    };
    wishes++;
    wishedAt = performance.now();
    waiting = true;
    fault.value = '';
    previewer.show(wishes, next);
  }

  function start() {
    const { shot } = bench;
    if (!shot || bench.isFrames) return;
    on.value = true;
    if (previewer?.shot !== shot.id || previewer.where !== where.value) {
      previewer?.end();
      report.value = picture.value = null;
      previewer = startPreview(shot.id, where.value, take, (number, text) => {
        if (number === null || number === wishes) fault.value = text;
      });
      paused.value = false;
    }
    previewer.open(toRaw(shot.document), shot.revision);
    wish();
  }
  watch(where, () => on.value && start());
  function take(next: PreviewReport) {
    if (next.wish !== wishes || !on.value) return;
    if (waiting) firstAfter.value = performance.now() - wishedAt;
    waiting = false;
    report.value = next;
    const { width, height, halves } = next.picture;
    picture.value = { width, height, channels: ['R', 'G', 'B'], halves };
  }
  /** Shows the proof again. The scene stays ready for the next time. */
  function stop() {
    on.value = false;
    frozen.value = null;
    previewer?.pause(true);
  }
  function end() {
    stop();
    previewer?.end();
    previewer = null;
    chosenWhere.value = null;
    report.value = picture.value = null;
    isolation.value = { ...ISOLATION_DEFAULTS };
  }
  const toggle = () => (on.value ? stop() : start());

  watch([() => on.value, () => paused.value], () => previewer?.pause(paused.value || !on.value));
  watch(
    [
      () => JSON.stringify(slip.seen),
      () => use.value,
      () => samples.value,
      () => denoised.value,
      () => JSON.stringify(isolation.value),
    ],
    wish,
  );
  watch(
    () => bench.shot?.revision,
    (revision) => {
      if (!previewer || revision === undefined || !bench.shot) return;
      previewer.open(toRaw(bench.shot.document), revision);
      wish();
    },
  );
  watch(
    () => JSON.stringify(interest.value),
    () => previewer?.lookAt(interest.value),
  );
  watch(
    () => bench.shot?.id,
    () => end(),
  );

  // an edit in the contents is seen at once
  watch(
    () => JSON.stringify(slip.seen),
    () => bench.panel === 'contents' && slip.seen.some(isOfScene) && follow(),
  );
  /** Shows what is edited, from now on. */
  function follow() {
    if (!on.value) start();
  }
  function freeze() {
    frozen.value = frozen.value ? null : picture.value;
  }
  function isolate(change: Partial<Isolation>) {
    isolation.value = { ...isolation.value, ...change };
    follow();
  }
  const endIsolation = () => (isolation.value = { ...ISOLATION_DEFAULTS });

  /** What is seen at a place of the frame, in shares of it: linear colour, object and surface. */
  function pixelAt(x: number, y: number) {
    const shown = report.value;
    if (!shown || !on.value) return null;
    const { width, height, halves, objects, surfaces } = shown.picture;
    const i = Math.floor(y * height) * width + Math.floor(x * width);
    return {
      values: [0, 1, 2].map((k) => fromHalf(halves[i * 3 + k])),
      object: shown.objectIds[objects[i] - 1] ?? null,
      surface: shown.surfaceIds[surfaces[i] - 1] ?? null,
    };
  }

  // a proof that is chosen, or sent off, is what the user wants to see
  watch(
    () => bench.proofId,
    () => on.value && stop(),
  );

  return {
    on, paused, use, samples, denoised, isolation, isolating, report, picture, fault, firstAfter, frozen, differs, where, chosenWhere, memory, tooLarge,
    start, stop, end, toggle, follow, freeze, isolate, endIsolation, pixelAt,
  }; // prettier-ignore
});
