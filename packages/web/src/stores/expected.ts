// What a render will take before it is sent, which one is proposed (the preview until somebody has seen a picture), and whether the
// final is asked about first.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { drift, finalLoses, type SettingsUse } from '@dusting/core/scene';
import { api, type Defect, type ExpectedTime, type Proof } from '../api.ts';
import { useBench } from './bench.ts';
import { useDiagnosis } from './diagnosis.ts';

export const useExpected = defineStore('expected', () => {
  const bench = useBench();
  const diagnosis = useDiagnosis();
  let asked = 0;
  const times = shallowRef<Record<SettingsUse, ExpectedTime | null>>({ preview: null, final: null });
  const proposed = computed<SettingsUse>(() => (bench.done.length === 0 ? 'preview' : bench.use));
  const other = computed<SettingsUse>(() => (proposed.value === 'final' ? 'preview' : 'final'));
  watch(
    [() => bench.shot?.id, () => bench.shot?.revision, () => bench.done.length],
    async () => {
      const { shot } = bench;
      if (!shot || bench.isFrames) return;
      const found = await api.expected(shot.id).catch(() => null); // what is not known is left out
      if (found && bench.shot?.id === shot.id) times.value = found;
    },
    { immediate: true },
  );
  /** What the final would show less of than a preview that somebody has looked at. */
  const lost = computed(() =>
    bench.shot && bench.done.some((p) => p.use === 'preview') && !bench.done.some((p) => p.use === 'final')
      ? finalLoses(drift(bench.shot.document))
      : [],
  );
  /** What a diagnosis of the drift measured over a whole picture; null where none did since the settings changed. */
  const drifted = shallowRef<{ measured: Record<string, number>; on: Proof } | null>(null);
  /** How far apart both sets are, L*. */
  const apart = computed(() => drifted.value && { mean: drifted.value.measured.moved, on: drifted.value.on });
  watch(
    // the answer that is shown as well: it may be there before its notice
    [
      () => bench.shot?.id,
      () => bench.shot?.revision,
      () => bench.shot?.defects.length,
      () => bench.notices,
      () => diagnosis.result,
    ],
    async () => {
      const mine = ++asked;
      const defect = bench.shot?.defects.findLast(({ kind }) => kind === 'drift');
      const found = defect ? await driftOn(defect) : null;
      // an older answer may come after a newer one
      if (mine === asked) drifted.value = found;
    },
    { immediate: true },
  );
  /** By the newest picture that the defect covers and that was explained. */
  async function driftOn({ id, region }: Defect): Promise<typeof drifted.value> {
    const covered = bench.done.filter((p) => p.kind === 'proof' && JSON.stringify(p.region) === JSON.stringify(region));
    for (const on of covered.reverse()) {
      const found = await api.diagnosisOf(id, on.id).catch(() => null);
      const measured = found?.outOfDate.length === 0 ? found.result?.measured : undefined;
      if (measured?.moved !== undefined) return { measured, on };
    }
    return null;
  }
  const isLittle = () => apart.value !== null && apart.value.mean <= bench.shot!.document.noise.limit;
  /** The question whether to render the final nevertheless is open. */
  const asks = ref(false);
  /** Sends a proof, or asks first. */
  function send(use: SettingsUse, sure = false) {
    asks.value = use === 'final' && lost.value.length > 0 && !isLittle() && !sure;
    if (!asks.value) void bench.render('proof', { use });
  }
  return { times, proposed, other, lost, drifted, apart, asks, send };
});
