<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppText from '@/base/AppText.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import TickList from '@/shared/TickList.vue'
import { useTrying } from '@/shared/trying'
import { dayWords } from '@/shared/words'

/** One aircraft of the school, or one to add. */
const props = defineProps<{ aircraft: Schemas['FleetAircraft'] | null; fleet: Schemas['FleetView'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ done: [] }>()
const { problem, busy, tried } = useTrying()
const typed = reactive({
  registration: props.aircraft?.registration ?? '',
  type: props.aircraft?.type ?? '',
  base: props.aircraft?.base ?? props.fleet.bases[0]?.id ?? '',
  equipment: [...(props.aircraft?.equipment ?? [])],
  hours: props.aircraft?.hours === undefined ? '' : props.aircraft.hours.toFixed(1),
  notes: props.aircraft?.notes ?? '',
})
const from = ref(props.fleet.day)
const retiredOn = ref(props.aircraft?.retiredOn ?? '')
const types = computed(() => props.fleet.types.map((t) => [t.id, t.name] as const))
const bases = computed(() => props.fleet.bases.map((b) => [b.id, `${b.id} ${b.name}`] as const))
const fits = computed(() => props.fleet.types.find((t) => t.id === typed.type)?.equipment ?? [])
const changed = computed(
  () =>
    !!props.aircraft && [...typed.equipment].sort().join() !== [...props.aircraft.equipment].sort().join(),
)
const titles = (ids: string[]) =>
  ids.map((id) => fits.value.find((e) => e.id === id)?.label ?? id).join(', ') || 'nothing beyond the type'

const save = () =>
  tried(async () => {
    if (typed.hours.includes(',')) throw new Error('Hours: write a point, as in 4120.5.')
    const { hours, ...rest } = typed
    // What is no number travels as null, and is refused with its field.
    const body = { ...rest, ...(hours.trim() ? { hours: Number(hours) } : {}) }
    if (props.aircraft) {
      const params = { path: { registration: props.aircraft.registration } }
      await take(
        api.PUT('/api/v1/aircraft/{registration}', {
          params,
          body: { ...body, from: from.value, ...(retiredOn.value ? { retiredOn: retiredOn.value } : {}) },
        }),
      )
    } else await take(api.POST('/api/v1/aircraft', { body }))
    emit('done')
  })
</script>

<template>
  <AppDialog
    v-model="open"
    :title="aircraft ? `${aircraft.registration}, ${aircraft.typeName}` : 'Add an aircraft'"
  >
    <form data-part="aircraft" @submit.prevent="save">
      <ProblemNotice v-model="problem" />
      <template v-if="!aircraft">
        <label
          >Registration <AppInput v-model="typed.registration" type="text" name="registration" maxlength="20"
        /></label>
        <label
          >Type
          <SearchSelect
            v-model="typed.type"
            name="aircraft-type"
            :options="types"
            none="an aircraft type"
            @update:model-value="typed.equipment = []"
        /></label>
      </template>
      <label
        >Base <SearchSelect v-model="typed.base" name="aircraft-base" :options="bases" none="a base"
      /></label>
      <template v-if="fits.length">
        <p class="soft small">What this one has of its type’s optional equipment; its lists follow.</p>
        <TickList
          v-model="typed.equipment"
          :options="fits.map((e) => [e.id, e.label] as const)"
          label="Equipment"
        />
      </template>
      <label v-if="changed"
        >It has this equipment from
        <AppInput v-model="from" type="date" name="equipment-from" />
        <span class="soft small">Lists of days before it stay as they were.</span></label
      >
      <label
        >Hours of the airframe, to a tenth
        <AppInput v-model="typed.hours" type="text" inputmode="decimal" name="aircraft-hours" maxlength="8"
      /></label>
      <label>Notes <AppText v-model="typed.notes" name="aircraft-notes" rows="3" maxlength="2000" /></label>
      <label v-if="aircraft"
        >Retired from this day on; empty while it flies
        <AppInput v-model="retiredOn" type="date" name="retired-on"
      /></label>
      <AppButton class="primary" type="submit" :disabled="busy" data-action="save-aircraft">
        {{ aircraft ? 'Keep it so' : 'Add it' }}
      </AppButton>
      <template v-if="aircraft?.changes.length">
        <p v-for="c in aircraft.changes" :key="c.from" class="soft small" data-part="equipment-change">
          from {{ dayWords(c.from) }}: {{ titles(c.equipment) }}; written down by {{ c.by }}
        </p>
      </template>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}

.primary {
  min-height: 56px;
}
</style>
