<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'

import { api, take, type Schemas } from '@/api/client'
import { rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'

/** Which aircraft, and what is met on it. */
defineProps<{ busy: boolean }>()
const emit = defineEmits<{ begin: [kit: Schemas['StandView'], scenario: Schemas['StandScenario']] }>()
const { problem, tried } = useTrying()
const types = shallowRef<Schemas['StandType'][]>([])
const kit = shallowRef<Schemas['StandView'] | null>(null)
const chosen = ref('')
const choose = (type: string) =>
  tried(async () => {
    chosen.value = type
    kit.value = await take(api.GET('/api/v1/stands/{type}', { params: { path: { type } } }))
  })
const make = (difficulty: number) =>
  emit('begin', kit.value!, rules.standMake(kit.value!, difficulty, Math.floor(Math.random() * 1e9)))
onMounted(() =>
  tried(async () => {
    types.value = await take(api.GET('/api/v1/stands'))
    await choose(types.value[0]!.type)
  }),
)
</script>

<template>
  <ProblemNotice v-model="problem" />
  <main class="choice">
    <p class="types">
      <button
        v-for="t in types"
        :key="t.type"
        :class="['quiet', { on: t.type === chosen }]"
        :data-type="t.type"
        @click="choose(t.type)"
      >
        {{ t.name }}
      </button>
    </p>
    <button
      v-for="s in kit?.scenarios ?? []"
      :key="s.id"
      class="one"
      :disabled="busy"
      :data-scenario="s.id"
      @click="emit('begin', kit!, s)"
    >
      <b>{{ s.title }}</b>
      <span class="soft" :aria-label="`difficulty ${s.difficulty} of 5`">{{
        '▮'.repeat(s.difficulty) + '▯'.repeat(5 - s.difficulty)
      }}</span>
      <span class="goal">{{ s.goal }}</span>
    </button>
    <p v-if="kit" class="made">
      <b>Made up</b> <span class="soft">how hard:</span>
      <button
        v-for="n in 5"
        :key="n"
        :aria-label="`difficulty ${n} of 5`"
        :disabled="busy"
        :data-make="n"
        @click="make(n)"
      >
        {{ n }}
      </button>
    </p>
  </main>
</template>

<style scoped>
.choice {
  padding: 16px 24px;
  display: grid;
  gap: 0;
  max-width: 900px;
}

.types {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  margin-bottom: 10px;
}

.on {
  font-weight: 700;
  border-bottom: 2px solid var(--ink);
}

.one {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 16px;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--fine);
  padding: 10px 0;
}

.made {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 12px 0;
}

.goal {
  grid-column: 1 / -1;
}
</style>
