import { createRouter, createWebHistory } from 'vue-router'

import { home, useSession } from '@/shared/session'

declare module 'vue-router' {
  interface RouteMeta {
    /** Shown without a sign-in. */
    open?: boolean
    /** What the place is called in the bar; places without a name are reached from others. */
    name?: string
    /** The operation that a person must be allowed for the place to be theirs. */
    needs?: string
  }
}

/** Every place: where it is, what draws it, what it is called and whose it is. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/sign-in', component: () => import('@/sign-in/SignIn.vue'), meta: { open: true } },
    {
      path: '/shared/:school/:id',
      component: () => import('@/shared-record/SharedRecord.vue'),
      props: true,
      meta: { open: true },
    },
    { path: '/setup', component: () => import('@/sign-in/BeginSchool.vue'), meta: { open: true } },
    {
      path: '/join/:school/:id',
      component: () => import('@/sign-in/JoinSchool.vue'),
      props: true,
      meta: { open: true },
    },
    {
      path: '/recover/:id',
      component: () => import('@/sign-in/RecoverAccount.vue'),
      props: true,
      meta: { open: true },
    },
    { path: '/place', component: () => import('@/sites/PlaceView.vue'), meta: { needs: 'place' } },
    {
      path: '/standards',
      component: () => import('@/standards/StandardsPlace.vue'),
      meta: { needs: 'standards' },
    },
    { path: '/policy', component: () => import('@/policy/PolicyPlace.vue'), meta: { needs: 'policy' } },
    { path: '/status', component: () => import('@/people/StatusView.vue'), meta: { needs: 'status' } },
    { path: '/audit-log', component: () => import('@/people/AuditLog.vue'), meta: { needs: 'audit-log' } },
    { path: '/account', component: () => import('@/account/AccountView.vue') },
    { path: '/verify', component: () => import('@/verify/VerifyPage.vue'), meta: { open: true } },
    { path: '/unlock', component: () => import('@/sign-in/UnlockDevice.vue'), meta: { open: true } },
    {
      path: '/today',
      component: () => import('@/today/TodayView.vue'),
      meta: { name: 'Today', needs: 'today' },
    },
    {
      path: '/day',
      component: () => import('@/day/DaySheet.vue'),
      meta: { name: 'Day', needs: 'calculators' },
    },
    {
      path: '/schedule',
      component: () => import('@/schedule/ScheduleView.vue'),
      meta: { name: 'Schedule', needs: 'schedule' },
    },
    { path: '/lessons/new', component: () => import('@/lesson/OpenLesson.vue'), meta: { needs: 'briefing' } },
    { path: '/lessons/:id', component: () => import('@/lesson/LessonPlace.vue'), props: true },
    { path: '/lessons/:id/debrief', component: () => import('@/debrief/DebriefView.vue'), props: true },
    { path: '/students/:id', component: () => import('@/student/StudentView.vue'), props: true },
    {
      path: '/school',
      component: () => import('@/school/SchoolView.vue'),
      meta: { name: 'School', needs: 'school' },
    },
    {
      path: '/stand',
      component: () => import('@/stand/StandView.vue'),
      meta: { name: 'Stand', needs: 'stand' },
    },
    { path: '/stand/live/:id', component: () => import('@/stand/StationView.vue'), props: true },
    { path: '/stand/:id', component: () => import('@/stand/PracticePlace.vue'), props: true },
    { path: '/taught', component: () => import('@/school/TaughtView.vue'), meta: { needs: 'taught' } },
    { path: '/outlook', component: () => import('@/school/OutlookView.vue'), meta: { needs: 'outlook' } },
    { path: '/compare', component: () => import('@/school/CompareView.vue'), meta: { needs: 'compare' } },
    {
      path: '/lists/:type?',
      component: () => import('@/lists/ListsView.vue'),
      props: true,
      meta: { name: 'Lists', needs: 'library' },
    },
    {
      path: '/documents/:kind/:id/:version',
      component: () => import('@/documents/DocumentView.vue'),
      props: (to) => ({ ...to.params, version: Number(to.params.version) }),
    },
    {
      path: '/reference/:check?',
      component: () => import('@/reference/ReferenceView.vue'),
      props: true,
      meta: { name: 'Checks', needs: 'reference' },
    },
    {
      path: '/aircraft',
      component: () => import('@/fleet/FleetView.vue'),
      meta: { name: 'Aircraft', needs: 'aircraft' },
    },
    {
      path: '/aircraft/:registration',
      component: () => import('@/fleet/AircraftTrends.vue'),
      props: true,
      meta: { needs: 'aircraft-trends' },
    },
    {
      path: '/aircraft/:registration/recorder',
      component: () => import('@/fleet/RecorderView.vue'),
      props: true,
      meta: { needs: 'read-recording' },
    },
    {
      path: '/people',
      component: () => import('@/people/PeopleView.vue'),
      meta: { name: 'People', needs: 'people' },
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
