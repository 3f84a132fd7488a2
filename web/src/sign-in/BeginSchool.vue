<script setup lang="ts">
import { onMounted, reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, Refused, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { Schemas } from '@/schema/schemas'
import SiteFields from '@/sites/SiteFields.vue'
import { base, siteOf, said } from '@/sites/sites'
import MovedSchool from '@/sign-in/MovedSchool.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import WelcomeCodes from '@/shared/WelcomeCodes.vue'
import { home, useSession } from '@/shared/session'
import { zones } from '@/shared/words'
import { inWords } from '@/shared/errors'

/** The first page of an empty installation: a school in one sitting. */
const session = useSession()
const router = useRouter()
const setup = shallowRef<Schemas['Setup'] | null>(null)
const begun = shallowRef<Schemas['Begun'] | null>(null)
const problem = ref('')
const busy = ref(false)
const moved = ref(false)

const typed = reactive({
  code: '',
  name: '',
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  units: {} as Schemas['QuantityUnits'],
  chief: { name: '', email: '', password: '' },
  bases: [base()],
  aircraft: [{ registration: '', type: '', base: '', equipment: [] as string[] }],
  students: [{ name: '', email: '', type: '' }],
})

onMounted(async () => {
  try {
    setup.value = await take(api.GET('/api/v1/setup'))
    if (!setup.value.needed) await router.replace('/sign-in')
  } catch (e) {
    problem.value = inWords(e)
  }
})
const types = () => (setup.value?.types ?? []).map((t) => [t.id, t.name] as const)
const equipment = (type: string) => setup.value?.types.find((t) => t.id === type)?.equipment ?? []
const toggle = (of: string[], id: string) => (of.includes(id) ? of.splice(of.indexOf(id), 1) : of.push(id))
async function begin() {
  problem.value = ''
  busy.value = true
  const first = typed.bases[0]!.id.trim().toUpperCase()
  try {
    const body = {
      code: typed.code,
      name: typed.name,
      timeZone: typed.timeZone,
      units: typed.units,
      chief: { ...typed.chief },
      bases: typed.bases.map((b) => siteOf(b)),
      // Rows that were left empty are none.
      aircraft: typed.aircraft
        .filter((a) => a.registration.trim() || a.type)
        .map((a) => ({ ...a, base: a.base || first })),
      students: typed.students
        .filter((s) => s.name.trim() || s.email.trim())
        .map((s) => ({
          name: s.name,
          email: s.email,
          roles: ['student'],
          learns: { type: s.type, instructor: '', startedOn: new Date().toLocaleDateString('en-CA') },
        })),
    }
    const made = await take(api.POST('/api/v1/setup', { body }))
    begun.value = made
    if (!made.invited.length) await goOn()
  } catch (e) {
    problem.value = e instanceof Refused ? said(e) : String(e)
  }
  busy.value = false
}
/** The codes have been read: this page is left. */
async function goOn() {
  const made = begun.value!.session
  await session.entered(made)
  await router.push(home(made))
}
</script>

<template>
  <main class="page">
    <template v-if="begun">
      <h1>{{ begun.session.school }} has begun</h1>
      <p>You are signed in.</p>
      <WelcomeCodes :invited="begun.invited">
        <AppButton class="primary" data-action="go-on" @click="goOn">Go on to Today</AppButton>
      </WelcomeCodes>
    </template>
    <MovedSchool v-else-if="setup?.needed && moved" @back="moved = false" />
    <form v-else-if="setup?.needed" novalidate @submit.prevent="begin">
      <h1>Begin a school</h1>
      <p class="soft">
        All of it is made at once, or nothing. The code stands where the program was started, and proves that
        it is yours.
        <AppButton class="quiet" data-action="moved" @click="moved = true">
          Take over a school that moves here
        </AppButton>
      </p>
      <section class="part">
        <h2>The school</h2>
        <div class="row">
          <label
            >One-time code <AppInput v-model="typed.code" type="text" name="setup-code" autocomplete="off"
          /></label>
          <label class="grow">Name <AppInput v-model="typed.name" type="text" name="school-name" /></label>
          <label class="grow"
            >Time zone
            <SearchSelect v-model="typed.timeZone" name="school-zone" :options="zones()" none="its zone"
          /></label>
        </div>
        <h3>Units that its people read; each may choose others</h3>
        <div class="units">
          <ChoiceRow
            v-for="u in setup.choices"
            :key="u.name"
            :name="u.label"
            :model-value="typed.units[u.name as keyof typeof typed.units] ?? u.choices[0]!"
            :choices="u.choices.map((c) => [c, c])"
            :data-setting="u.name"
            @update:model-value="typed.units = { ...typed.units, [u.name]: $event }"
          />
        </div>
      </section>
      <section class="part">
        <h2>You, its chief instructor</h2>
        <div class="row">
          <label class="grow"
            >Name <AppInput v-model="typed.chief.name" type="text" name="chief-name"
          /></label>
          <label class="grow"
            >Address
            <AppInput v-model="typed.chief.email" type="email" name="chief-email" autocomplete="username"
          /></label>
          <label class="grow"
            >Password, ten letters or more
            <AppInput
              v-model="typed.chief.password"
              type="password"
              name="chief-password"
              autocomplete="new-password"
          /></label>
        </div>
      </section>
      <section class="part">
        <h2>Where you fly from</h2>
        <div v-for="(b, i) in typed.bases" :key="i" class="base">
          <SiteFields v-model="typed.bases[i]!" :at="i" :surfaces="setup.surfaces" />
          <AppButton v-if="typed.bases.length > 1" class="quiet" @click="typed.bases.splice(i, 1)">
            take this base off
          </AppButton>
        </div>
        <AppButton data-more="base" @click="typed.bases.push(base())">+ another base</AppButton>
      </section>
      <section class="part">
        <h2>The first aircraft</h2>
        <div v-for="(a, i) in typed.aircraft" :key="i" class="row">
          <label class="short"
            >Registration <AppInput v-model="a.registration" type="text" :name="`registration-${i}`"
          /></label>
          <label class="grow"
            >Type
            <SearchSelect
              v-model="a.type"
              :name="`aircraft-type-${i}`"
              :options="types()"
              none="an aircraft type"
              @update:model-value="a.equipment = []"
          /></label>
          <label v-if="typed.bases.length > 1" class="short"
            >Base
            <AppSelect v-model="a.base" :name="`aircraft-base-${i}`">
              <option v-for="b in typed.bases" :key="b.id" :value="b.id.trim().toUpperCase()">
                {{ b.id }}
              </option>
            </AppSelect></label
          >
          <div v-if="equipment(a.type).length" class="ticks">
            <AppButton
              v-for="e in equipment(a.type)"
              :key="e.id"
              :class="{ chosen: a.equipment.includes(e.id) }"
              :aria-pressed="a.equipment.includes(e.id)"
              @click="toggle(a.equipment, e.id)"
            >
              {{ e.label }}
            </AppButton>
          </div>
        </div>
        <AppButton
          data-more="aircraft"
          @click="typed.aircraft.push({ registration: '', type: '', base: '', equipment: [] })"
        >
          + another aircraft
        </AppButton>
      </section>
      <section class="part">
        <h2>The first students</h2>
        <div v-for="(s, i) in typed.students" :key="i" class="row">
          <label class="grow"
            >Name <AppInput v-model="s.name" type="text" :name="`student-name-${i}`"
          /></label>
          <label class="grow"
            >Address <AppInput v-model="s.email" type="email" :name="`student-email-${i}`"
          /></label>
          <label class="grow"
            >Trains on
            <SearchSelect
              v-model="s.type"
              :name="`student-type-${i}`"
              :options="types()"
              none="an aircraft type"
          /></label>
        </div>
        <AppButton data-more="student" @click="typed.students.push({ name: '', email: '', type: '' })">
          + another student
        </AppButton>
      </section>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary begin" type="submit" :disabled="busy" data-action="begin">
        {{ busy ? 'Beginning' : 'Begin the school' }}
      </AppButton>
      <p class="caution soft small">
        A training record and a teaching aid, not an approved checklist. The aircraft’s approved handbook and
        the operator’s rules govern; a licensed instructor or mechanic decides.
      </p>
    </form>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </main>
</template>

<style scoped>
.page {
  max-width: 1000px;
  margin: 0 auto;
  padding: 5vh 24px 40px;
}

h1 {
  font-size: 30px;
  font-weight: 700;
}

form,
.base {
  display: grid;
  gap: 14px;
  justify-items: start;
}

.part {
  width: 100%;
  display: grid;
  gap: 10px;
  justify-items: start;
}

.part h2 {
  width: 100%;
}

.base {
  gap: 8px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: end;
  width: 100%;
}

.row label {
  display: grid;
  gap: 2px;
}

.grow {
  flex: 1 1 220px;
}

.short {
  flex: 0 1 150px;
}

.row input,
.row select {
  width: 100%;
  min-height: 44px;
}

.ticks {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  flex-basis: 100%;
}

.ticks button {
  min-height: 40px;
}

.units {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 340px), 1fr));
  width: 100%;
  gap: 0 24px;
}

.begin {
  min-height: 72px;
  font-size: 20px;
  width: 100%;
}
</style>
