// What the user has edited on the open shot, in order, and the way back and forth through it.
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import { useBench } from './bench.ts';

/** One edit. Both ways lead to a state and not by a difference, so that they may be gone again and again. */
export interface Step {
  /** What was edited, for the user: "note of P2". */
  name: string;
  /** false, or a promise of it, where it was refused. */
  back(): unknown;
  forth(): unknown;
  /** Edits of the same thing that follow one another, such as the places of a slider, are one step. */
  same?: string;
  /** It leads through one revision only. */
  ofRevision?: boolean;
}

export const useUndo = defineStore('undo', () => {
  const bench = useBench();
  const past = shallowRef<Step[]>([]);
  const future = shallowRef<Step[]>([]);
  const last = computed(() => past.value.at(-1) ?? null);
  const next = computed(() => future.value.at(-1) ?? null);

  /**
   * Remembers an edit that was made. What was undone before it cannot be redone any more.
   * @returns to be called where the edit did not come about after all
   */
  function did(step: Step): () => void {
    const before = last.value;
    const undone = future.value;
    if (step.same !== undefined && before?.same === step.same && undone.length === 0)
      past.value = [...past.value.slice(0, -1), { ...step, back: before.back }];
    else past.value = [...past.value, step];
    future.value = [];
    return () => {
      past.value = past.value.filter((s) => s !== step);
      future.value = future.value.length === 0 ? undone : future.value.filter((s) => s !== step);
    };
  }
  /** Goes one step from the one list to the other; what is refused stays where it was. */
  async function go(from: typeof past, to: typeof past, way: 'back' | 'forth') {
    const step = from.value.at(-1);
    if (!step) return;
    from.value = from.value.slice(0, -1);
    to.value = [...to.value, step];
    if ((await step[way]()) !== false) return;
    to.value = to.value.filter((s) => s !== step);
    from.value = [...from.value, step];
  }
  const undo = () => go(past, future, 'back');
  const redo = () => go(future, past, 'forth');

  watch(
    () => bench.shot?.id,
    () => (past.value = future.value = []),
  );
  watch(
    () => bench.shot?.revision,
    () => {
      past.value = past.value.filter((s) => !s.ofRevision);
      future.value = future.value.filter((s) => !s.ofRevision);
    },
  );
  return { past, future, last, next, did, undo, redo };
});
