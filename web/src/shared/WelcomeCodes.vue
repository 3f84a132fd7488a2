<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { useSession } from '@/shared/session'
import { inWords } from '@/shared/errors'

/** Links with their one-time codes, a line a person: printed, written off, or sent by letter. */
const props = defineProps<{ invited: Schemas['Welcome'][] }>()
const session = useSession()
const origin = location.origin
const print = () => window.print()

type Line = Schemas['Welcome'] & { sent?: boolean; unsent?: string }
const lines = ref<Line[]>(props.invited.map((w) => ({ ...w })))
const waiting = computed(() => lines.value.filter((l) => !l.sent))
const sending = ref(false)
const stopping = ref(false)
const tried = ref(0)
/** A letter carries a code of its own; the one that stood here serves no more. */
async function letter(line: Line) {
  const params = { path: { id: line.id }, query: { send: true } }
  try {
    const made = await take(api.POST('/api/v1/invitations/{id}/renew', { params }))
    Object.assign(line, { code: made.code, sent: made.sent, unsent: made.unsent })
  } catch (e) {
    line.unsent = inWords(e)
  }
}
async function sendAll() {
  sending.value = true
  stopping.value = false
  tried.value = 0
  for (const line of waiting.value) {
    if (stopping.value) break
    await letter(line)
    tried.value++
  }
  sending.value = false
}
</script>

<template>
  <div>
    <p v-if="waiting.length" class="within">
      ● Give each person the link and the code by different ways; the codes are shown this once.
    </p>
    <p v-if="waiting.length < lines.length" class="within" role="status" data-part="sent">
      ● {{ lines.length - waiting.length }} of {{ lines.length }} have link and code by letter.
    </p>
    <div v-for="w in lines" :key="w.path" class="welcome" data-part="welcome">
      <b>{{ w.name }}</b>
      <span v-if="w.sent" class="within">● the letter has gone out</span>
      <template v-else>
        <span>
          <span class="figure">{{ origin }}{{ w.path }}</span>
          <span v-if="w.unsent" class="attend block">▲ no letter went out: {{ w.unsent }}</span>
        </span>
        <b class="figure code">{{ w.code }}</b>
      </template>
    </div>
    <p class="act">
      <AppButton v-if="waiting.length" @click="print">Print them</AppButton>
      <AppButton v-if="sending" data-action="stop-letters" @click="stopping = true">
        Stop after {{ tried + 1 }} of {{ lines.length }}
      </AppButton>
      <AppButton
        v-else-if="session.current?.letters && waiting.length"
        data-action="send-letters"
        @click="sendAll"
      >
        Send {{ waiting.length === 1 ? 'a letter' : `${waiting.length} letters` }} with link and code
      </AppButton>
      <slot />
    </p>
  </div>
</template>

<style scoped>
.welcome {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) minmax(0, 3fr) auto;
  gap: 4px 16px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--fine);
  overflow-wrap: anywhere;
  break-inside: avoid;
}

.code {
  font-size: 22px;
  letter-spacing: 2px;
}

.block {
  display: block;
}

.act {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin-top: 16px;
}

@media (max-width: 800px) {
  .welcome {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
