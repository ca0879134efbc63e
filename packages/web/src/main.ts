import '@fontsource-variable/public-sans';
import '@fontsource-variable/sometype-mono';
import './styles.css';
import { createApp } from 'vue';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import Tooltip from 'primevue/tooltip';
import App from './App.vue';
import { router } from './router.ts';
import { theme } from './theme.ts';

createApp(App)
  .use(createPinia())
  .use(router)
  .use(PrimeVue, { theme: { preset: theme, options: { darkModeSelector: '.dark', cssLayer: false } } })
  .directive('tooltip', Tooltip)
  .mount('#app');
