<script setup lang="ts">
// The slots of a surface for textures: chosen, taken out, swapped with another slot.
import { computed, ref } from 'vue';
import { parameterAt, TEXTURE_DEFAULTS } from '@dusting/core/scene';
import type { TakenPicture } from '../api.ts';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import { SLOT_CHANNELS, SLOTS, type Slot } from './groups.ts';
import GradientMaker from './GradientMaker.vue';
import TexturePicture from './TexturePicture.vue';

const props = defineProps<{ id: string }>();
const contents = useContents();
const slip = useSlip();
const maps = computed(() => contents.document!.surfaces[props.id].maps);
const textures = computed(() => Object.entries(contents.document!.textures));
const path = (slot: Slot) => `/surfaces/${props.id}/maps/${slot}`;
/** Others show the same texture: how it lies here cannot be changed without them. */
const isShared = (slot: Slot) =>
  Object.values(contents.document!.surfaces)
    .flatMap((surface) => Object.values(surface.maps))
    .filter((texture) => texture === maps.value[slot]).length > 1;
/** Gives the slot a texture of its own, of the same file. */
function part(slot: Slot) {
  const { textures: all } = contents.document!;
  const id = maps.value[slot]!;
  let n = 2;
  while (`${id}-${n}` in all) n++;
  void slip.setAll([
    [`/textures/${id}-${n}`, { ...all[id], name: `${all[id].name} ${n}` }],
    [path(slot), `${id}-${n}`],
  ]);
}
const titleOf = (slot: Slot) => parameterAt(['surfaces', props.id, 'maps', slot])!.title;
/** Stands for a gradient that is to be made. */
const NEW_GRADIENT = '+';
const making = ref<Slot | null>(null);
/** Stand before the slot that a texture moves to. */
const MOVE = '> ';
/** What is chosen: a texture, none, a gradient that is to be made, or another slot for what is there. */
function choose(slot: Slot, select: HTMLSelectElement) {
  const chosen = select.value;
  // it shows what the shot says, whatever becomes of the choice
  select.value = maps.value[slot] ?? '';
  making.value = chosen === NEW_GRADIENT ? slot : null;
  if (chosen.startsWith(MOVE)) move(slot, chosen.slice(MOVE.length) as Slot);
  else if (chosen !== NEW_GRADIENT) void slip.set(path(slot), chosen || undefined);
}
/** Into an empty slot it is moved; with a full one it is swapped. */
function move(from: Slot, to: Slot) {
  void slip.setAll([
    [path(from), maps.value[to]],
    [path(to), maps.value[from]],
  ]);
}
/** A gradient becomes a texture of its own, in the slot that it was made for. */
function takeGradient(slot: Slot, { blob, height, name, width }: TakenPicture) {
  const { textures: all } = contents.document!;
  let n = 1;
  while (`gradient-${n}` in all) n++;
  making.value = null;
  void slip.setAll([
    [
      `/textures/gradient-${n}`,
      {
        ...TEXTURE_DEFAULTS,
        name: `${name.replace(/\.png$/, '')} ${n}`,
        blob,
        width,
        height,
        encoding: 'srgb',
        wrapU: 'clamp',
        wrapV: 'clamp',
      },
    ],
    [path(slot), `gradient-${n}`],
  ]);
}
/** An object with this surface, whose UVs a gradient is drawn over. */
const mesh = computed(() => {
  const { meshes, objects } = contents.document!;
  const object = Object.values(objects).find(({ surface }) => surface === props.id);
  return object ? { blob: meshes[object.mesh].blob, uvSet: 0 } : null;
});
const transmits = computed(() => contents.document!.surfaces[props.id].transmission_weight > 0);
/** Textures that are read as colour, but hold numbers, or the other way round. */
const isColor = (slot: Slot) => slot === 'base_color' || slot === 'emission_color' || slot === 'specular_color';
function warning(slot: Slot): string {
  const texture = contents.document!.textures[maps.value[slot] ?? ''];
  if (!texture || texture.encoding === (isColor(slot) ? 'srgb' : 'linear') || /\.(exr|hdr)$/i.test(texture.name))
    return '';
  return isColor(slot) ? 'read as linear: colours are usually sRGB' : 'read as sRGB: numbers are usually linear';
}
</script>

<template>
  <details class="fold" open>
    <summary>Textures</summary>
    <div v-for="slot in SLOTS" :key="slot" class="slot" :class="{ empty: !maps[slot] }" :data-test="`slot-${slot}`">
      <button
        v-if="maps[slot] && contents.document!.textures[maps[slot]!]"
        class="thumb"
        :title="`Open ${contents.document!.textures[maps[slot]!].name}`"
        @click="contents.select({ kind: 'texture', id: maps[slot]! })"
      >
        <TexturePicture :texture="contents.document!.textures[maps[slot]!]" :size="28" />
      </button>
      <span v-else class="thumb" />
      <label :for="`slot-${slot}`"
        >{{ titleOf(slot) }} <span v-if="SLOT_CHANNELS[slot]" class="dim">{{ SLOT_CHANNELS[slot] }}</span></label
      >
      <select
        :id="`slot-${slot}`"
        class="entry"
        :value="maps[slot] ?? ''"
        @change="choose(slot, $event.target as HTMLSelectElement)"
      >
        <option value="">no texture</option>
        <option v-for="[id, texture] in textures" :key="id" :value="id">{{ texture.name }}</option>
        <option v-if="isColor(slot) || slot === 'coat' || slot === 'transmission'" :value="NEW_GRADIENT">
          new gradient …
        </option>
        <optgroup v-if="maps[slot]" label="Move to">
          <option v-for="other in SLOTS.filter((s) => s !== slot)" :key="other" :value="MOVE + other">
            {{ titleOf(other) }}{{ maps[other] ? ', swapped' : '' }}
          </option>
        </optgroup>
      </select>
      <GradientMaker
        v-if="making === slot"
        :mesh="mesh"
        :filters="slot === 'base_color' && transmits"
        @made="takeGradient(slot, $event)"
        @cancel="making = null"
      />
      <p v-if="maps[slot] && isShared(slot)" class="shared">
        shared with others
        <button title="A texture of its own, of the same file, that can lie otherwise" @click="part(slot)">
          own copy
        </button>
      </p>
      <p v-if="warning(slot)" class="warning">▲ {{ warning(slot) }}</p>
    </div>
  </details>
</template>

<style scoped>
.slot {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr) 138px;
  gap: 0 6px;
  align-items: center;
  min-height: 31px;
}
.empty label {
  color: var(--dim);
}
label {
  line-height: 1.15;
}
label .dim {
  font-size: 11px;
  display: block;
}
.thumb {
  width: 30px;
  height: 28px;
  padding: 0;
  border: 0;
  background: #424242;
  display: flex;
  justify-content: center;
  align-items: center;
  cursor: pointer;
}
span.thumb {
  cursor: default;
}
select {
  font-size: 12.5px;
}
.shared {
  grid-column: 2 / 4;
  font-size: 12px;
  color: var(--dim);
}
.shared button {
  border: 0;
  padding: 0;
  background: none;
  color: var(--text);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
.warning {
  grid-column: 2 / 4;
  color: var(--wax);
  font-size: 12px;
}
</style>
