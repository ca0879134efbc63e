import { defineStore } from 'pinia';
import { ref } from 'vue';
import { api, WINDOW, type ImportNotice, type ShotRow, type Unsupported } from '../api.ts';
import { megabytes } from '../words.ts';

export const useShots = defineStore('shots', () => {
  const rows = ref<ShotRow[] | null>(null);
  const error = ref('');
  /** Seconds since the import began; null: none is under way. */
  const importing = ref<number | null>(null);
  /** What is being done of it. */
  const stage = ref('');
  let cancelling = new AbortController();

  async function load() {
    try {
      rows.value = await api.shots();
      error.value = '';
    } catch (problem) {
      error.value = (problem as Error).message;
    }
  }

  /** @returns null where it was refused */
  async function add(files: File[], name: string): Promise<{ id: number; unsupported: Unsupported[] } | null> {
    importing.value = 0;
    stage.value = '';
    error.value = '';
    cancelling = new AbortController();
    const { signal } = cancelling;
    const clock = setInterval(() => importing.value!++, 1000);
    try {
      return await api.addShot(files, name, signal, (sent, all) => (stage.value = `Sending: ${megabytes(sent)} of ${megabytes(all)}`)); // prettier-ignore
    } catch (problem) {
      // whoever cancels knows why nothing came in
      error.value = signal.aborted ? '' : (problem as Error).message;
      return null;
    } finally {
      clearInterval(clock);
      importing.value = null;
    }
  }
  const cancelImport = () => cancelling.abort();
  /** The server says how far an import is, of any window. */
  function hear(notice: ImportNotice) {
    if (notice.window === WINDOW && importing.value !== null)
      stage.value = `${notice.stage[0].toUpperCase()}${notice.stage.slice(1)}`;
  }

  async function remove(id: number) {
    try {
      await api.removeShot(id);
      await load();
    } catch (problem) {
      error.value = (problem as Error).message;
    }
  }

  return { rows, error, importing, stage, hear, load, add, cancelImport, remove };
});
