<script setup lang="ts">
// What the shot is made of: searched, and what is selected shown with what it is made of and used by.
import { onMounted, ref, watch } from 'vue';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import ContentCard from './ContentCard.vue';
import ContentList from './ContentList.vue';
import IsolateTools from './IsolateTools.vue';

const bench = useBench();
const contents = useContents();
onMounted(contents.prepare);
const panel = ref<HTMLElement>();
// what is selected is read from its top
watch(
  () => contents.selected,
  () => panel.value?.parentElement?.scrollTo({ top: 0 }),
  { flush: 'post' },
);
</script>

<template>
  <p v-if="bench.isFrames" class="dim">This shot came as frames: it has no scene to look into.</p>
  <section v-else ref="panel" class="panel">
    <IsolateTools />
    <ContentCard v-if="contents.chosen.length > 0" />
    <ContentList v-else />
  </section>
</template>
