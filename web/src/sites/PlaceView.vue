<script setup lang="ts">
import { onMounted, reactive, ref, shallowRef } from 'vue'

import { api, Refused, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import SiteFields from '@/sites/SiteFields.vue'
import { base, siteOf, said, typedSite, type TypedSite } from '@/sites/sites'
import LetterServer from '@/sites/LetterServer.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import TopBar from '@/shared/TopBar.vue'
import { zones } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** The school itself: its name, where its day is told, where it flies from. */
const { problem, busy, tried } = useTrying()
const place = shallowRef<Schemas['Place'] | null>(null)
const typed = reactive({ name: '', timeZone: '' })
const bases = ref<{ typed: TypedSite; climate?: Schemas['WeatherClimate'] }[]>([])
const kept = ref('')

const load = async () => {
  place.value = await take(api.GET('/api/v1/place'))
  typed.name = place.value.name
  typed.timeZone = place.value.timeZone
  bases.value = place.value.bases.map((b) => ({ typed: typedSite(b), climate: b.climate }))
}
onMounted(() => tried(load))

const keeping = (run: () => Promise<unknown>, words: string) =>
  tried(async () => {
    kept.value = ''
    await run().catch((e: unknown) => {
      throw e instanceof Refused ? new Error(said(e)) : e
    })
    await load()
    kept.value = words
  })
const keepPlace = () =>
  keeping(
    () => take(api.PUT('/api/v1/place', { body: { ...typed } })),
    `The school is ${typed.name}, its day told in ${typed.timeZone.replaceAll('_', ' ')}.`,
  )
const keepBase = (b: (typeof bases.value)[number]) =>
  keeping(
    () => take(api.PUT('/api/v1/place/bases', { body: siteOf(b.typed, b.climate) })),
    `${b.typed.name} is kept.`,
  )
</script>

<template>
  <div class="place">
    <TopBar><b>The school</b></TopBar>
    <main v-if="place" class="lines">
      <ProblemNotice v-model="problem" />
      <p v-if="kept" class="within" role="status">● {{ kept }}</p>
      <form class="part" @submit.prevent="keepPlace">
        <h2>Name and time</h2>
        <div class="row">
          <label class="grow"
            >Name <AppInput v-model="typed.name" type="text" name="place-name" maxlength="100"
          /></label>
          <label class="grow"
            >Its day is told in <SearchSelect v-model="typed.timeZone" name="place-zone" :options="zones()"
          /></label>
          <AppButton type="submit" data-action="keep-place" :disabled="busy">Keep it so</AppButton>
        </div>
      </form>
      <form
        v-for="(b, i) in bases"
        :key="i"
        class="part"
        :data-base="b.typed.id"
        @submit.prevent="keepBase(b)"
      >
        <h2>{{ i < place.bases.length ? `${b.typed.id}, ${place.bases[i]!.name}` : 'Another base' }}</h2>
        <SiteFields v-model="b.typed" :at="i" :surfaces="place.surfaces" :kept="i < place.bases.length" />
        <AppButton type="submit" data-action="keep-base" :disabled="busy">Keep this base</AppButton>
      </form>
      <AppButton
        v-if="bases.length === place.bases.length"
        data-action="another-base"
        :disabled="busy"
        @click="bases.push({ typed: base() })"
      >
        + another base
      </AppButton>
      <LetterServer
        :key="place.letters?.host ?? ''"
        :kept="place.letters"
        :post="place.post"
        @changed="tried(load)"
      />
      <p class="soft small">
        What was flown keeps the elevation that it was flown with. Units and what the school decides stand in
        the account, under Units.
      </p>
    </main>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: end;
}

.grow {
  flex: 1 1 260px;
}
</style>
