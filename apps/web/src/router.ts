import { createRouter, createWebHistory } from 'vue-router';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./frame/ProjectList.vue') },
    {
      path: '/project/:projectId(\\d+)',
      component: () => import('./frame/ProjectFrame.vue'),
      children: [
        { path: '', redirect: (to) => `/project/${String(to.params.projectId)}/gather` },
        { path: 'gather', name: 'gather', component: () => import('./stages/gather/GatherStage.vue') },
        { path: 'position', name: 'position', component: () => import('./stages/position/PositionStage.vue') },
        { path: 'place', name: 'place', component: () => import('./stages/place/PlaceStage.vue') },
        { path: 'clean', name: 'clean', component: () => import('./stages/clean/CleanStage.vue') },
        { path: 'prove', name: 'prove', component: () => import('./stages/prove/ProveStage.vue') },
        { path: 'deliver', name: 'deliver', component: () => import('./stages/deliver/DeliverStage.vue') },
      ],
    },
    { path: '/:rest(.*)', component: () => import('./frame/NotFound.vue') },
  ],
});
