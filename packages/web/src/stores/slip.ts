// The change slip: pending changes, kept on the server.
import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import type { Patch, RenderSettings, SettingsUse } from '@dusting/core/scene';
import { limitNotes } from '@dusting/core/plan';
import { api, type Prediction } from '../api.ts';
import { useBench } from './bench.ts';
import { useUndo } from './undo.ts';

export interface SlipLine {
  path: string;
  label: string;
  old: unknown;
  new: unknown;
}

export const useSlip = defineStore('slip', () => {
  const bench = useBench();
  const undo = useUndo();
  const prediction = ref<Prediction | null>(null);
  const patch = computed(() => bench.shot?.slip ?? []);

  const lines = computed<SlipLine[]>(() =>
    patch.value.map((operation) => ({
      path: operation.path,
      label: operation.path.slice(1).replaceAll('/', '.'),
      old: lookUp(bench.shot?.document, operation.path),
      new: 'value' in operation ? operation.value : undefined,
    })),
  );

  /** The settings with the slip applied. */
  function settings(use: SettingsUse): RenderSettings {
    const copy = structuredClone(toPlain(bench.shot!.document[use]));
    for (const { path, new: value } of lines.value) {
      const keys = path.slice(1).split('/');
      if (keys[0] !== use) continue;
      let at = copy as Record<string, unknown>;
      for (const key of keys.slice(1, -1)) at = at[key] as Record<string, unknown>;
      at[keys.at(-1)!] = value;
    }
    return copy;
  }

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
  function set(path: string, value: unknown) {
    const rest = toPlain(patch.value).filter((o) => o.path !== path);
    const same = JSON.stringify(lookUp(bench.shot?.document, path)) === JSON.stringify(value);
    return change(same ? rest : [...rest, { op: 'replace', path, value }]);
  }

  /** Puts the lines of a remedy on the slip, over those of the same settings. */
  function add(lines: Patch) {
    const paths = new Set(lines.map((l) => l.path));
    return change([...toPlain(patch.value).filter((o) => !paths.has(o.path)), ...toPlain(lines)]);
  }

  const notes = computed(() => (bench.shot && patch.value.length > 0 ? limitNotes(settings(bench.use)) : []));

  watch(
    [() => JSON.stringify(patch.value), () => bench.use, () => bench.lastProof?.id, () => JSON.stringify(bench.region)],
    async () => {
      const from = bench.done.filter((p) => p.kind === 'proof' && p.use === bench.use).at(-1);
      if (!bench.shot || !from || patch.value.length === 0) {
        prediction.value = null;
        return;
      }
      try {
        prediction.value = await api.predict(bench.shot.id, bench.use, from.id, bench.region);
      } catch {
        prediction.value = null; // a prediction is a help; the slip works without it
      }
    },
  );

  return { patch, lines, prediction, notes, settings, set, add, change };
});

function lookUp(document: unknown, path: string): unknown {
  return path
    .slice(1)
    .split('/')
    .reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], document);
}
function toPlain<T>(value: T): T {
  return JSON.parse(JSON.stringify(value));
}
