import { createRouter, createWebHistory } from 'vue-router'

import { home, useSession } from './stores/session'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/sign-in', component: () => import('./views/SignIn.vue'), meta: { open: true } },
    { path: '/today', component: () => import('./views/TodayView.vue') },
    { path: '/lessons/new', component: () => import('./views/OpenLesson.vue') },
    { path: '/lessons/:id', component: () => import('./views/LessonPlace.vue'), props: true },
    { path: '/lessons/:id/debrief', component: () => import('./views/DebriefView.vue'), props: true },
    { path: '/students/:id', component: () => import('./views/StudentView.vue'), props: true },
    { path: '/school', component: () => import('./views/SchoolView.vue') },
    { path: '/lists/:type?', component: () => import('./views/ListsView.vue'), props: true },
    {
      path: '/documents/:kind/:id/:version',
      component: () => import('./views/DocumentView.vue'),
      props: (to) => ({ ...to.params, version: Number(to.params.version) }),
    },
    { path: '/day', component: () => import('./views/DaySheet.vue') },
    { path: '/reference/:check?', component: () => import('./views/ReferenceView.vue'), props: true },
    { path: '/:rest(.*)', redirect: '/' },
    { path: '/', component: () => import('./views/SignIn.vue') },
  ],
})

router.beforeEach(async (to) => {
  const session = await useSession().find()
  if (!session)
    return to.meta.open ? true : { path: '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } }
  if (to.path === '/' || to.path === '/sign-in') return home(session)
  return true
})
