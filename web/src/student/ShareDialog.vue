<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import LinkCode from '@/shared/LinkCode.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { dayIn, dayWords, timeWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** A student's record for an examiner: by link and code, for a time, withdrawn at will. */
const props = defineProps<{ student: string; name: string }>()
const open = defineModel<boolean>({ required: true })
const { zone } = useSession().current!
const shares = shallowRef<Schemas['StoreRecordShare'][]>([])
const made = shallowRef<Schemas['Shared'] | null>(null)
const whom = ref('')
const days = ref('14')
const { problem, tried } = useTrying()
const path = { id: props.student }

const load = () =>
  tried(async () => {
    shares.value = (await take(api.GET('/api/v1/students/{id}/shares', { params: { path } }))).shares
  })
onMounted(load)
const share = () =>
  tried(async () => {
    const body = { whom: whom.value.trim(), days: Number(days.value) }
    made.value = await take(api.POST('/api/v1/students/{id}/shares', { params: { path }, body }))
    whom.value = ''
    await load()
  })
const withdraw = (id: string) =>
  tried(async () => {
    const params = { path: { ...path, share: id } }
    await take(api.POST('/api/v1/students/{id}/shares/{share}/withdraw', { params }))
    await load()
  })
const over = (s: Schemas['StoreRecordShare']) => !!s.withdrawnAt || Date.parse(s.until) < Date.now()
const moment = (at: string) => `${dayWords(dayIn(at, zone))}, ${timeWords(at, zone)}`
</script>

<template>
  <AppDialog v-model="open" :title="`Share the record of ${name}`">
    <ProblemNotice v-model="problem" />
    <LinkCode v-if="made" :path="made.path" :code="made.code" words="Shared." />
    <form @submit.prevent="share">
      <label>For whom <AppInput v-model="whom" type="text" name="share-whom" maxlength="200" /></label>
      <ChoiceRow
        v-model="days"
        name="Open for"
        :choices="[
          ['3', '3 days'],
          ['14', '14 days'],
          ['60', '60 days'],
        ]"
      />
      <AppButton class="primary" type="submit" :disabled="!whom.trim()" data-action="share"
        >Share it</AppButton
      >
    </form>
    <div v-for="s in shares" :key="s.id" class="share" :data-share="s.id">
      <p>
        <b>{{ s.whom }}</b>
        <span :class="over(s) ? 'soft' : ''">{{
          s.withdrawnAt
            ? `withdrawn ${moment(s.withdrawnAt)}`
            : `${over(s) ? 'was open until' : 'open until'} ${moment(s.until)}`
        }}</span>
      </p>
      <p v-if="!s.looks.length" class="soft small">Nobody has looked yet.</p>
      <p v-for="l in s.looks" :key="l.at" class="small">
        {{ l.name }} looked at {{ l.what }}, {{ moment(l.at) }}
      </p>
      <AppButton v-if="!over(s)" data-action="withdraw" @click="withdraw(s.id)">Withdraw it</AppButton>
    </div>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
  margin: 10px 0;
}

.share {
  border-top: 1px solid var(--hair);
  padding: 8px 0;
}
</style>
