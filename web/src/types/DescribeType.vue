<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'
import UnitChoices from '@/types/UnitChoices.vue'

/** Begins to describe a type: from a kind without numbers, or as a copy of the nearest type. */
const open = defineModel<boolean>({ required: true })
const router = useRouter()
const { problem, busy, tried } = useTrying()
const view = shallowRef<Schemas['KindsView'] | null>(null)
const typed = reactive({ name: '', source: '' })
const units = ref<Schemas['QuantityUnits']>({})
const from = ref('')
onMounted(() => tried(async () => (view.value = await take(api.GET('/api/v1/kinds')))))
const choices = computed(() => [
  ...(view.value?.kinds ?? []).map((k) => ({ id: `kind ${k.id}`, title: k.title, words: k.words })),
  ...(view.value?.types ?? []).map((t) => ({
    id: `copy ${t.id}`,
    title: `A copy of the ${t.title}`,
    words: 'with its numbers, each to be held to the new handbook',
  })),
])
const begin = () =>
  tried(async () => {
    const [way, id] = from.value.split(' ')
    const body = { ...typed, units: units.value, ...(way === 'kind' ? { kind: id } : { copy: id }) }
    const made = await take(api.POST('/api/v1/types', { body }))
    await router.push(`/documents/type/${made.id}/${made.version}`)
  })
</script>

<template>
  <AppDialog v-model="open" title="Describe a type from its handbook" :width="860">
    <form data-part="describe" @submit.prevent="begin">
      <ProblemNotice v-model="problem" />
      <label>Name of the type <AppInput v-model="typed.name" type="text" name="name" maxlength="60" /></label>
      <label
        >Handbook and its revision <AppInput v-model="typed.source" type="text" name="source" maxlength="200"
      /></label>
      <fieldset>
        <legend>It begins from</legend>
        <AppButton
          v-for="c in choices"
          :key="c.id"
          :class="{ chosen: from === c.id }"
          :aria-pressed="from === c.id"
          :data-from="c.id"
          @click="from = c.id"
        >
          <b>{{ c.title }}</b><small>{{ c.words }}</small>
        </AppButton>
      </fieldset>
      <p class="soft">The handbook gives its numbers in</p>
      <UnitChoices v-model="units" />
      <AppButton
        class="primary"
        type="submit"
        :disabled="busy || !from || !typed.name.trim() || !typed.source.trim()"
        data-action="describe"
      >
        Begin
      </AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}

fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 8px;
}

legend {
  color: var(--soft);
  padding: 0 0 4px;
}

fieldset button {
  text-align: left;
  border-color: var(--hair);
  line-height: 1.25;
}

small {
  display: block;
}
</style>
