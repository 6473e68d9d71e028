import { createRouter, createWebHistory } from 'vue-router';
import { readSetting } from './stores/storage.ts';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/',
      name: 'start',
      // The first visit opens on the sample; later ones on the Yard.
      component: () => import('./views/StartView.vue'),
      beforeEnter: async () => ((await readSetting<boolean>('been here')) ? { name: 'yard' } : true),
    },
    { path: '/yard', name: 'yard', component: () => import('./views/YardView.vue'), meta: { title: 'Yard' } },
    {
      path: '/bench/:id/:stage(cut|survey|dress|dispatch)',
      name: 'bench',
      component: () => import('./views/BenchView.vue'),
      meta: { title: 'Bench' },
    },
    { path: '/:rest(.*)*', redirect: '/yard' },
  ],
});

router.afterEach((to) => {
  document.title = to.meta.title ? `${String(to.meta.title)} · Dusky Mason` : 'Dusky Mason';
});
