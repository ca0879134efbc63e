import { defineStore } from 'pinia';
import { ref } from 'vue';
import { api, type ShotRow, type Unsupported } from '../api.ts';

export const useShots = defineStore('shots', () => {
  const rows = ref<ShotRow[] | null>(null);
  const error = ref('');
  const importing = ref(false);

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
    importing.value = true;
    error.value = '';
    try {
      return await api.addShot(files, name);
    } catch (problem) {
      error.value = (problem as Error).message;
      return null;
    } finally {
      importing.value = false;
    }
  }

  async function remove(id: number) {
    try {
      await api.removeShot(id);
      await load();
    } catch (problem) {
      error.value = (problem as Error).message;
    }
  }

  return { rows, error, importing, load, add, remove };
});
