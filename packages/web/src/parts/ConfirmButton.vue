<script setup lang="ts">
// A button for what cannot be undone: it asks in its own place, beside what it is about.
import { nextTick, ref } from 'vue';
import Button from 'primevue/button';

defineProps<{ label: string; question: string; yes: string; testId: string }>();
const emit = defineEmits<{ confirm: [] }>();
const asking = ref(false);
const keep = ref<{ $el: HTMLElement }>();
async function ask() {
  asking.value = true;
  await nextTick();
  keep.value?.$el.focus(); // Enter does no harm
}
function confirm() {
  asking.value = false;
  emit('confirm');
}
</script>

<template>
  <Button v-if="!asking" :label="label" size="small" text severity="secondary" :data-test="testId" @click="ask" />
  <div v-else class="ask" role="alertdialog" :aria-label="question" @keydown.esc.stop="asking = false">
    <span>{{ question }}</span>
    <Button ref="keep" label="Keep" size="small" severity="secondary" @click="asking = false" />
    <Button :label="yes" size="small" severity="secondary" :data-test="`${testId}-yes`" @click="confirm" />
  </div>
</template>

<style scoped>
.ask span {
  flex-basis: 100%;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  max-width: 290px;
  gap: 6px;
  align-items: center;
  padding: 6px 8px;
  border-left: 3px solid var(--wax);
  background: var(--room);
}
</style>
