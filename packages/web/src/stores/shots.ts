import { defineStore } from 'pinia';
import { ref } from 'vue';
import { api, type ShotRow, type Unsupported } from '../api.ts';

export const useShots = defineStore('shots', () => {
  const rows = ref<ShotRow[] | null>(null);
  const error = ref('');
  /** Seconds since the import began; null: none is under way. */
  const importing = ref<number | null>(null);
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
    error.value = '';
    cancelling = new AbortController();
    const { signal } = cancelling;
    const clock = setInterval(() => importing.value!++, 1000);
    try {
      return await api.addShot(files, name, signal);
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

  async function remove(id: number) {
    try {
      await api.removeShot(id);
      await load();
    } catch (problem) {
      error.value = (problem as Error).message;
    }
  }

  return { rows, error, importing, load, add, cancelImport, remove };
});
