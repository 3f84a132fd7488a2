<script setup lang="ts">
import 'element-plus/es/components/upload/style/css'

import { ElUpload, type UploadFile } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'

import AppButton from '@/base/AppButton.vue'
import TimeStrip from '@/debrief/TimeStrip.vue'
import { ready, rules } from '@/rules/rules'
import { dayWords, markTone, markWords } from '@/shared/words'
import { inWords } from '@/shared/errors'
import { switchTheme, theme } from '@/theme/theme'

/**
 * Proves an exported record in this page, by the rules that the school has too.
 * Nobody has to sign in, and nothing of the file is sent anywhere.
 */
type Found = ReturnType<typeof rules.verify>
const found = shallowRef<Found | null>(null)
const problem = ref('')
const name = ref('')
const busy = ref(false)
const at = ref<number | null>(null)
const mostBytes = 32 << 20

async function take(file: UploadFile) {
  busy.value = true
  found.value = null
  problem.value = ''
  at.value = null
  name.value = file.name
  try {
    if (file.raw!.size > mostBytes) throw new Error('The file is larger than any record.')
    const bytes = await file.raw!.arrayBuffer()
    await ready('rules')
    found.value = rules.verify(new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes))
  } catch (e) {
    problem.value = inWords(e)
  }
  busy.value = false
}
const r = computed(() => found.value?.record)
const items = computed(() => Object.fromEntries((r.value?.items ?? []).map((i) => [i.id, i.challenge])))
const deviations = computed(() =>
  (found.value?.state.items ?? []).filter((i) => i.level != null && (i.level < 4 || i.override)),
)
const grade = (level?: number | null) =>
  r.value?.scale.steps?.find((s) => s.shows.includes(level ?? -1))?.label ?? 'no level'
const moment = (text: string) => `${dayWords(text.slice(0, 10))}, ${text.slice(11, 16)} UTC`
const how: Record<string, string> = {
  password: 'by password',
  pin: 'by PIN',
  device: 'by PIN, on a device without the school',
  passkey: 'by passkey',
}
</script>

<template>
  <main class="page">
    <header>
      <h1>Verify a record</h1>
      <AppButton class="quiet" @click="switchTheme">{{ theme === 'day' ? 'Dark' : 'Bright' }}</AppButton>
    </header>
    <p class="lead">
      Drop the exported file of a lesson here. It is proved in this page; nothing of it is sent anywhere.
    </p>
    <ElUpload
      drag
      action="#"
      name="record"
      accept=".json,application/json"
      :auto-upload="false"
      :show-file-list="false"
      :on-change="take"
    >
      <p class="drop">{{ busy ? 'Proving…' : 'A record’s file, dropped or chosen' }}</p>
    </ElUpload>
    <section v-if="problem" class="answer bad" role="alert" data-part="not-proved">
      <h2 class="out">■ Not proved</h2>
      <p>{{ name }}: {{ problem }}.</p>
    </section>
    <section v-if="found && r" class="answer" role="status" data-part="proved">
      <h2 class="within">● Proved: as it was signed</h2>
      <p class="what">
        <template v-if="r.lesson.student.id"
          >{{ r.lesson.student.name }}, {{ r.lesson.aircraft }}, {{ dayWords(r.lesson.day) }}, with
          {{ r.lesson.instructor.name }}</template
        >
        <template v-else
          >Maintenance run on {{ r.lesson.aircraft }}, {{ dayWords(r.lesson.day) }}, by
          {{ r.lesson.instructor.name }}</template
        >
        <span class="soft">{{ r.school.name }}, {{ r.type.name }}, {{ r.list }}</span>
      </p>
      <div v-for="s in found.signed" :key="s.hash" class="signed">
        <p>
          <b>{{ s.by }}</b>
          {{ s.subject === 'lesson' ? 'signed' : s.refused ? 'did not acknowledge' : 'acknowledged' }}
          on {{ moment(s.at) }} {{ how[s.how ?? ''] }}
        </p>
        <p v-if="s.words">“{{ s.words }}”</p>
        <p class="soft small figure mono">seal {{ s.number }}, key {{ s.keyId }}<br />{{ s.hash }}</p>
      </div>
      <p v-if="r.unsigned.length" class="attend">
        ▲ {{ r.unsigned.length }} events came later and are not signed.
      </p>
      <p class="small soft mono">
        head of the school’s chain at the export: seal {{ r.head.number }}<br />{{ r.head.hash }}
      </p>
      <p class="attend">
        ▲ Whose key signed it no file can tell. Hold the key {{ r.proof?.keyId }} to the one that the school
        shows.
      </p>
      <TimeStrip v-model="at" :strip="found.strip" :names="items" />
      <h2>What was not right at once</h2>
      <p v-if="!deviations.length" class="soft">Nothing among what was observed.</p>
      <p v-for="i in deviations" :key="i.id">
        <b>{{ items[i.id] ?? i.id }}</b> <span :class="markTone(i.mark)">{{ markWords[i.mark] }}</span>:
        {{ grade(i.level) }}
        <span class="soft small block">{{ i.reasons.map((x) => x.message).join(' ') }}</span>
      </p>
    </section>
    <p class="caution">
      A training record, not an approved checklist. The published standard, the approved handbook and the
      operator’s rules govern.
    </p>
  </main>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 5vh 24px 24px;
  display: grid;
  gap: 14px;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

h1 {
  font-size: 30px;
  font-weight: 700;
}

h2 {
  font-size: 22px;
  font-weight: 700;
}

.lead {
  font-size: 18px;
  color: var(--soft);
}

.drop {
  font-size: 18px;
  padding: 14px;
}

.answer {
  display: grid;
  gap: 10px;
  border-top: 3px solid var(--within);
  padding-top: 14px;
}

.bad {
  border-color: var(--out);
}

.what {
  font-size: 18px;
}

.signed {
  border-left: 3px solid var(--hair);
  padding-left: 12px;
}

.mono {
  overflow-wrap: anywhere;
}

.block {
  display: block;
}

.caution {
  font-size: 13px;
  color: var(--soft);
  border-top: 1px solid var(--hair);
  padding-top: 12px;
}
</style>
