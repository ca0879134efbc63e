// What the server said about the open shot, and what the user is doing with it.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import type { Region } from '@dusting/core/image';
import type { SettingsUse } from '@dusting/core/scene';
import { api, type Comparison, type LayerPicture, type Proof, type Shot } from '../api.ts';
import { proofName } from '../words.ts';
import { followEvents } from './events.ts';
import { useOpening } from './opening.ts';
import { useSlipKeeper } from './slipKeeper.ts';

/** Milliseconds between looks at a render under way: more often costs the render more than it shows. */
const REFRESH_EVERY = 700;
/** Milliseconds after which a full disk is no longer believed: while it is full it is said every five seconds. */
const FULL_LASTS = 12_000;

export type Panel =
  'defect' | 'contents' | 'settings' | 'plan' | 'sweep' | 'drift' | 'layers' | 'look' | 'compare' | 'history';

export const useBench = defineStore('bench', () => {
  const shot = ref<Shot | null>(null);
  const error = ref('');
  /** What the last look that failed has said. */
  let unseen = '';
  const connected = ref(true);
  /** Renders wait, because the database has no room for them. */
  const full = ref(false);
  let fullEnds: ReturnType<typeof setTimeout> | undefined;
  const panel = useLocalStorage<Panel>('dusting.panel', 'defect');
  const use = useLocalStorage<SettingsUse>('dusting.use', 'final');
  const proofId = ref<number | null>(null);
  const besideId = ref<number | null>(null);
  const layer = ref('beauty');
  /** Layer of the other proof; null: the same. */
  const besideLayer = ref<string | null>(null);
  let layerAfter: { proof: number; layer: string } | null = null;
  const layers = ref<{ name: string; channels: string[] }[]>([]);
  // large, and handed to workers: not made reactive inside
  const picture = shallowRef<LayerPicture | null>(null);
  /** Proof that the picture is of: while a render has none of its own, that of before stays. */
  const pictureId = ref<number | null>(null);
  /** Layer that the picture is of: while another is opened, that of before stays. */
  const seenLayer = ref('beauty');
  const { during, opening } = useOpening();
  const besidePicture = shallowRef<LayerPicture | null>(null);
  const region = ref<Region | null>(null);
  const defectId = ref<number | null>(null);
  /** Counts what the server announced of diagnoses of this shot. */
  const notices = ref(0);
  const comparison = ref<Comparison | null>(null);
  let refreshes = 0;
  let stopEvents: (() => void) | null = null;

  /** Of the shelf, and of the sweeps. */
  const renders = computed(() => [
    ...(shot.value?.proofs ?? []),
    ...(shot.value?.sweeps ?? []).flatMap((s) => s.trials),
  ]);
  const proof = computed(() => renders.value.find((p) => p.id === proofId.value) ?? null);
  const pictured = computed(() => renders.value.find((p) => p.id === pictureId.value) ?? null);
  const beside = computed(() => renders.value.find((p) => p.id === besideId.value) ?? null);
  /** What is being rendered for this shot, if anything is. */
  const busy = computed(() => renders.value.find((p) => ['queued', 'rendering', 'merging'].includes(p.state)));
  const defect = computed(() => shot.value?.defects.find((d) => d.id === defectId.value) ?? null);
  const done = computed(() => shot.value?.proofs.filter((p) => p.state === 'done') ?? []);
  /** The newest finished full proof: what predictions start from. */
  const lastProof = computed(() => done.value.filter((p) => p.kind === 'proof').at(-1) ?? null);

  /** The shot came as frames of another renderer: there is no scene, and nothing to render. */
  const isFrames = computed(() => !!shot.value?.mapping);

  /** Runs an act of the user; what goes wrong is said in the bench's own message line until an act succeeds. */
  async function act<T>(action: () => Promise<T>): Promise<T | undefined> {
    try {
      const result = await action();
      error.value = '';
      return result;
    } catch (problem) {
      error.value = (problem as Error).message;
      return undefined;
    }
  }
  /** Gets what is to be shown; its success takes away what a look before has said, but not why an act was refused. */
  async function load<T>(look: () => Promise<T>): Promise<T | undefined> {
    try {
      const result = await look();
      if (error.value === unseen) error.value = '';
      return result;
    } catch (problem) {
      const { message } = problem as Error;
      if (error.value === '' || error.value === unseen) error.value = unseen = message;
      return undefined;
    }
  }

  const keeper = useSlipKeeper(shot, (message) => (error.value = message ?? ''));
  const { unsent, other } = keeper;

  /** Keeps the slip as the next revision. */
  async function keepSlip(reason: string): Promise<boolean> {
    const id = shot.value!.id;
    const edits = await keeper.settled();
    const kept = await act(() => api.keepSlip(id, reason, edits));
    return kept !== undefined;
  }

  let opened: number | null = null;
  /** Another shot has been opened since it was asked for: a notice waits for its turn, and may outlive its page. */
  const isLate = (id: number) => opened !== null && id !== opened;
  async function open(id: number) {
    close();
    opened = id;
    await load(() => refresh(id));
    const shown = shot.value?.proofs.filter((p) => p.state !== 'failed').at(-1);
    if (shown) await show(shown.id);
    if (opened !== id) return;
    let waiting = false;
    let last = 0;
    stopEvents = followEvents({
      notice(notice) {
        if (notice.shot !== id) return;
        if (notice.type === 'diagnosis') return void notices.value++;
        if (waiting) return;
        waiting = true;
        // the first one at once, those that follow it together
        setTimeout(
          async () => {
            waiting = false;
            last = Date.now();
            await load(() => refresh(id));
          },
          Math.max(0, last + REFRESH_EVERY - Date.now()),
        );
      },
      state(state) {
        if (state && !connected.value) void keeper.flush().then(() => load(() => refresh(id)));
        connected.value = state;
      },
      full() {
        full.value = true;
        clearTimeout(fullEnds);
        fullEnds = setTimeout(() => (full.value = false), FULL_LASTS);
      },
    });
  }

  function close() {
    stopEvents?.();
    stopEvents = null;
    opened = null;
    shot.value = null;
    proofId.value = besideId.value = defectId.value = null;
    picture.value = besidePicture.value = null;
    region.value = null;
    comparison.value = null;
  }

  let latest: Promise<void> = Promise.resolve();
  /** Gets the shot again. Whoever asked before the last question waits for its answer: only that one counts. */
  async function refresh(id = shot.value!.id) {
    latest = getShot(id);
    for (let awaited; awaited !== latest;) await (awaited = latest);
  }

  async function getShot(id: number) {
    if (isLate(id)) return;
    const before = proof.value?.state;
    const edits = keeper.edits();
    const mine = ++refreshes;
    const next = await api.shot(id);
    if (mine !== refreshes || isLate(id)) return;
    keeper.take(next, edits);
    shot.value = next;
    const now = proof.value;
    // gone, and not just too new for this answer
    if (before !== undefined && !now) proofId.value = next.proofs.at(-1)?.id ?? null;
    if (now && now.state !== 'done') await loadPicture();
    else if (now && before !== 'done') await show(now.id);
  }

  async function show(id: number) {
    proofId.value = id;
    const shown = proof.value;
    // a trial is looked at over the proof that it is compared with
    const before = shown?.kind === 'trial' && shown.state === 'done' ? shown.before : null;
    if (before) panel.value = 'compare'; // at once: the user may turn to another panel while it loads
    if (shown?.state === 'done') {
      layers.value = await api.layers(id);
      if (layerAfter?.proof === id) {
        layer.value = layerAfter.layer;
        layerAfter = null;
      }
      if (!layers.value.some((l) => l.name === layer.value)) layer.value = 'beauty';
    }
    await loadPicture();
    if (before && proofId.value === id) await compareWith(before);
  }

  async function loadPicture() {
    const shown = proof.value;
    if (!shown || shown.state === 'failed') {
      picture.value = null;
      return;
    }
    const asked = layer.value;
    const loaded = await load(() =>
      shown.state === 'done' ? during(shown.id, asked, api.layer(shown.id, asked)) : api.progressPicture(shown.id),
    );
    if (!loaded || proofId.value !== shown.id || layer.value !== asked) return;
    picture.value = loaded;
    pictureId.value = shown.id;
    seenLayer.value = asked;
  }

  /** Goes back from a layer that is still being opened to the one that is seen. */
  function leaveOpening() {
    layer.value = seenLayer.value;
  }

  async function compareWith(id: number | null) {
    besideId.value = id;
    if (id === null) besideLayer.value = null;
    besidePicture.value = null;
    comparison.value = null;
    if (id === null) return;
    await loadBeside();
    await compareRegion();
  }

  async function compareRegion() {
    const [after, before] = [proof.value, beside.value];
    if (!after || !before || after.state !== 'done') return;
    const part = region.value ?? after.region;
    comparison.value = (await load(() => api.compare(before.id, after.id, layer.value, part))) ?? null;
  }

  watch(layer, async () => {
    await loadPicture();
    await loadBeside();
    await compareRegion();
  });
  watch(besideLayer, loadBeside);

  async function loadBeside() {
    const id = besideId.value;
    if (id === null) return;
    const asked = besideLayer.value ?? layer.value;
    const loaded = await load(() => api.layer(id, asked));
    if (besideId.value === id && (besideLayer.value ?? layer.value) === asked) besidePicture.value = loaded ?? null;
  }

  /** Sends off a proof of the present revision, or a trial or a pilot of the slip on the region. */
  async function render(
    what: 'proof' | 'trial' | 'pilot',
    { predicted, use: wanted = use.value }: { predicted?: NonNullable<Proof['predicted']>; use?: SettingsUse } = {},
  ) {
    const id = shot.value!.id;
    await keeper.settled(); // a trial tries the slip as it is seen
    const sent = await act(() =>
      api.render(id, {
        ...(what === 'pilot' ? { kind: 'diagnostic', purpose: what } : { kind: what }),
        use: wanted,
        region: what === 'proof' ? null : region.value,
        before: what === 'trial' ? lastProof.value?.id : undefined,
        predicted,
      }),
    );
    if (!sent) return;
    if (what === 'pilot') return void (await load(() => refresh())); // what is looked at stays
    await compareWith(null);
    // while it renders there is only its beauty; then the layer that was looked at comes back
    if (layer.value !== 'beauty') layerAfter = { proof: sent.id, layer: layer.value };
    layer.value = 'beauty';
    proofId.value = sent.id;
    await load(() => refresh());
  }

  async function cancel(id: number) {
    await act(() => api.cancel(id));
    await load(() => refresh());
  }

  function selectDefect(id: number | null) {
    defectId.value = id;
    if (id === null) return;
    panel.value = 'defect';
    region.value = defect.value?.region ?? null;
  }

  /** The object that covers most of a pixel of the shown proof, by the names that it carries. */
  async function objectAt(x: number, y: number): Promise<string | null> {
    const { proofId: of, proof: on } = { proofId: proofId.value, proof: proof.value };
    if (of === null || on?.state !== 'done' || isFrames.value) return null;
    const pixel = await load(() => api.pixel(of, x, y));
    const name = pixel?.names.find((n) => n.kind === 'objects')?.names[0]?.name;
    if (name === undefined) return null;
    const objects = shot.value?.document.objects ?? {};
    return name in objects ? name : (Object.keys(objects).find((id) => objects[id].name === name) ?? null);
  }

  async function removeProof(id: number) {
    const removed = await act(() => api.removeProof(id));
    if (!removed) return;
    if (besideId.value === id || proofId.value === id) await compareWith(null);
    await load(() => refresh());
    if (proofId.value !== null) await show(proofId.value);
    else picture.value = null;
  }

  async function addFrames(files: File[]) {
    const id = shot.value!.id;
    if (!(await act(() => api.addFrames(id, files)))) return;
    await load(() => refresh());
    const last = shot.value?.proofs.at(-1);
    if (last) await show(last.id);
  }

  const title = computed(() => (proof.value ? `${proofName(proof.value)} of ${shot.value?.name}` : ''));
  return {
    shot, error, connected, full, panel, use, proof, beside, layer, besideLayer, layers, picture, besidePicture, region, defect, defectId,
    notices, comparison, done, lastProof, title, proofId, pictured, besideId, isFrames,
    act, load, open, close, refresh, show, compareWith, compareRegion, saveSlip: keeper.save, keepSlip, unsent, other,
    settle: keeper.settle, settled: keeper.settled, busy, render, cancel, selectDefect,
    objectAt, removeProof, addFrames, opening, seenLayer, leaveOpening,
  }; // prettier-ignore
});
