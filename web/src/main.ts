import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/roboto-mono';
import './theme/base.css';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router.ts';
import { useNotices } from './stores/notices.ts';
import { usePreferences } from './stores/preferences.ts';
import { preset } from './theme/preset.ts';
import { makeStylesAhead } from './theme/stylesAhead.ts';
import { askForCard } from './viewport/graphicsCard.ts';

const app = createApp(App);
app.use(createPinia());
app.use(router);
app.use(PrimeVue, {
  theme: {
    preset,
    options: { darkModeSelector: '.night', cssLayer: { name: 'primevue', order: 'base, primevue, app' } },
  },
});
// A fault in a view is shown, and the page goes on.
app.config.errorHandler = (e) => {
  console.error(e);
  useNotices().fail(e);
};
void usePreferences().load();
app.mount('#app');
// Once the first view is there, so that it does not wait for this.
setTimeout(askForCard, 300);
setTimeout(() => makeStylesAhead(app), 400);
