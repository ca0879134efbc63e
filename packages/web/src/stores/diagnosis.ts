// The diagnosis of the selected defect: asked for, followed, cancelled, and held against what trials measured.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { DIAGNOSES, isTrialOf, type Measured, type Ray, type Remedy } from '@dusting/core/diagnose';
import { api, type DiagnosisView, type Proof } from '../api.ts';
import { useBench } from './bench.ts';

/** What evidence has to show in the model: metres. */
export interface Sketch {
  /** Vertices of a light path that came from the camera. */
  path: number[][];
  rays: Ray[];
  /** Places that are marked. */
  places?: number[][];
}
const NOTHING_SKETCHED: Sketch = { path: [], rays: [] };

export const useDiagnosis = defineStore('diagnosis', () => {
  const bench = useBench();
  const view = shallowRef<DiagnosisView | null>(null);
  /** Proof that it explains: a trial is explained with the proof that it is compared with, until it has its own. */
  const onId = ref<number | null>(null);
  /** Id of the map, the pixels or the layer that is shown on the picture. */
  const overlayId = ref<string | null>(null);
  /** That layer, as it was dragged last. */
  const layer = shallowRef<ImageData | null>(null);
  /** What is drawn in the model. */
  const sketch = shallowRef<Sketch>(NOTHING_SKETCHED);
  const measured = shallowRef(new Map<number, Measured>());
  let asked = 0;

  const result = computed(() => view.value?.result ?? null);
  const isRunning = computed(() => view.value?.state === 'running');
  const on = computed(() => bench.done.find((p) => p.id === onId.value) ?? null);
  const overlay = computed(() => result.value?.evidence.find((e) => e.id === overlayId.value) ?? null);

  /** The shown trial itself is to be explained, and not the proof that it is compared with. */
  const wantsTrial = ref(false);

  /** Gets what is known of the defect on the shown proof, or on the one that the shown trial is compared with. */
  async function look() {
    const mine = ++asked;
    const [defect, proof] = [bench.defect, bench.proof];
    const module = defect && DIAGNOSES[defect.kind];
    const isTrial = proof?.kind === 'trial' && proof.before !== null && !wantsTrial.value;
    const proofs = !module || proof?.state !== 'done' ? [] : isTrial ? [proof.before!, proof.id] : [proof.id];
    for (const id of proofs) {
      // a proof that does not show the region has no diagnosis: asked for, it says why
      const found = await api.diagnosisOf(defect!.id, id).catch(() => null);
      if (mine !== asked) return;
      if (!found) continue;
      view.value = found;
      onId.value = id;
      return;
    }
    view.value = null;
    onId.value = proof?.id ?? null;
    // what is read from the proof alone takes no time worth a question
    if (proofs.length > 0 && module!.requires.scene === 'unused' && defect!.state === 'explained') await start(defect!.id, proof!.id, false); // prettier-ignore
  }

  /** Explains the defect on the shown proof. */
  async function explain() {
    wantsTrial.value = bench.proof?.kind === 'trial';
    if (bench.defect && bench.proof) await start(bench.defect.id, bench.proof.id, false);
  }
  /** Explains it once more on the proof that it was explained on. */
  async function explainAgain() {
    if (bench.defect && onId.value !== null) await start(bench.defect.id, onId.value, true);
  }
  async function start(defect: number, proof: number, again: boolean) {
    const mine = ++asked;
    const started = await bench.act(() => api.diagnose(defect, proof, again));
    if (!started || mine !== asked) return;
    view.value = started;
    onId.value = proof;
    // a short one may be done before its notice could be heard
    if (started.state === 'running') await look();
  }

  async function cancel() {
    const of = view.value;
    if (of) await bench.act(() => api.cancelDiagnosis(of.id));
    await look();
  }

  /** The newest finished trial of a remedy, where there is one. */
  const trialOf = (remedy: Remedy): Proof | null =>
    bench.done.findLast((p) => p.kind === 'trial' && p.before === onId.value && isTrialOf(p.patch, remedy)) ?? null;

  watch([() => result.value, () => bench.done.length], async () => {
    const of = view.value;
    if (!of?.result) return;
    for (const trial of of.result.remedies.map(trialOf)) {
      if (!trial || measured.value.has(trial.id)) continue;
      const found = await bench.load(() => api.measured(of.id, trial.id));
      if (found) measured.value = new Map(measured.value).set(trial.id, found);
    }
  });
  watch(
    [
      () => bench.defectId,
      () => bench.proofId,
      () => bench.proof?.state,
      () => bench.shot?.revision,
      () => bench.notices,
      () => JSON.stringify(bench.shot?.mapping),
    ],
    look,
  );
  watch([() => bench.defectId, () => bench.proofId], () => (wantsTrial.value = false), { flush: 'sync' });
  watch([() => bench.defectId, onId], () => {
    overlayId.value = null;
    layer.value = null;
    sketch.value = NOTHING_SKETCHED;
    measured.value = new Map();
  });

  return {
    view,
    result,
    isRunning,
    on,
    overlay,
    overlayId,
    layer,
    sketch,
    measured,
    explain,
    explainAgain,
    cancel,
    trialOf,
  };
});
