// Saving the slip: in the order of the edits, again when the server was away, and not over what another window did.
import { ref, type Ref } from 'vue';
import type { Patch } from '@dusting/core/scene';
import { api, Problem, WINDOW, type Shot } from '../api.ts';

/** Milliseconds between tries while the server is away. */
const TRY_EVERY = 1500;

/** What another window did to the shot, and what this one had. */
export interface OtherEdit {
  mine: Patch;
  theirs: Patch;
  /** The present revision, where it has changed too. */
  revision: number | null;
  /** What this window has is not saved: it would have gone over the other. */
  held: boolean;
}

/** @param refused says why the server refused an edit; null: it did not */
export function useSlipKeeper(shot: Ref<Shot | null>, refused: (message: string | null) => void) {
  /** Edits that the server has not got yet, since it does not answer. */
  const unsent = ref(false);
  const other = ref<OtherEdit | null>(null);
  let saved: Promise<unknown> = Promise.resolve();
  let open = 0;
  let count = 0;
  /** The slip as the server has it, and the edits of the shot that this window knows. */
  let kept: Patch = [];
  let known = 0;
  let theirs: { slip: Patch; edits: number; revision: number } | null = null;
  let again: ReturnType<typeof setTimeout> | null = null;

  const holds = () => unsent.value || other.value?.held === true;

  /** Shows the slip at once and saves it, after the edits before it. False where the server refused it. */
  async function save(next: Patch): Promise<boolean> {
    const { id } = shot.value!;
    if (open++ === 0 && !holds()) kept = shot.value!.slip;
    const edit = ++count;
    shot.value!.slip = next;
    // who goes on from what the other window did has taken it
    if (other.value?.held === false) other.value = null;
    const turn = saved.then(() => send(id, next));
    saved = turn;
    const result = await turn;
    open--;
    if (result === 'refused' && edit === count && shot.value?.id === id) shot.value.slip = kept;
    return result !== 'refused';
  }

  async function send(id: number, next: Patch): Promise<'saved' | 'held' | 'refused'> {
    if (holds()) return 'held';
    try {
      known = (await api.saveSlip(id, next, known)).edits;
      kept = next;
      refused(null);
      return 'saved';
    } catch (problem) {
      const { status, message } = problem as Problem;
      const met = status === 409 ? await meet(id) : null;
      if (met === 'mine') return send(id, next);
      if (met === 'other') return 'held';
      if (met === 'away' || status === 0 || status === 503) {
        unsent.value = true;
        tryLater(id);
        return 'held';
      }
      refused(message);
      return 'refused';
    }
  }

  /** Learns what the other window did: or it was this one, by another way than the slip; or the server does not say. */
  async function meet(id: number): Promise<'other' | 'mine' | 'away'> {
    const now = await api.shot(id).catch(() => null);
    if (!now) return 'away';
    if (shot.value?.id !== id) return 'other';
    if (now.editedBy === WINDOW && now.edits > known) {
      known = now.edits;
      return 'mine';
    }
    theirs = now;
    const revision = now.revision === shot.value.revision ? null : now.revision;
    other.value = { mine: shot.value.slip, theirs: now.slip, revision, held: true };
    return 'other';
  }

  function tryLater(id: number) {
    again ??= setTimeout(() => {
      again = null;
      void flush(id);
    }, TRY_EVERY);
  }
  /** Sends what the server has missed. */
  async function flush(id = shot.value?.id) {
    if (!unsent.value || shot.value?.id !== id) return;
    unsent.value = false;
    await (saved = saved.then(() => send(id!, shot.value!.slip)));
  }

  /** What the server said before it heard of an edit must not undo it; what another window did is told. */
  function take(next: Shot, asked: number) {
    const present = shot.value;
    if (present?.id !== next.id) {
      known = next.edits;
      other.value = theirs = null;
      unsent.value = false;
      return;
    }
    if (asked !== count || open > 0 || next.edits < known || holds()) {
      next.slip = present.slip;
      return;
    }
    if (next.edits > known && next.editedBy !== WINDOW) {
      const revision = next.revision === present.revision ? null : next.revision;
      const same = JSON.stringify(next.slip) === JSON.stringify(present.slip);
      if (!same || revision !== null) other.value = { mine: present.slip, theirs: next.slip, revision, held: false };
    }
    known = next.edits;
  }

  /** Ends the difference with another window: by what it did, or by what stands here. */
  async function settle(choice: 'theirs' | 'mine') {
    const difference = other.value;
    other.value = null;
    if (!difference || !shot.value) return;
    if (theirs) {
      known = theirs.edits;
      if (choice === 'theirs') shot.value.slip = theirs.slip;
      theirs = null;
    }
    // of what was held, the newest counts
    if (choice === 'mine') await save(difference.held ? shot.value.slip : difference.mine);
  }

  /** To be asked for before the server is, so that an answer that is older than an edit can be told; -1: one is on its way. */
  const edits = () => (open > 0 ? -1 : count);
  /** Number of edits of the shot that this window knows, once all of its own are saved. */
  const settled = async () => {
    await saved;
    return known;
  };
  return { unsent, other, save, take, flush, settle, edits, settled };
}
