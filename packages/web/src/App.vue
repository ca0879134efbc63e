<script setup lang="ts">
import { RouterView } from 'vue-router';
import { tokenAsked } from './api.ts';
import TokenView from './views/TokenView.vue';
</script>

<template>
  <TokenView v-if="tokenAsked" />
  <RouterView v-else />
</template>
