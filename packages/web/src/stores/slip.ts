// The change slip: pending changes, kept on the server.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw, watch } from 'vue';
import { until } from '@vueuse/core';
import {
  isOfScene,
  pathKeys,
  placeWords,
  valueAt,
  type Patch,
  type RenderSettings,
  type SettingsUse,
  type ShotDocument,
} from '@dusting/core/scene';
import { limitNotes } from '@dusting/core/diagnose';
import { api, type Prediction } from '../api.ts';
import { useBench } from './bench.ts';
import { useUndo } from './undo.ts';

export interface SlipLine {
  path: string;
  /** Whose value it is, in words. */
  label: string;
  /** Dotted path. */
  key: string;
  old: unknown;
  new: unknown;
}

export const useSlip = defineStore('slip', () => {
  const bench = useBench();
  const undo = useUndo();
  const prediction = ref<Prediction | null>(null);
  const isPredicting = ref(false);
  let asked = 0;
  const patch = computed(() => bench.shot?.slip ?? []);

  const lines = computed<SlipLine[]>(() =>
    patch.value.map((operation) => {
      const keys = pathKeys(operation.path);
      const old = valueAt(bench.shot?.document, keys);
      return {
        path: operation.path,
        // what is added has its name in the slip alone
        label: placeWords(keys, old === undefined ? document.value! : toRaw(bench.shot!.document)),
        key: keys.join('.'),
        old,
        new: 'value' in operation ? operation.value : undefined,
      };
    }),
  );

  /** A value that is being dragged: seen, and not on the slip before it is let go. */
  const held = shallowRef<Patch>([]);
  /** The slip as it is seen. */
  const seen = computed<Patch>(() => [...toPlain(patch.value), ...held.value]);
  /** The shot with the slip laid over it. */
  const document = computed<ShotDocument | null>(() =>
    bench.shot ? seen.value.reduce(changedBy, toRaw(bench.shot.document)) : null,
  );
  /** The settings with the slip applied. */
  const settings = (use: SettingsUse): RenderSettings => document.value![use];

  /** False where the server refused it: then it is taken back. */
  async function change(next: Patch): Promise<boolean> {
    const before = toPlain(patch.value);
    const step = {
      name: 'the slip',
      back: () => bench.saveSlip(before),
      forth: () => bench.saveSlip(next),
      ofRevision: true,
    };
    const unmake = undo.did(step); // at once: an undo may come before the answer of the server
    if (await bench.saveSlip(next)) return true;
    unmake();
    return false;
  }

  /** Puts a value on the slip; the present value takes the line off again. */
  const set = (path: string, value: unknown) => setAll([[path, value]]);

  /** The same for several at once, as one edit. undefined takes away what may be left out. */
  function setAll(values: [path: string, value: unknown][]) {
    const paths = new Set(values.map(([path]) => path));
    // what stands below a value goes with it
    const rest = toPlain(patch.value).filter(
      (o) => ![...paths].some((p) => o.path === p || o.path.startsWith(`${p}/`)),
    );
    return change([...rest, ...linesOf(values)]);
  }

  function linesOf(values: [path: string, value: unknown][]): Patch {
    return values.flatMap(([path, value]): Patch => {
      const present = valueAt(bench.shot?.document, pathKeys(path));
      if (JSON.stringify(present) === JSON.stringify(value)) return [];
      if (value === undefined) return [{ op: 'remove', path }];
      return [{ op: present === undefined ? 'add' : 'replace', path, value }];
    });
  }

  /** Shows values while they are dragged. */
  function hold(values: [path: string, value: unknown][]) {
    held.value = values.map(([path, value]) => ({ op: 'replace', path, value }));
  }
  /** Ends a drag: what it led to goes on the slip. */
  async function letGo() {
    const values = held.value.map((o): [string, unknown] => [o.path, 'value' in o ? o.value : undefined]);
    const done = values.length > 0 ? setAll(values) : null;
    held.value = [];
    await done;
  }

  /** Puts the lines of a remedy on the slip, over those of the same settings. */
  function add(lines: Patch) {
    const paths = new Set(lines.map((l) => l.path));
    return change([...toPlain(patch.value).filter((o) => !paths.has(o.path)), ...toPlain(lines)]);
  }

  const notes = computed(() => (bench.shot && patch.value.length > 0 ? limitNotes(settings(bench.use)) : []));

  watch(
    [() => JSON.stringify(patch.value), () => bench.use, () => bench.done.length, () => JSON.stringify(bench.region)],
    async () => {
      const from = bench.done.filter((p) => p.kind === 'proof' && p.use === bench.use).at(-1);
      const mine = ++asked;
      // what was predicted for another slip does not stand beside this one
      prediction.value = null;
      isPredicting.value = !!bench.shot && !!from && patch.value.length > 0;
      if (!isPredicting.value) return;
      await bench.settled();
      // a prediction is a help; the slip works without it
      const found = await api.predict(bench.shot!.id, bench.use, from!.id, bench.region).catch(() => null);
      if (mine !== asked) return;
      prediction.value = found;
      isPredicting.value = false;
    },
  );

  const isTrying = ref(false);
  /** Has the slip tried on the region. What it will be held against is predicted first, however soon it is asked for. */
  async function tryOut() {
    if (isTrying.value) return;
    isTrying.value = true;
    try {
      await until(isPredicting).toBe(false);
      const found = patch.value.some(isOfScene) ? null : prediction.value; // scene edits are not predicted
      await bench.render('trial', { predicted: found ? { seconds: found.regionSeconds.value, noise: found.noise?.value ?? null } : undefined }); // prettier-ignore
    } finally {
      isTrying.value = false;
    }
  }

  return {
    patch,
    lines,
    isTrying,
    tryOut,
    prediction,
    isPredicting,
    notes,
    settings,
    document,
    seen,
    set,
    setAll,
    hold,
    letGo,
    add,
    change,
  };
});

/** The document after one change; what does not lie on its path is shared with the one before. */
function changedBy<T extends object>(document: T, operation: Patch[number]): T {
  const [key, ...rest] = pathKeys(operation.path);
  const copy = (Array.isArray(document) ? [...document] : { ...document }) as Record<string, unknown>;
  const value = 'value' in operation ? operation.value : undefined;
  if (rest.length === 0) {
    if (operation.op === 'remove') delete copy[key];
    else copy[key] = value;
  } else if (typeof copy[key] === 'object' && copy[key] !== null)
    copy[key] = changedBy(copy[key], { ...operation, path: `/${rest.join('/')}` });
  return copy as T;
}
function toPlain<T>(value: T): T {
  return JSON.parse(JSON.stringify(value));
}
