import { createRouter, createWebHistory } from 'vue-router';
import ShotsView from './views/ShotsView.vue';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shots', component: ShotsView },
    { path: '/shots/:shot(\\d+)', name: 'bench', component: () => import('./views/BenchView.vue') },
    { path: '/shots/:shot(\\d+)/sheet', name: 'sheet', component: () => import('./views/SheetView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
