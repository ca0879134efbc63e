<script setup lang="ts">
import { computed } from 'vue';
import { CONTENT_KINDS, CONTENT_STATES, type Content, type ContentKind, type ContentState } from '@dusting/core/scene';
import { useBench } from '../stores/bench.ts';
import { useContents, type SearchState } from '../stores/contents.ts';
import { proofName } from '../words.ts';
import { KIND_NAMES } from './words.ts';
import KindIcon from './KindIcon.vue';
import LightSwitches from './LightSwitches.vue';

/** Rows that are drawn at most: a search finds the rest. */
const MOST_ROWS = 400;

const bench = useBench();
const contents = useContents();
const counts = computed(() =>
  Object.fromEntries(CONTENT_KINDS.map((kind) => [kind, contents.all.filter((c) => c.kind === kind).length])),
);
const states = computed<{ value: SearchState; label: string }[]>(() => [
  { value: null, label: 'in any state' },
  { value: 'changed', label: 'changed on the slip' },
  ...(bench.proof ? [{ value: 'since' as const, label: `changed since ${proofName(bench.proof)}` }] : []),
  ...(Object.keys(CONTENT_STATES) as ContentState[]).map((value) => ({ value, label: CONTENT_STATES[value] })),
]);
/** This kind alone, or with Ctrl as well as the others; all again where it was alone. */
function chooseKind(kind: ContentKind, add: boolean) {
  const { kinds } = contents;
  if (add) contents.kinds = kinds.includes(kind) ? kinds.filter((k) => k !== kind) : [...kinds, kind];
  else contents.kinds = kinds.length === 1 && kinds[0] === kind ? [...CONTENT_KINDS] : [kind];
}
const told = ({ kind, id, madeOf, usedBy }: Content): string => {
  const { document } = contents;
  if (!document) return '';
  if (kind === 'object') return document.surfaces[document.objects[id].surface].name;
  if (kind === 'light') return document.lights[id].kind;
  if (kind === 'surface') return `${usedBy.length} object${usedBy.length === 1 ? '' : 's'}`;
  if (kind === 'texture') return `${document.textures[id].width} × ${document.textures[id].height}`;
  return madeOf.length > 0 ? String(madeOf.length) : '';
};
function choose(content: Content, event: MouseEvent) {
  contents.select(content, event.ctrlKey || event.metaKey);
}
</script>

<template>
  <input
    v-model="contents.search"
    type="search"
    class="entry search"
    placeholder="Search by name"
    aria-label="Search the contents"
    data-test="content-search"
  />
  <div class="kinds" role="group" aria-label="Kinds">
    <button
      v-for="kind in CONTENT_KINDS"
      :key="kind"
      :aria-pressed="contents.kinds.includes(kind)"
      :title="`${KIND_NAMES[kind]} alone, with Ctrl as well`"
      :data-test="`kind-${kind}`"
      @click="chooseKind(kind, $event.ctrlKey || $event.metaKey)"
    >
      <KindIcon :kind="kind" /> {{ KIND_NAMES[kind] }} <span class="dim">{{ counts[kind] }}</span>
    </button>
  </div>
  <select v-model="contents.state" aria-label="State" class="entry state" data-test="content-state">
    <option v-for="s in states" :key="s.label" :value="s.value">{{ s.label }}</option>
  </select>
  <p v-if="contents.usedWith" class="with">
    together with {{ contents.contentOf(contents.usedWith)?.name }}
    <button aria-label="Show all" @click="contents.usedWith = null">×</button>
  </p>
  <ul class="rows" data-test="content-list">
    <li v-for="content in contents.found.slice(0, MOST_ROWS)" :key="`${content.kind} ${content.id}`">
      <button class="row" :data-test="`content-${content.kind}-${content.id}`" @click="choose(content, $event)">
        <KindIcon :kind="content.kind" />
        <span class="name">{{ content.name }}</span>
        <span class="dim">{{ told(content) }}</span>
      </button>
      <LightSwitches v-if="content.kind === 'light'" :id="content.id" />
    </li>
  </ul>
  <p v-if="contents.found.length > MOST_ROWS" class="dim">
    {{ contents.found.length - MOST_ROWS }} more: search for a name.
  </p>
  <p v-if="contents.found.length === 0" class="dim">Nothing is found: try another name, kind or state.</p>
  <p v-else class="dim">Click in the picture to find what is seen there.</p>
</template>

<style scoped>
.kinds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 6px;
}
.kinds button {
  border: 0;
  background: none;
  color: var(--dim);
  font: inherit;
  text-align: left;
  height: 24px;
  cursor: pointer;
}
.kinds button[aria-pressed='true'] {
  color: var(--text);
}
.rows {
  list-style: none;
  margin: 0 -12px;
  padding: 0;
}
.rows li {
  display: flex;
  border-top: 1px solid #434343;
}
.row {
  display: flex;
  flex: 1;
  min-width: 0;
  gap: 7px;
  align-items: center;
  height: 29px;
  padding: 0 12px;
  border: 0;
  background: none;
  color: var(--text);
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.row:hover {
  background: #464646;
}
.row .name {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.row .dim {
  font-size: 12px;
  max-width: 110px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.with button {
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
</style>
