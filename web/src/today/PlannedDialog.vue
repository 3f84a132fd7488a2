<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, Refused, take, type Schemas } from '@/api/client'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { timeWords } from '@/shared/words'

/** A planned lesson: open it, or take it off the plan with the reason. */
const props = defineProps<{ planned: Schemas['Planned'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ gone: [] }>()
const session = useSession()
const me = session.current!
const why = ref('')
const problem = ref('')
const time = (moment: string) => timeWords(moment, me.zone)
const mine = computed(() => props.planned.instructorId === me.account)

async function cancel() {
  try {
    await take(
      api.POST('/api/v1/bookings/{id}/cancel', {
        params: { path: { id: props.planned.id } },
        body: { why: why.value },
      }),
    )
    open.value = false
    emit('gone')
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
}
</script>

<template>
  <AppDialog v-model="open" :title="`${planned.student}, ${planned.registration}`" :width="560">
    <ProblemNotice v-model="problem" />
    <p>
      {{ time(planned.startsAt) }} to {{ time(planned.endsAt) }}, with {{ planned.instructor
      }}<template v-if="planned.for.length">; {{ planned.for.join(', ') }}</template
      >.
    </p>
    <p v-if="session.may('book')" class="act">
      <router-link v-if="mine" class="button primary" :to="`/lessons/new?booking=${planned.id}`"
        >Open the lesson</router-link
      >
      <router-link class="button" :to="`/day?aircraft=${planned.registration}`">Day sheet</router-link>
    </p>
    <form v-if="session.may('cancel-booking')" class="act" @submit.prevent="cancel">
      <input v-model="why" type="text" name="cancel-why" maxlength="400" placeholder="why it is not flown" />
      <button type="submit" :disabled="!why.trim()" data-action="cancel-booking">Take it off the plan</button>
    </form>
  </AppDialog>
</template>

<style scoped>
.act {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding-top: 12px;
}

.act input {
  flex: 1;
  min-width: 180px;
}
</style>
