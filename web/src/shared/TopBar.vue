<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import AppButton from '@/base/AppButton.vue'
import { reach } from '@/device/reach'
import { home, useSession } from '@/shared/session'
import { help } from '@/shared/help'
import { agoWords, placeWords } from '@/shared/words'
import { switchTheme, theme } from '@/theme/theme'

const session = useSession()
const router = useRouter()

const places = computed(() => router.options.routes.filter((r) => r.meta?.bar && session.may(r.meta.needs!)))
/** The beginning of a place's path, without what is chosen there. */
const start = (path: string) => path.split('/:')[0]!

/** The other schools that the person belongs to. */
const elsewhere = computed(() =>
  (session.current?.schools ?? []).filter((s) => s.id !== session.current!.schoolId),
)
async function change(school: string) {
  await session.changeSchool(school)
  location.assign(home(session.current!)) // nothing of the one before stays in the page
}
async function leave() {
  await session.signOut()
  await router.push('/sign-in')
}
</script>

<template>
  <header class="top">
    <div class="what"><slot /></div>
    <nav aria-label="Places">
      <slot name="side" />
      <router-link
        v-if="session.current?.roles?.includes('student')"
        :to="`/students/${session.current.account}`"
        >My standing</router-link
      >
      <router-link v-for="p in places" :key="p.path" :to="start(p.path)">{{
        placeWords[p.meta!.place!]
      }}</router-link>
      <AppButton
        v-for="s in elsewhere"
        :key="s.id"
        class="quiet"
        data-action="change-school"
        @click="change(s.id)"
      >
        → {{ s.name }}
      </AppButton>
      <AppButton class="quiet" data-action="help" @click="help.open = true">Help</AppButton>
      <router-link to="/account" data-action="account">Account</router-link>
      <AppButton class="quiet" @click="switchTheme">{{ theme === 'day' ? 'Dark' : 'Bright' }}</AppButton>
      <AppButton class="quiet" :title="`signed in as ${session.current?.name}`" @click="leave"
        >Sign out</AppButton
      >
    </nav>
  </header>
  <p v-if="reach.away" class="away attend" role="status" data-part="away">
    ▲ The school is not reached.
    {{ reach.from ? `What stands here is of ${agoWords(reach.from, session.current!.zone)}.` : '' }}
    Lessons go on: every mark is kept on this device.
  </p>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 20px;
  min-height: 52px;
  padding: 4px 24px;
  border-bottom: 1px solid var(--hair);
}

.what {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 20px;
  flex: 1 1 280px;
}

nav {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 16px;
}

nav a {
  text-decoration: none;
  color: var(--soft);
  padding: 8px 0;
}

nav a.router-link-active {
  color: var(--ink);
  font-weight: 700;
}

nav .quiet {
  color: var(--soft);
}

.away {
  padding: 6px 24px;
  border-bottom: 1px solid var(--hair);
}

@media (max-width: 500px) {
  .top {
    padding: 4px 12px;
  }
}
</style>
