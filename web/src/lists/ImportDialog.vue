<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, Refused, take, type Imported, type List } from '@/api/client'
import { ready, rules } from '@/rules/rules'
import AppDialog from '@/shared/AppDialog.vue'
import { kindWords } from '@/shared/words'

/** A file is read first, every mistake shown with its line, and then kept as a draft. */
const props = defineProps<{ aircraftType: string }>()
const shown = defineModel<boolean>({ required: true })
const router = useRouter()
const kind = ref<'list' | 'layer' | 'aid' | 'type'>('list')
const read = shallowRef<Imported | null>(null)
const name = ref('')
const problem = ref('')
const busy = ref(false)
const title = ref('')

async function choose(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  if (!file) return
  problem.value = ''
  read.value = null
  name.value = file.name
  busy.value = true
  try {
    const answer = await fetch(`/api/v1/import/${kind.value}?name=${encodeURIComponent(file.name)}`, {
      method: 'POST',
      body: await file.text(),
      headers: { 'Content-Type': 'text/plain' },
    })
    const body = (await answer.json()) as Imported & { detail?: string }
    if (!answer.ok) problem.value = body.detail ?? 'The file could not be read.'
    else read.value = body
    title.value = (read.value?.document as List | undefined)?.title ?? ''
  } catch {
    problem.value = 'The school cannot be reached. The file is still yours; try again.'
  } finally {
    busy.value = false
  }
}
const count = computed(() => {
  const d = read.value?.document as List | undefined
  return d?.phases
    ? `${d.phases.reduce((n, p) => n + p.items.length, 0)} items in ${d.phases.length} phases`
    : ''
})
async function keep() {
  problem.value = ''
  await ready()
  const document = { ...(read.value!.document as Record<string, unknown>) }
  if (kind.value === 'list') {
    document.title = title.value
    document.id = document.id || rules.slug(title.value)
    document.aircraftType = document.aircraftType || props.aircraftType
    document.source = document.source || `imported from ${name.value}`
  }
  try {
    const view = await take(
      api.POST('/api/v1/library/{kind}', { params: { path: { kind: kind.value } }, body: { document } }),
    )
    shown.value = false
    await router.push(`/documents/${kind.value}/${view.id}/${view.version}`)
  } catch (e) {
    problem.value = e instanceof Refused ? [e.message, ...e.fields].join(' ') : String(e)
  }
}
</script>

<template>
  <AppDialog v-model="shown" title="Bring in a file" :width="760">
    <p class="soft">
      Types, lists, layers and memory aids as YAML or JSON; lists also from a table (CSV) or a Markdown task
      list. Nothing is kept before you have seen what is in it.
    </p>
    <div class="what">
      <label
        >It is a
        <select v-model="kind" name="import-kind" @change="read = null">
          <option v-for="k in ['list', 'layer', 'aid', 'type']" :key="k" :value="k">
            {{ kindWords[k] }}
          </option>
        </select></label
      >
      <input
        type="file"
        name="import-file"
        accept=".yaml,.yml,.json,.csv,.tsv,.md,.markdown,.txt"
        @change="choose"
      />
    </div>
    <p v-if="busy" class="soft" role="status">Reading {{ name }} …</p>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <template v-if="read">
      <p v-if="count">{{ count }}.</p>
      <p v-if="!read.mistakes.length" class="within">● No mistake was found.</p>
      <div v-else class="mistakes" data-part="mistakes">
        <p class="attend">▲ {{ read.mistakes.length }} mistakes:</p>
        <p v-for="(m, i) in read.mistakes" :key="i" class="small">
          <span class="mono">line {{ m.line || '–' }}</span> {{ (m.path ?? '').replace(/^\$\.?/, '') }}
          {{ m.reason }}
        </p>
      </div>
      <template v-if="read.document">
        <label v-if="kind === 'list'"
          >Title of the list <input v-model="title" type="text" name="import-title"
        /></label>
        <p class="soft small">
          It becomes a draft; drafts may still have mistakes, and the editor shows them at their place.
        </p>
        <button
          class="primary"
          data-action="keep-import"
          :disabled="kind === 'list' && !title.trim()"
          @click="keep"
        >
          Keep it as a draft
        </button>
      </template>
    </template>
  </AppDialog>
</template>

<style scoped>
.what {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: center;
  margin: 10px 0;
}

.mistakes {
  max-height: 240px;
  overflow: auto;
  border-left: 3px solid var(--attend);
  padding-left: 10px;
}

.primary {
  width: 100%;
  margin-top: 8px;
}
</style>
