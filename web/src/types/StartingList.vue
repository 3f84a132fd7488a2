<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { AircraftType, Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'

/** A first list for the type, made of the stock of items that fit what it has. */
const props = defineProps<{ type: AircraftType }>()
const router = useRouter()
const { problem, busy, tried } = useTrying()
const made = ref<Schemas['StartedList'] | null>(null)
const make = () =>
  tried(async () => {
    made.value = await take(
      api.POST('/api/v1/types/{id}/{version}/list', {
        params: { path: { id: props.type.id, version: props.type.version } },
      }),
    )
  })
</script>

<template>
  <section aria-label="Starting list" class="starting">
    <h2>Starting list</h2>
    <p>
      Every item of the list of its kind that this type can have, with the items for its own equipment. It is
      a draft: read it, change it to the handbook’s order and words, then have it reviewed.
    </p>
    <p class="soft">It is made of the version as it was saved last.</p>
    <ProblemNotice v-model="problem" />
    <AppButton class="primary" :disabled="busy" data-action="start-list" @click="make"
      >Make the list</AppButton
    >
    <template v-if="made">
      <AppButton data-action="open-list" @click="router.push(`/documents/list/${made.id}/${made.version}`)">
        Open the list, version {{ made.version }}
      </AppButton>
      <h3 class="ruled">Left off: {{ made.left.length }}</h3>
      <p v-for="l in made.left" :key="l.item + l.challenge" class="pair">
        <span>{{ l.challenge }}</span><span class="soft">{{ l.why }}</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
.starting {
  display: grid;
  gap: 8px;
}

h2 {
  font-size: 22px;
  font-weight: 700;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px;
}
</style>
