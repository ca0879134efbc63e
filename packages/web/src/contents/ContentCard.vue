<script setup lang="ts">
// What is selected: what it is made of and used by, and its parameters.
import { computed, ref, watch } from 'vue';
import { CONTENT_KINDS, contentKeys, parameterAt, type ContentRef } from '@dusting/core/scene';
import { useContents } from '../stores/contents.ts';
import { usePreview } from '../stores/preview.ts';
import EnvironmentEditor from './EnvironmentEditor.vue';
import LightEditor from './LightEditor.vue';
import ParameterField from './ParameterField.vue';
import PlacementFields from './PlacementFields.vue';
import SurfaceChoice from './SurfaceChoice.vue';
import TextureEditor from './TextureEditor.vue';
import TargetTint from './TargetTint.vue';
import TextureSlots from './TextureSlots.vue';
import { PARAMETER_GROUPS, type ParameterGroup } from './groups.ts';
import { GLASS_ROLES, KIND_NAMES } from './words.ts';
import KindIcon from './KindIcon.vue';

/** Links that are shown at once. */
const MOST_LINKS = 6;

const contents = useContents();
const preview = usePreview();
const first = computed(() => contents.chosen[0]);
const kind = computed(() => first.value.kind);
const one = computed(() => (contents.chosen.length === 1 ? first.value : null));
/** Parameters that all of the selected have. */
const groups = computed(() =>
  PARAMETER_GROUPS[kind.value]
    .map((group) => ({ ...group, keys: group.keys.filter((key) => hasAll(key)) }))
    .filter((group) => group.keys.length > 0),
);
const keysOf = (key: string) => contents.chosen.map((c) => [...contentKeys(c), key]);
/** A camera has an angle or a height, by its kind. */
const speaks = (keys: string[]) => {
  const { cameras, environment } = contents.document!;
  if (keys.at(-1) === 'ceiling') return environment.picture !== null;
  return (
    keys[0] !== 'cameras' || keys.at(-1) !== (cameras[keys[1]].kind === 'perspective' ? 'height' : 'verticalAngle')
  );
};
const hasAll = (key: string) =>
  keysOf(key).every((keys) => contents.valueOf(keys) !== undefined && parameterAt(keys) && speaks(keys));
const isUsed = ({ openBy }: ParameterGroup) =>
  !openBy ||
  openBy.some((path) => contents.chosen.some((c) => isSet(contents.valueOf([...contentKeys(c), ...path.split('.')]))));
const isSet = (value: unknown) => typeof value === 'string' || Number(value) > 0;
/** Groups that open with the selection; one does not close while its weight is dragged to 0. */
const open = ref(new Set<string>());
watch(
  () => contents.selected,
  () => (open.value = new Set(groups.value.filter(isUsed).map((group) => group.title))),
  { immediate: true },
);
/** Under its heading a parameter need not say it again. */
const within = ({ title }: ParameterGroup, key: string) =>
  parameterAt(keysOf(key)[0])!.title.replace(new RegExp(`^${title} `, 'i'), '');
const relations = computed(() =>
  one.value
    ? [
        { title: 'made of', refs: one.value.madeOf },
        { title: 'used by', refs: one.value.usedBy },
      ].filter(({ refs }) => refs.length > 0)
    : [],
);
const transmits = computed(
  () => kind.value === 'surface' && !!one.value && contents.document!.surfaces[one.value.id].transmission_weight > 0,
);
const nameOf = (ref: ContentRef) => contents.contentOf(ref)?.name ?? `${ref.id}, which is gone`;
/** All objects of the surface, to change their flags at once. */
function selectAll(refs: ContentRef[]) {
  contents.selected = refs.filter((r) => r.kind === refs[0].kind);
}
/** Lists what it is made of and used by, to be searched. */
function listWith({ kind: of, id }: ContentRef) {
  contents.usedWith = { kind: of, id };
  contents.search = '';
  contents.kinds = [...CONTENT_KINDS];
  contents.select(null);
}
const objects = computed(() => [...contents.selectedObjects]);
const alone = computed(() => JSON.stringify(preview.isolation.objects) === JSON.stringify(objects.value));
function isolateObjects() {
  preview.isolate({ objects: alone.value ? null : objects.value });
}
</script>

<template>
  <header>
    <button class="tool" data-test="content-back" @click="contents.select(null)">‹ All</button>
    <h2 :title="one?.name" data-test="content-name">
      <KindIcon :kind="kind" /> {{ one ? one.name : `${contents.chosen.length} ${KIND_NAMES[kind]}` }}
    </h2>
    <button
      v-if="objects.length > 0"
      class="tool"
      :aria-pressed="alone"
      title="These objects alone, for looking"
      data-test="isolate-objects"
      @click="isolateObjects"
    >
      alone
    </button>
  </header>
  <p v-for="r in relations" :key="r.title" class="links">
    <span class="dim">{{ r.title }}</span>
    <button
      v-for="ref in r.refs.slice(0, MOST_LINKS)"
      :key="`${ref.kind} ${ref.id}`"
      :data-test="`link-${ref.kind}-${ref.id}`"
      @click="contents.select(ref)"
    >
      <KindIcon :kind="ref.kind" /> {{ nameOf(ref) }}
    </button>
    <template v-if="r.refs.length > 1">
      <button
        class="dim"
        title="Selects them, to change them together"
        data-test="select-all"
        @click="selectAll(r.refs)"
      >
        all {{ r.refs.length }}
      </button>
      <button class="dim" data-test="list-these" @click="listWith(one!)">list</button>
    </template>
  </p>
  <SurfaceChoice v-if="kind === 'object'" />
  <LightEditor v-if="kind === 'light' && one" :id="one.id" />
  <TextureEditor v-if="kind === 'texture' && one" :id="one.id" />
  <details class="fold" v-for="group in groups" :key="group.title" :open="open.has(group.title)">
    <summary>{{ group.title }}</summary>
    <ParameterField
      v-for="key in group.keys"
      :key="`${first.id} ${key}`"
      :keys="keysOf(key)"
      :title="within(group, key)"
      :role="transmits ? GLASS_ROLES[key] : undefined"
    />
  </details>
  <TargetTint v-if="transmits" :id="one!.id" :key="one!.id" />
  <TextureSlots v-if="kind === 'surface' && one" :id="one.id" />
  <EnvironmentEditor v-if="kind === 'environment'" />
  <PlacementFields
    v-if="one && (kind === 'object' || kind === 'light' || kind === 'camera')"
    :key="one.id"
    :keys="contentKeys(one)"
    :size="kind === 'object'"
  />
</template>

<style scoped>
header {
  display: flex;
  gap: 8px;
  align-items: center;
}
h2 {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.links {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  font-size: 12.5px;
}
.links button {
  border: 0;
  padding: 0;
  background: none;
  color: var(--text);
  font: inherit;
  text-decoration: underline;
  text-underline-offset: 2px;
  cursor: pointer;
}
</style>
