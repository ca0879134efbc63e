// What the scene is made of, as the slip changes it, and what of it is selected: in the contents, the picture and the model.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw, watch } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import {
  changedContents,
  CONTENT_KINDS,
  contentKeys,
  isInState,
  sameContent,
  sceneContents,
  valueAt,
  type Content,
  type ContentKind,
  type ContentRef,
  type ContentState,
  type ShotDocument,
} from '@dusting/core/scene';
import { api } from '../api.ts';
import { useBench } from './bench.ts';
import { useSlip } from './slip.ts';

/** States besides those of the scene: changed on the slip, or since the shown proof. */
export type SearchState = ContentState | 'changed' | 'since' | null;

export const useContents = defineStore('contents', () => {
  const bench = useBench();
  const slip = useSlip();
  const selected = shallowRef<ContentRef[]>([]);
  const search = ref('');
  const kinds = useLocalStorage<ContentKind[]>('dusting.contentKinds', [...CONTENT_KINDS]);
  const state = ref<SearchState>(null);
  /** Only what uses this, or is used by it. */
  const usedWith = shallowRef<ContentRef | null>(null);
  const imported = shallowRef<ShotDocument | null>(null);
  /** The scene that the shown proof was made of. */
  const proven = shallowRef<ShotDocument | null>(null);

  const document = computed(() => (bench.isFrames ? null : slip.document));
  const all = computed<Content[]>(() => (document.value ? sceneContents(document.value) : []));
  const changed = computed(() => (document.value ? changedContents(toRaw(bench.shot!.document), document.value) : []));
  const since = computed(() => (document.value && proven.value ? changedContents(proven.value, document.value) : []));

  const found = computed(() => {
    const words = search.value.trim().toLowerCase();
    const doc = document.value;
    if (!doc) return [];
    const among = (refs: ContentRef[], content: ContentRef) => refs.some((r) => sameContent(r, content));
    return all.value.filter((content) => {
      if (!kinds.value.includes(content.kind)) return false;
      if (words && !content.name.toLowerCase().includes(words)) return false;
      const other = usedWith.value;
      if (other && !among([...content.madeOf, ...content.usedBy], other)) return false;
      if (state.value === null) return true;
      if (state.value === 'changed') return among(changed.value, content);
      if (state.value === 'since') return among(since.value, content);
      return isInState(content, state.value, doc);
    });
  });

  const contentOf = (ref: ContentRef) => all.value.find((c) => sameContent(c, ref)) ?? null;
  /** What is selected and still there. */
  const chosen = computed(() => selected.value.map(contentOf).filter((c) => c !== null));
  const isSelected = (ref: ContentRef) => selected.value.some((s) => sameContent(s, ref));
  /** Objects that are selected, or use what is selected. */
  const selectedObjects = computed(() => {
    const ids = new Set<string>();
    for (const { kind, id } of selected.value) {
      if (kind === 'object') ids.add(id);
      if (kind === 'surface')
        for (const [object, { surface }] of Object.entries(document.value?.objects ?? {})) if (surface === id) ids.add(object); // prettier-ignore
    }
    return ids;
  });

  /** @param add to what is selected, where it is of the same kind; selected again, it is let go */
  function select(ref: ContentRef | null, add = false) {
    if (!ref) selected.value = [];
    else if (!add || selected.value.some((s) => s.kind !== ref.kind)) selected.value = [ref];
    else
      selected.value = isSelected(ref) ? selected.value.filter((s) => !sameContent(s, ref)) : [...selected.value, ref];
  }
  /** Selects what was pointed at, and shows it. */
  function pick(ref: ContentRef | null, add = false) {
    select(ref, add);
    if (ref) bench.panel = 'contents';
  }

  const valueOf = (keys: string[]) => (document.value ? valueAt(document.value, keys) : undefined);
  /** As it came in, or undefined where it was not there. */
  const importedValue = (keys: string[]) => (imported.value ? valueAt(imported.value, keys) : undefined);
  const pathOf = (keys: string[]) => `/${keys.join('/')}`;
  /** Keys of a value of each selected content. */
  const selectedKeys = (key: string) => selected.value.map((ref) => [...contentKeys(ref), key]);

  watch(
    () => bench.shot?.id,
    () => {
      selected.value = [];
      imported.value = null;
      usedWith.value = null;
      state.value = null;
    },
  );
  /** Loads what the editors compare with. */
  async function prepare() {
    const { shot } = bench;
    if (!shot || imported.value || bench.isFrames) return;
    imported.value = (await bench.load(() => api.revision(shot.id, 1))) ?? null;
  }
  watch([() => state.value, () => bench.proofId], async () => {
    const { shot, proof } = bench;
    if (state.value !== 'since' || !shot || !proof) return;
    proven.value = (await bench.load(() => api.revision(shot.id, proof.revision))) ?? null;
  });

  return {
    selected, search, kinds, state, usedWith, imported, document, all, found, changed, chosen, selectedObjects,
    contentOf, isSelected, select, pick, valueOf, importedValue, pathOf, selectedKeys, prepare,
  }; // prettier-ignore
});
