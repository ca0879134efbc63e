// A mix of the parts of the light: components or light groups, each on or off, stronger or weaker, tinted; and the occlusion layer
// multiplied in. No render is needed, since light adds up.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw, watch } from 'vue';
import { mixChange, type Tint } from '@dusting/core/plan';
import { OCCLUSION_COMPOSITE_DEFAULTS, type OcclusionComposite } from '@dusting/core/image';
import { applyPatch } from '@dusting/core/scene';
import { COMPONENTS } from '@dusting/core/render';
import { api, type LayerPicture } from '../api.ts';
import { pictureTools } from '../workers/index.ts';
import type { Taken } from '../picture/multiplyOcclusion.ts';
import { useBench } from './bench.ts';
import { useSlip } from './slip.ts';
import { useUndo } from './undo.ts';

export type MixKind = 'components' | 'groups';
export interface MixPart {
  on: boolean;
  stops: number;
  tint: Tint;
}
export const PART_DEFAULTS: MixPart = { on: true, stops: 0, tint: [1, 1, 1] };
const PART_LAYERS: Record<MixKind, RegExp> = {
  components: new RegExp(`^(${COMPONENTS.join('|')}|diffuse|specular|light\\..+)$`),
  groups: /^group\./,
};

const OCCLUSION = 'occlusion';
/** Beyond surfaces an occlusion layer says nothing, and is 0 as often as 1. */
const DEPTH = 'depth';

export const useMix = defineStore('mix', () => {
  const bench = useBench();
  const slip = useSlip();
  const undo = useUndo();
  const kind = ref<MixKind>('components');
  const parts = ref<Record<string, MixPart>>({});
  const picture = shallowRef<LayerPicture | null>(null);
  /** How the occlusion layer is multiplied in; null where it is not. */
  const occlusion = shallowRef<OcclusionComposite | null>(null);
  const taken = shallowRef<Taken | null>(null);
  /** Layers of the parts, as far as they were needed, of the proof that they belong to. */
  let loaded = new Map<string, Promise<LayerPicture>>();
  let loadedOf: number | null = null;
  let asked = 0;

  const rank = (name: string) => (COMPONENTS as readonly string[]).indexOf(name) >>> 0;
  const names = computed(() =>
    bench.layers
      .map((l) => l.name)
      .filter((n) => PART_LAYERS[kind.value].test(n))
      .sort((a, b) => rank(a) - rank(b)),
  );
  const hasGroups = computed(() => bench.layers.some((l) => PART_LAYERS.groups.test(l.name)));
  const part = (name: string): MixPart => parts.value[name] ?? PART_DEFAULTS;
  const factor = ({ on, stops, tint }: MixPart): Tint => tint.map((t) => (on ? t * 2 ** stops : 0)) as Tint;
  const changed = computed(() => names.value.filter((n) => factor(part(n)).some((t) => t !== 1)));
  const hasOcclusion = computed(() => bench.layers.some((l) => l.name === OCCLUSION));
  const hasDepth = computed(() => bench.layers.some((l) => l.name === DEPTH));
  const multiplied = computed(() => (hasOcclusion.value ? occlusion.value : null));
  const isChanged = computed(() => changed.value.length > 0 || multiplied.value !== null);
  const active = computed(() => isChanged.value && bench.layer === 'beauty' && bench.proof?.state === 'done');

  function put(next: Record<string, MixPart>, same?: string) {
    const before = parts.value;
    parts.value = next;
    undo.did({ name: 'the mix', back: () => (parts.value = before), forth: () => (parts.value = next), same });
  }
  function set(name: string, change: Partial<MixPart>) {
    put({ ...parts.value, [name]: { ...part(name), ...change } }, `mix ${name} ${Object.keys(change).join()}`);
  }
  /** Multiplies the occlusion layer in, otherwise, or no more. */
  function multiply(change: Partial<OcclusionComposite> | null) {
    const before = occlusion.value;
    const next = change && { ...(before ?? OCCLUSION_COMPOSITE_DEFAULTS), ...change };
    occlusion.value = next;
    undo.did({ name: 'the occlusion of the mix', back: () => (occlusion.value = before), forth: () => (occlusion.value = next), same: change ? `mix occlusion ${Object.keys(change).join()}` : undefined }); // prettier-ignore
  }
  function reset() {
    if (changed.value.length > 0) put({});
    if (occlusion.value) multiply(null);
  }
  const forget = () => (parts.value = {});
  /** This part alone; a second time all of them again. */
  function solo(name: string) {
    const alone = names.value.every((n) => part(n).on === (n === name));
    put(Object.fromEntries(names.value.map((n) => [n, { ...part(n), on: alone || n === name }])));
  }
  watch([() => kind.value, () => bench.shot?.id], forget);
  watch(() => bench.shot?.id, () => (occlusion.value = null)); // prettier-ignore

  watch(
    [() => active.value, () => bench.picture, () => JSON.stringify([changed.value.map((n) => factor(part(n))), multiplied.value])], // prettier-ignore
    async ([on, beauty]) => {
      const mine = ++asked;
      const proof = bench.proofId;
      if (!on || !beauty || proof === null) return void (picture.value = taken.value = null);
      if (loadedOf !== proof) {
        loaded = new Map();
        loadedOf = proof;
      }
      const mixed = await bench.load(async () => {
        const own = changed.value.map((name) => ({ name, tint: factor(part(name)) }));
        const composite = multiplied.value;
        for (const name of [...own.map((o) => o.name), ...(composite ? [OCCLUSION, ...(hasDepth.value ? [DEPTH] : [])] : [])]) if (!loaded.has(name)) loaded.set(name, api.layer(proof, name)); // prettier-ignore
        const layers = await Promise.all(
          own.map(async ({ name, tint }) => ({ picture: await loaded.get(name)!, tint })),
        );
        const shade = composite && { open: await loaded.get(OCCLUSION)!, depth: (await loaded.get(DEPTH)) ?? null, composite }; // prettier-ignore
        return mine === asked ? pictureTools().mix(beauty, layers, shade) : null;
      });
      if (mine !== asked) return;
      picture.value = mixed?.picture ?? null;
      taken.value = mixed?.taken ?? null;
    },
  );

  /** The lights that the shown proof was rendered with; null where it was made at another revision. */
  const lit = computed(() => {
    const { shot, proof } = bench;
    if (!shot || !proof || proof.revision !== shot.revision) return null;
    return applyPatch(toRaw(shot.document), toRaw(proof.patch));
  });
  const canSlip = computed(() => kind.value === 'groups' && lit.value !== null);

  /** Puts the mix of the light groups on the slip, as a change of the lights. What is refused stays in the mix. */
  async function toSlip() {
    const tints = Object.fromEntries(names.value.map((n) => [n.replace(/^group\./, ''), factor(part(n))]));
    if (lit.value && (await slip.add(mixChange(lit.value, tints)))) forget();
  }

  return { kind, names, hasGroups, hasOcclusion, occlusion, taken, picture, active, changed, isChanged, part, set, solo, multiply, reset, canSlip, toSlip }; // prettier-ignore
});
