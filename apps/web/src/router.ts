import { createRouter, createWebHistory, RouterView, type RouteLocation, type RouteRecordRaw } from 'vue-router';
import { STAGES, type Stage } from '@longheron/contract/stages';
import { operationPage } from './stages/operationPage';
import { panelsOf, type Panel } from './stages/panels';
import { lastDataset, lastPanel, rememberPlace } from './stores/lastPlace';
import { panelPath } from './stages/address';

/** A stage whose panels share holdings and bench has a frame of its own. */
const frames = import.meta.glob<{ default: object }>('./stages/*/StageFrame.vue');

/** The page of an operation that no panel shows. */
const pageOf = (p: Panel) => async () => operationPage(p.operations?.[0]);

/** The panel of a stage that was open last, else its first one. */
function opening(to: RouteLocation, stage: Stage): string {
  const project = String(to.params.projectId);
  const panels = panelsOf(stage);
  const { name } = panels.find((p) => p.name === lastPanel(project, stage)) ?? panels[0];
  return panelPath(project, stage, name, lastDataset(project, stage, name));
}

/** `/project/1/prove/plan/12`: a stage, a panel of it, and the dataset that is looked at. */
function stageRoute(stage: Stage): RouteRecordRaw {
  const frame = frames[`./stages/${stage}/StageFrame.vue`];
  const panels = panelsOf(stage);
  const page = (p: Panel): RouteRecordRaw => ({
    path: `${p.name}/:dataset(\\d+)?`,
    name: `${stage}/${p.name}`,
    component: p.component ?? pageOf(p),
  });
  return {
    path: stage,
    component: RouterView,
    children: [
      { path: '', redirect: (to: RouteLocation) => opening(to, stage) },
      { path: '', component: frame ?? RouterView, children: panels.filter((p) => !p.apart).map(page) },
      ...panels.filter((p) => p.apart).map(page),
    ],
  };
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./frame/ProjectList.vue') },
    {
      path: '/project/:projectId(\\d+)',
      component: () => import('./frame/ProjectFrame.vue'),
      children: [
        { path: '', redirect: (to) => `/project/${String(to.params.projectId)}/gather` },
        ...STAGES.map(stageRoute),
      ],
    },
    { path: '/:rest(.*)', component: () => import('./frame/NotFound.vue') },
  ],
});
router.afterEach((to) => rememberPlace(to.path));
