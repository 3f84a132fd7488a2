<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import LinkCode from '@/shared/LinkCode.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { classWords, dayIn, dayWords, roleWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

const TableDialog = defineAsyncComponent(() => import('@/shared/TableDialog.vue'))
const MemberDialog = defineAsyncComponent(() => import('@/people/MemberDialog.vue'))

/** Everybody of the school: who they are there, who is invited, who has left. */
const session = useSession()
const people = shallowRef<Schemas['People'] | null>(null)
const { problem, tried } = useTrying()
const wanted = ref('')
const gone = ref(false)
const open = ref(false)
const bringing = ref(false)
/** Whom the dialog is about; nobody while somebody is invited. */
const chosen = shallowRef<Schemas['StoreMember'] | null>(null)
const made = shallowRef<Schemas['Invited'] | null>(null)

const load = () =>
  tried(async () => {
    people.value = await take(api.GET('/api/v1/people'))
  })
onMounted(load)

/** So many stand at once; a search finds the others. */
const most = 100
const found = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (people.value?.members ?? []).filter(
    (m) =>
      (gone.value || m.active) &&
      words.every((w) => `${m.name} ${m.email} ${m.number ?? ''} ${roles(m)}`.toLowerCase().includes(w)),
  )
})
const left = computed(() => (people.value?.members ?? []).filter((m) => !m.active).length)
const roles = (m: { roles: string[] | null }) => (m.roles ?? []).map((r) => roleWords[r] ?? r).join(', ')
const nameOf = (id?: string) => people.value?.members?.find((m) => m.id === id)?.name ?? ''

function show(m: Schemas['StoreMember'] | null) {
  chosen.value = m
  made.value = null
  open.value = true
}
async function done(invited: Schemas['Invited'] | null) {
  open.value = false
  made.value = invited
  await load()
}
const renew = (id: string) =>
  tried(async () => {
    const params = { path: { id }, query: { send: session.current!.letters } }
    made.value = await take(api.POST('/api/v1/invitations/{id}/renew', { params }))
    await load()
  })
const withdraw = (id: string) =>
  tried(async () => {
    await take(api.POST('/api/v1/invitations/{id}/withdraw', { params: { path: { id } } }))
    made.value = null
    await load()
  })
const over = (i: Schemas['StoreInvitation']) => Date.parse(i.until) < Date.now()
const on = (at: string) => dayWords(dayIn(at, session.current!.zone))
</script>

<template>
  <div class="place">
    <TopBar><b>People</b></TopBar>
    <main v-if="people" class="lines">
      <ProblemNotice v-model="problem" />
      <div class="tools">
        <AppInput
          v-model="wanted"
          type="search"
          name="people-search"
          placeholder="Name, address, number, role"
        />
        <label v-if="left" class="tick"
          ><AppCheck v-model="gone" name="with-left" /> with the {{ left }} who left</label
        >
        <router-link to="/place" data-action="place">The school</router-link>
        <router-link to="/policy" data-action="policy">Policy</router-link>
        <router-link to="/audit-log" data-action="done">Who did what</router-link>
        <router-link to="/status" data-action="status">Status</router-link>
        <a href="/api/v1/people.csv" download data-action="export-people">Export the table</a>
        <AppButton data-action="bring-in" @click="bringing = true">Bring in a table</AppButton>
        <AppButton class="primary" data-action="invite" @click="show(null)">Invite somebody</AppButton>
      </div>
      <LinkCode
        v-if="made"
        :path="made.path"
        :code="made.code"
        :sent="made.sent"
        :unsent="made.unsent"
        :words="`${made.path.startsWith('/join') ? 'Invited' : 'May come back'} until ${on(made.until)}.`"
      />
      <section v-if="people.invitations?.length" class="part" data-part="invitations">
        <h2>Invited, not come yet</h2>
        <div v-for="i in people.invitations" :key="i.id" class="line" :data-invitation="i.id">
          <span
            ><b>{{ i.name }}</b> <span class="soft small">{{ i.email }}</span></span
          >
          <span>{{ roles(i) }}</span>
          <span :class="over(i) ? 'attend' : 'soft'">{{
            over(i) ? `▲ ended ${on(i.until)}` : `until ${on(i.until)}`
          }}</span>
          <span class="acts">
            <AppButton class="quiet" data-action="renew" @click="renew(i.id)">another code</AppButton>
            <AppButton class="quiet" data-action="withdraw-invitation" @click="withdraw(i.id)"
              >withdraw</AppButton
            >
          </span>
        </div>
      </section>
      <section class="part">
        <h2>{{ found.length === 1 ? '1 person' : `${found.length} people` }}</h2>
        <p v-if="!found.length" class="soft">
          Nobody is found. {{ wanted ? 'Other words may find them.' : 'Invite the first.' }}
        </p>
        <AppButton
          v-for="m in found.slice(0, most)"
          :key="m.id"
          class="line person"
          :data-person="m.id"
          @click="show(m)"
        >
          <span
            ><b>{{ m.name }}</b> <span class="soft small">{{ m.number }}</span></span
          >
          <span>{{ roles(m) }}</span>
          <span class="soft"
            ><template v-if="m.class"
              >{{ classWords[m.class] }}, {{ m.engineKind }}, with
              {{ nameOf(m.learns?.instructor) }}</template
            ></span
          >
          <span class="soft small">
            <template v-if="m.active">{{ m.email }}</template>
            <template v-else-if="m.erased">left, the name is gone</template>
            <template v-else-if="people.due.includes(m.id)">▲ left; the time for the name is over</template>
            <template v-else>has left</template>
          </span>
        </AppButton>
        <p v-if="found.length > most" class="soft">
          The first {{ most }} of {{ found.length }} stand here; search for the others.
        </p>
      </section>
      <TableDialog
        v-if="bringing"
        v-model="bringing"
        what="people"
        columns="name, email and roles; number, and for students type, instructor (the address) and since"
        @taken="load"
      />
      <MemberDialog
        v-if="open"
        :key="chosen?.id ?? ''"
        v-model="open"
        :member="chosen"
        :people="people"
        @done="done"
      />
    </main>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.tools input[type='search'] {
  flex: 1 1 260px;
  min-height: 44px;
}

.line {
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) minmax(0, 1.6fr) minmax(0, 1.1fr);
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}

.acts button {
  min-height: 40px;
  text-decoration: underline;
  padding: 0;
}

@media (max-width: 800px) {
  .line {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }
}
</style>
