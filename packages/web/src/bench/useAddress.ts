// Keeps the address of the page and what is looked at the same.
import { nextTick, type Ref } from 'vue';
import { watchDebounced } from '@vueuse/core';
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router';
import { useBench } from '../stores/bench.ts';
import { useLook } from '../stores/look.ts';
import { proofName } from '../words.ts';
import { fromQuery, toQuery, type Address } from './address.ts';

/** @param ready whether the shot is open: before, the address is not written */
export function useAddress(ready: Ref<boolean>): { open: () => Promise<void> } {
  const route = useRoute();
  const router = useRouter();
  const bench = useBench();
  const look = useLook();

  function present(): Address {
    const { proof, beside, layer, region } = bench;
    const fitted = proof && look.isFitted({ x: 0, y: 0, width: proof.settings.width, height: proof.settings.height });
    return {
      proof: proof && proofName(proof),
      beside: beside && proofName(beside),
      mode: look.mode,
      besideLayer: bench.besideLayer,
      difference: look.difference,
      gain: look.gain,
      angle: look.wipe.angle,
      layer,
      channel: look.channel,
      transform: look.transform,
      exposure: look.exposure,
      gamma: look.gamma,
      shadowCheck: look.shadowCheck,
      region,
      place: fitted ? null : { ...look.centre, scale: look.scale },
    };
  }
  // an address that is written late must not call a way out back
  let leaving = false;
  onBeforeRouteLeave(() => void (leaving = true));
  watchDebounced(present, (address) => ready.value && !leaving && router.replace({ query: toQuery(address) }), {
    debounce: 300,
    deep: true,
  });

  /** Shows what the address says; without a query the last proof, as before. */
  async function open() {
    const { query } = route;
    if (Object.keys(query).length === 0) return;
    const wanted = fromQuery(query);
    const named = (name: string | null) => bench.shot?.proofs.find((p) => proofName(p) === name)?.id ?? null;
    look.exposure = wanted.exposure;
    look.gamma = wanted.gamma;
    look.shadowCheck = wanted.shadowCheck as 0 | 1 | 2;
    look.transform = wanted.transform;
    look.channel = wanted.channel;
    bench.layer = wanted.layer;
    look.difference = wanted.difference;
    look.gain = wanted.gain;
    look.wipe = { at: 0.5, angle: wanted.angle };
    const [shown, beside] = [named(wanted.proof), named(wanted.beside)];
    if (shown !== null) await bench.show(shown);
    if (beside !== null) await bench.compareWith(beside);
    bench.besideLayer = wanted.besideLayer;
    look.mode = bench.besideId === null ? 'one' : wanted.mode;
    bench.region = wanted.region;
    // the wall fits the picture in once it knows its size
    await nextTick();
    await nextTick();
    if (!wanted.place) return;
    look.centre = { x: wanted.place.x, y: wanted.place.y };
    look.scale = wanted.place.scale;
  }
  return { open };
}
