<script setup lang="ts">
import { RouterView, useRoute } from 'vue-router';
import { tokenAsked } from './api.ts';
import TokenView from './views/TokenView.vue';

const route = useRoute();
</script>

<template>
  <TokenView v-if="tokenAsked" />
  <!-- another shot is another bench -->
  <RouterView v-else :key="route.path" />
</template>
