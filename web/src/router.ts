import { createRouter, createWebHistory } from 'vue-router'

import { home, useSession } from '@/shared/session'

declare module 'vue-router' {
  interface RouteMeta {
    /** Shown without a sign-in. */
    open?: boolean
    /** Which place of the vocabulary it is, and of the guide. */
    place?: string
    /** It stands in the bar; other places are reached from these. */
    bar?: boolean
    /** The operation that a person must be allowed for the place to be theirs. */
    needs?: string
  }
}

/** Every place: where it is, what draws it, what it is called and whose it is. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/sign-in',
      component: () => import('@/sign-in/SignIn.vue'),
      meta: { place: 'sign-in', open: true },
    },
    {
      path: '/shared/:school/:id',
      component: () => import('@/shared-record/SharedRecord.vue'),
      props: true,
      meta: { place: 'student', open: true },
    },
    {
      path: '/setup',
      component: () => import('@/sign-in/BeginSchool.vue'),
      meta: { place: 'sign-in', open: true },
    },
    {
      path: '/join/:school/:id',
      component: () => import('@/sign-in/JoinSchool.vue'),
      props: true,
      meta: { place: 'sign-in', open: true },
    },
    {
      path: '/recover/:id',
      component: () => import('@/sign-in/RecoverAccount.vue'),
      props: true,
      meta: { place: 'sign-in', open: true },
    },
    {
      path: '/place',
      component: () => import('@/sites/PlaceView.vue'),
      meta: { place: 'sites', needs: 'place' },
    },
    {
      path: '/standards',
      component: () => import('@/standards/StandardsPlace.vue'),
      meta: { place: 'standards', needs: 'standards' },
    },
    {
      path: '/policy',
      component: () => import('@/policy/PolicyPlace.vue'),
      meta: { place: 'policy', needs: 'policy' },
    },
    {
      path: '/status',
      component: () => import('@/people/StatusView.vue'),
      meta: { place: 'status', needs: 'status' },
    },
    {
      path: '/audit-log',
      component: () => import('@/people/AuditLog.vue'),
      meta: { place: 'audit-log', needs: 'audit-log' },
    },
    { path: '/account', component: () => import('@/account/AccountView.vue'), meta: { place: 'account' } },
    {
      path: '/verify',
      component: () => import('@/verify/VerifyPage.vue'),
      meta: { place: 'verify', open: true },
    },
    {
      path: '/unlock',
      component: () => import('@/sign-in/UnlockDevice.vue'),
      meta: { place: 'sign-in', open: true },
    },
    {
      path: '/today',
      component: () => import('@/today/TodayView.vue'),
      meta: { place: 'today', bar: true, needs: 'today' },
    },
    {
      path: '/day',
      component: () => import('@/day/DaySheet.vue'),
      meta: { place: 'day', bar: true, needs: 'calculators' },
    },
    {
      path: '/schedule',
      component: () => import('@/schedule/ScheduleView.vue'),
      meta: { place: 'schedule', bar: true, needs: 'schedule' },
    },
    {
      path: '/lessons/new',
      component: () => import('@/lesson/OpenLesson.vue'),
      meta: { place: 'open-lesson', needs: 'briefing' },
    },
    {
      path: '/lessons/:id',
      component: () => import('@/lesson/LessonPlace.vue'),
      props: true,
      meta: { place: 'lesson' },
    },
    {
      path: '/lessons/:id/debrief',
      component: () => import('@/debrief/DebriefView.vue'),
      props: true,
      meta: { place: 'debrief' },
    },
    {
      path: '/students/:id',
      component: () => import('@/student/StudentView.vue'),
      props: true,
      meta: { place: 'student' },
    },
    {
      path: '/school',
      component: () => import('@/school/SchoolView.vue'),
      meta: { place: 'school', bar: true, needs: 'school' },
    },
    {
      path: '/stand',
      component: () => import('@/stand/StandView.vue'),
      meta: { place: 'stand', bar: true, needs: 'stand' },
    },
    {
      path: '/stand/live/:id',
      component: () => import('@/stand/StationView.vue'),
      props: true,
      meta: { place: 'station' },
    },
    {
      path: '/stand/:id',
      component: () => import('@/stand/PracticePlace.vue'),
      props: true,
      meta: { place: 'stand' },
    },
    {
      path: '/taught',
      component: () => import('@/school/TaughtView.vue'),
      meta: { place: 'taught', needs: 'taught' },
    },
    {
      path: '/outlook',
      component: () => import('@/school/OutlookView.vue'),
      meta: { place: 'outlook', needs: 'outlook' },
    },
    {
      path: '/compare',
      component: () => import('@/school/CompareView.vue'),
      meta: { place: 'compare', needs: 'compare' },
    },
    {
      path: '/lists/:type?',
      component: () => import('@/lists/ListsView.vue'),
      props: true,
      meta: { place: 'lists', bar: true, needs: 'library' },
    },
    {
      path: '/documents/:kind/:id/:version',
      component: () => import('@/documents/DocumentView.vue'),
      props: (to) => ({ ...to.params, version: Number(to.params.version) }),
      meta: { place: 'document' },
    },
    {
      path: '/reference/:check?',
      component: () => import('@/reference/ReferenceView.vue'),
      props: true,
      meta: { place: 'reference', bar: true, needs: 'reference' },
    },
    {
      path: '/aircraft',
      component: () => import('@/fleet/FleetView.vue'),
      meta: { place: 'aircraft', bar: true, needs: 'aircraft' },
    },
    {
      path: '/aircraft/:registration',
      component: () => import('@/fleet/AircraftTrends.vue'),
      props: true,
      meta: { place: 'readings', needs: 'aircraft-trends' },
    },
    {
      path: '/aircraft/:registration/recorder',
      component: () => import('@/fleet/RecorderView.vue'),
      props: true,
      meta: { place: 'recorder', needs: 'read-recording' },
    },
    {
      path: '/people',
      component: () => import('@/people/PeopleView.vue'),
      meta: { place: 'people', bar: true, needs: 'people' },
    },
    {
      path: '/help/:page?',
      component: () => import('@/guide/GuideView.vue'),
      props: true,
      meta: { place: 'guide', open: true },
    },
    { path: '/:rest(.*)', redirect: '/' },
    { path: '/', component: () => import('@/sign-in/SignIn.vue') },
  ],
})

router.beforeEach(async (to) => {
  const store = useSession()
  const session = await store.find()
  if (!session) {
    if (to.meta.open) return true
    return { path: store.locked ? '/unlock' : '/sign-in', query: to.path === '/' ? {} : { to: to.fullPath } }
  }
  if (session.mustSecond && !to.meta.open && to.path !== '/account') return '/account'
  if (['/', '/sign-in', '/unlock'].includes(to.path)) return home(session)
  return true
})
