import { createRouter, createWebHistory } from 'vue-router'

import { home, useSession } from '@/shared/session'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/sign-in', component: () => import('@/sign-in/SignIn.vue'), meta: { open: true } },
    { path: '/today', component: () => import('@/today/TodayView.vue') },
    { path: '/lessons/new', component: () => import('@/lesson/OpenLesson.vue') },
    { path: '/lessons/:id', component: () => import('@/lesson/LessonPlace.vue'), props: true },
    { path: '/lessons/:id/debrief', component: () => import('@/debrief/DebriefView.vue'), props: true },
    { path: '/students/:id', component: () => import('@/student/StudentView.vue'), props: true },
    { path: '/school', component: () => import('@/school/SchoolView.vue') },
    { path: '/lists/:type?', component: () => import('@/lists/ListsView.vue'), props: true },
    {
      path: '/documents/:kind/:id/:version',
      component: () => import('@/lists/DocumentView.vue'),
      props: (to) => ({ ...to.params, version: Number(to.params.version) }),
    },
    { path: '/day', component: () => import('@/day/DaySheet.vue') },
    { path: '/reference/:check?', component: () => import('@/reference/ReferenceView.vue'), props: true },
    { path: '/:rest(.*)', redirect: '/' },
    { path: '/', component: () => import('@/sign-in/SignIn.vue') },
  ],
})

router.beforeEach(async (to) => {
  const session = await useSession().find()
  if (!session)
    return to.meta.open ? true : { path: '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } }
  if (to.path === '/' || to.path === '/sign-in') return home(session)
  return true
})
