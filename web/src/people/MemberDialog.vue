<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import { classWords, roles as everyRole } from '@/shared/words'
import { inWords } from '@/shared/errors'
import { useTrying } from '@/shared/trying'

/** One person of the school, or somebody to invite. */
const props = defineProps<{ member: Schemas['StoreMember'] | null; people: Schemas['People'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ done: [invited: Schemas['Invited'] | null] }>()
const session = useSession()
const { problem, busy, tried } = useTrying()
/** Whether link and code go out by letter, where there is a server for it. */
const send = ref(session.current!.letters)
const typed = reactive({
  name: props.member?.name ?? '',
  email: props.member?.email ?? '',
  number: props.member?.number ?? '',
  roles: [...(props.member?.roles ?? ['student'])],
  type: '',
  instructor: props.member?.learns?.instructor ?? '',
  startedOn: props.member?.learns?.startedOn ?? session.current!.today,
})
const learns = computed(() => typed.roles.includes('student'))
const types = computed(() => props.people.types.map((t) => [t.id, t.name] as const))
const instructors = computed(() => props.people.teaching.map((t) => [t.id, t.name] as const))
const toggle = (role: string) =>
  (typed.roles = typed.roles.includes(role) ? typed.roles.filter((r) => r !== role) : [...typed.roles, role])

const erasing = ref('')
const due = computed(() => !!props.member && props.people.due.includes(props.member.id))
async function erase() {
  problem.value = ''
  try {
    const params = { path: { id: props.member!.id } }
    await take(api.POST('/api/v1/people/{id}/erase', { params, body: { name: erasing.value } }))
    emit('done', null)
  } catch (e) {
    problem.value = inWords(e, 'with fields')
  }
}

const recover = () =>
  tried(async () => {
    const params = { path: { id: props.member!.id }, query: { send: send.value } }
    emit('done', await take(api.POST('/api/v1/people/{id}/recovery', { params })))
  })

const save = (active: boolean) =>
  tried(async () => {
    const { name, email, number, roles, type, instructor, startedOn } = typed
    const body = {
      name,
      email,
      number,
      roles,
      ...(learns.value ? { learns: { type, instructor, startedOn } } : {}),
    }
    if (props.member) {
      const params = { path: { id: props.member.id } }
      await take(api.PUT('/api/v1/people/{id}', { params, body: { ...body, active } }))
      emit('done', null)
    } else {
      const params = { query: { send: send.value } }
      emit('done', await take(api.POST('/api/v1/invitations', { params, body })))
    }
  })
</script>

<template>
  <AppDialog v-model="open" :title="member ? member.name : 'Invite somebody'">
    <form data-part="member" @submit.prevent="save(member?.active ?? true)">
      <ProblemNotice v-model="problem" />
      <label>Name <AppInput v-model="typed.name" type="text" name="member-name" maxlength="100" /></label>
      <p v-if="member" class="soft">
        {{ member.email }}: signs in by this address. What was signed keeps the name it was signed with.
      </p>
      <label v-else
        >Address <AppInput v-model="typed.email" type="email" name="member-email" maxlength="200"
      /></label>
      <label
        >The school’s own number
        <AppInput v-model="typed.number" type="text" name="member-number" maxlength="40"
      /></label>
      <fieldset>
        <legend>What they are here, one or several</legend>
        <AppButton
          v-for="r in everyRole"
          :key="r.id"
          :class="{ chosen: typed.roles.includes(r.id) }"
          :aria-pressed="typed.roles.includes(r.id)"
          :data-role="r.id"
          @click="toggle(r.id)"
        >
          {{ r.words }}
        </AppButton>
      </fieldset>
      <template v-if="learns">
        <label
          >Trains on
          <span v-if="member?.class" class="soft small"
            >now {{ classWords[member.class] }}, {{ member.engineKind }}, {{ member.startType }}</span
          >
          <SearchSelect
            v-model="typed.type"
            name="member-type"
            :options="types"
            :none="member?.class ? 'as it is' : 'an aircraft type'"
          />
        </label>
        <label
          >With
          <SearchSelect
            v-model="typed.instructor"
            name="member-instructor"
            :options="instructors"
            none="an instructor"
        /></label>
        <label>Since <AppInput v-model="typed.startedOn" type="date" name="member-since" /></label>
      </template>
      <label v-if="session.current!.letters" class="tick"
        ><AppCheck v-model="send" name="send-letter" /> send link and code by letter, where one is made</label
      >
      <AppButton class="primary" type="submit" :disabled="busy" data-action="save-member">
        {{ member ? 'Keep it so' : 'Invite' }}
      </AppButton>
      <AppButton v-if="member?.active" data-action="let-go" :disabled="busy" @click="save(false)">
        {{ member.name }} has left the school
      </AppButton>
      <AppButton v-else-if="member" data-action="take-back" :disabled="busy" @click="save(true)">
        {{ member.name }} is back
      </AppButton>
      <div v-if="member && !member.active && !member.erased" class="erase">
        <p class="soft small">
          The name is kept for {{ people.keepYears }} years after somebody left{{
            due ? ', which are over' : ''
          }}. Erased, a pseudonym takes its place for good; the record stays, and what was signed stays
          provable.
        </p>
        <label
          >Type the name to erase it
          <AppInput v-model="erasing" type="text" name="erase-name" autocomplete="off"
        /></label>
        <AppButton data-action="erase" :disabled="busy || !erasing.trim()" @click="erase">
          Erase the name for good
        </AppButton>
      </div>
      <AppButton v-if="member?.active" data-action="recover" :disabled="busy" @click="recover">
        {{ member.name }} cannot sign in: give out a code
      </AppButton>
      <a
        v-if="member"
        :href="`/api/v1/people/${member.id}/personal-data.zip`"
        download
        data-action="export-person"
        >What the school holds on {{ member.name }}, as files</a
      >
      <p v-if="member" class="soft small">
        Whoever has left signs in no more; their record stays as it is, and comes back with them.
      </p>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}

.tick {
  display: flex;
  gap: 8px;
  align-items: center;
}

fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

fieldset button {
  min-height: 44px;
}

.primary {
  min-height: 56px;
}
</style>
