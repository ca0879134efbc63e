<script setup lang="ts">
// Of a texture: its picture with the UVs of an object, its file, and how it lies on the surface.
import { computed, ref, shallowRef, toRaw } from 'vue';
import type { TextureRef } from '@dusting/core/scene';
import { api, type TakenPicture } from '../api.ts';
import { useContents } from '../stores/contents.ts';
import { useSlip } from '../stores/slip.ts';
import FileButton from './FileButton.vue';
import QuantityInput from './QuantityInput.vue';
import TexturePicture from './TexturePicture.vue';
import { pictureTools } from '../workers/index.ts';
import { copiedMapping, type Mapping } from './copiedMapping.ts';

const props = defineProps<{ id: string }>();
const contents = useContents();
const slip = useSlip();
const fault = ref('');
const texture = computed(() => contents.document!.textures[props.id]);
const path = (key: keyof TextureRef) => `/textures/${props.id}/${key}`;
/** Objects that show it, to draw their UVs. */
const objects = computed(() => {
  const { objects: all, surfaces } = contents.document!;
  return Object.entries(all).filter(([, o]) => Object.values(surfaces[o.surface].maps).includes(props.id));
});
const chosenObject = shallowRef<string | null>(null);
const object = computed(() => objects.value.find(([id]) => id === chosenObject.value) ?? objects.value[0] ?? null);
const mesh = computed(() => {
  if (!object.value || chosenObject.value === '') return null;
  return { blob: contents.document!.meshes[object.value[1].mesh].blob, uvSet: texture.value.uvSet };
});

function replace({ name, blob, width, height }: TakenPicture) {
  void slip.setAll([[path('name'), name], [path('blob'), blob], [path('width'), width], [path('height'), height], [path('tiles'), []]]); // prettier-ignore
}
const baking = ref(false);
/** Replaces the file with a copy that holds its padding and its blended seams. */
async function bake() {
  baking.value = true;
  fault.value = '';
  try {
    const bytes = await pictureTools().paddedTexture(toRaw(contents.document!), props.id);
    const name = `${texture.value.name.replace(/\.[^.]*$/, '')} padded.png`;
    const { blob, height, width } = await api.takePicture(new File([bytes as Uint8Array<ArrayBuffer>], name, { type: 'image/png' })); // prettier-ignore
    await slip.setAll([[path('name'), name], [path('blob'), blob], [path('width'), width], [path('height'), height], [path('padding'), 0], [path('blend'), 0], [path('primaries'), 'rec709'], [path('alpha'), 'straight']]); // prettier-ignore
  } catch (error) {
    fault.value = (error as Error).message;
  }
  baking.value = false;
}
const setPair = (key: 'offset' | 'scale', index: number, value: number) =>
  slip.set(path(key), texture.value[key].map((v, k) => (k === index ? value : v))); // prettier-ignore
/** Mirrored about the middle of the picture. */
function mirror(index: number) {
  const { scale, offset } = texture.value;
  const flip = (values: number[], next: (v: number) => number) => values.map((v, k) => (k === index ? next(v) : v));
  void slip.setAll([
    [path('scale'), flip(scale, (v) => -v)],
    [path('offset'), flip(offset, (v) => v + scale[index])],
  ]);
}
const turn = () => slip.set(path('rotation'), ((texture.value.rotation + 90 + 180) % 360) - 180);
const MAPPING = ['uvSet', 'offset', 'scale', 'rotation', 'wrapU', 'wrapV'] as const;
const copy = () => (copiedMapping.value = Object.fromEntries([['name', texture.value.name], ...MAPPING.map((key) => [key, texture.value[key]])]) as unknown as Mapping); // prettier-ignore
const paste = () => slip.setAll(MAPPING.map((key) => [path(key), copiedMapping.value![key]]));
</script>

<template>
  <div class="picture"><TexturePicture :texture="texture" :size="262" :mesh="mesh" /></div>
  <p class="dim">
    {{ texture.width }} × {{ texture.height }} px{{ texture.tiles.length > 0 ? `, ${texture.tiles.length} tiles` : '' }}
  </p>
  <label v-if="objects.length > 0" class="line"
    >UVs of
    <select
      class="entry"
      :value="object?.[0] ?? ''"
      @change="chosenObject = ($event.target as HTMLSelectElement).value"
    >
      <option v-for="[oid, o] in objects" :key="oid" :value="oid">{{ o.name }}</option>
      <option value="">none</option>
    </select></label
  >
  <div class="line wrap">
    <FileButton label="Replace the file …" test-id="replace-texture" @taken="replace" />
    <button
      v-if="texture.padding > 0 || texture.blend > 0"
      class="tool"
      :disabled="baking"
      title="Replaces the file with a copy that holds its padding and its blended seams"
      data-test="bake-padding"
      @click="bake"
    >
      {{ baking ? 'Baking …' : 'Bake padding and blending into the map' }}
    </button>
    <button class="tool" title="How it lies on the surface, to be given to another texture" @click="copy">
      Copy mapping
    </button>
    <button v-if="copiedMapping" class="tool" :title="`As on ${copiedMapping.name}`" @click="paste">
      Paste mapping
    </button>
  </div>
  <div class="pairs">
    <template v-for="key in ['offset', 'scale'] as const" :key="key">
      <span class="dim">{{ key }}</span>
      <QuantityInput
        v-for="k in [0, 1]"
        :id="`${key}-${k}`"
        :key="`${key}${k}`"
        :aria-label="`${key} in ${'UV'[k]}`"
        :value="texture[key][k]"
        unit=""
        :minimum="-1e6"
        :maximum="1e6"
        :whole="false"
        @change="setPair(key, k, $event)"
        @fault="fault = $event"
      />
    </template>
    <span />
    <button class="tool" data-test="mirror-u" @click="mirror(0)">Mirror U</button>
    <button class="tool" @click="mirror(1)">Mirror V</button>
    <span />
    <button class="tool" @click="turn">Turn 90°</button>
  </div>
  <p v-if="fault" role="alert" class="fault">▲ {{ fault }}</p>
</template>

<style scoped>
.picture {
  display: flex;
  justify-content: center;
  background: var(--wall);
  min-height: 60px;
}
.line {
  display: flex;
  gap: 6px;
  align-items: center;
}
.wrap {
  flex-wrap: wrap;
}
select {
  flex: 1;
}
.pairs {
  display: grid;
  grid-template-columns: 1fr 84px 84px;
  gap: 4px 6px;
  align-items: center;
}
.pairs :deep(input) {
  width: 84px;
}
</style>
