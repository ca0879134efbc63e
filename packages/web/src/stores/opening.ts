import { ref } from 'vue';
import { DENOISED } from '@dusting/core/render';
import { api } from '../api.ts';

/** Milliseconds after which what is not there yet is said to be on its way, and between looks at how far it is. */
const PATIENCE = 300;

/** A layer that somebody waits for. */
export interface Opening {
  layer: string;
  /** How much of it is made, 0..1; null where that is not known. */
  share: number | null;
}

/** Follows a layer that takes its time: one of a large frame has to be fetched, and a look without noise to be made. */
export function useOpening() {
  const opening = ref<Opening | null>(null);
  let latest = 0;

  /** Says what is waited for while it is. */
  async function during<T>(proof: number, layer: string, work: Promise<T>): Promise<T> {
    const mine = ++latest;
    opening.value = null;
    const look = async () => {
      if (mine !== latest) return;
      const share = layer === DENOISED ? await api.lookShare(proof).catch(() => null) : null;
      if (mine !== latest) return;
      opening.value = { layer, share };
      timer = setTimeout(look, PATIENCE);
    };
    let timer = setTimeout(look, PATIENCE);
    try {
      return await work;
    } finally {
      clearTimeout(timer);
      if (mine === latest) {
        latest++;
        opening.value = null;
      }
    }
  }
  return { opening, during };
}
