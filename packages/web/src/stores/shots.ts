import { defineStore } from 'pinia';
import { ref } from 'vue';
import { api, type ShotRow, type Unsupported } from '../api.ts';

export const useShots = defineStore('shots', () => {
  const rows = ref<ShotRow[] | null>(null);
  const error = ref('');
  const importing = ref(false);
  const imported = ref<{ name: string; unsupported: Unsupported[] } | null>(null);

  async function load() {
    try {
      rows.value = await api.shots();
      error.value = '';
    } catch (problem) {
      error.value = (problem as Error).message;
    }
  }

  async function add(files: File[], name: string): Promise<boolean> {
    importing.value = true;
    error.value = '';
    imported.value = null;
    try {
      const { unsupported } = await api.addShot(files, name);
      imported.value = { name: name || files[0].name, unsupported };
      await load();
      return true;
    } catch (problem) {
      error.value = (problem as Error).message;
      return false;
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

  return { rows, error, importing, imported, load, add, remove };
});
