// Maps of the measures of what is seen, asked of the server while they are looked at.
import { computed, ref, shallowRef, watch } from 'vue';
import { intersectRegions, scaleRegion } from '@dusting/core/image';
import type { LayerPicture } from '../api.ts';
import { api } from '../api.ts';
import type { PlacedPicture } from '../picture/view.ts';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';

/** Range of the legend of each map. */
export const MAP_RANGES = { deltaE: [0, 10], similarity: [0, 1] } as const;

export function useDifferenceMap() {
  const bench = useBench();
  const look = useLook();
  const picture = shallowRef<LayerPicture | null>(null);
  const computing = ref(false);
  const kind = computed(() =>
    look.mode === 'difference' && (look.difference === 'deltaE' || look.difference === 'similarity')
      ? look.difference
      : null,
  );
  watch(
    [() => kind.value, () => bench.besideId, () => bench.proofId, () => bench.layer, () => bench.proof?.state],
    async ([wanted, before, after, layer]) => {
      picture.value = null;
      if (!wanted || before === null || after === null || bench.proof?.state !== 'done') return;
      computing.value = true;
      const map = await bench.load(() => api.differenceMap(wanted, before, after, layer));
      if (kind.value === wanted && bench.besideId === before && bench.proofId === after && bench.layer === layer) {
        picture.value = map ?? null;
        computing.value = false;
      }
    },
    { immediate: true },
  );
  const map = computed<PlacedPicture | null>(() => {
    const { beside, proof } = bench;
    const window = proof && beside && intersectRegions(scaleRegion(beside.region, beside.settings, proof.settings), proof.region); // prettier-ignore
    return kind.value && picture.value && window ? { picture: picture.value, window } : null;
  });
  const range = computed<[number, number] | null>(() => (kind.value && map.value ? [...MAP_RANGES[kind.value]] : null));
  return { kind, map, range, computing };
}
