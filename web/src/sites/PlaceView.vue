<script setup lang="ts">
import { onMounted } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import SiteFields from '@/sites/SiteFields.vue'
import LetterServer from '@/sites/LetterServer.vue'
import { usePlace } from '@/sites/place'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import TopBar from '@/shared/TopBar.vue'
import { zones } from '@/shared/words'

/** The school itself: its name, where its day is told, where it flies from. */
const { problem, busy, tried, place, typed, bases, kept, open, load, keepPlace, keepBase, add } = usePlace()
onMounted(open)
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
        <h2>{{ b.name ? `${b.typed.id}, ${b.name}` : 'Another base' }}</h2>
        <SiteFields v-model="b.typed" :at="i" :surfaces="place.surfaces" :kept="!!b.name" />
        <AppButton type="submit" data-action="keep-base" :disabled="busy">Keep this base</AppButton>
      </form>
      <AppButton v-if="bases.every((b) => b.name)" data-action="another-base" :disabled="busy" @click="add()">
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
