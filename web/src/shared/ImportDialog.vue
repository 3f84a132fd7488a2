<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Imported, List } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'
import AppDialog from '@/shared/AppDialog.vue'
import FilePick from '@/shared/FilePick.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { count as countOf, kindWords } from '@/shared/words'
import { inWords } from '@/shared/errors'

type Kind = 'list' | 'layer' | 'aid' | 'type' | 'pack'
/** A file of one of some kinds is read first, every mistake shown with its line, and then kept as a draft. */
const props = defineProps<{ kinds: Kind[]; words: string; aircraftType?: string }>()
const shown = defineModel<boolean>({ required: true })
const router = useRouter()
const kind = ref(props.kinds[0]!)
/** Plain tables say nothing of these: a title is asked for. */
const titled = computed(() => kind.value === 'list' || kind.value === 'pack')
const read = shallowRef<Imported | null>(null)
const name = ref('')
const problem = ref('')
const title = ref('')

function begin() {
  problem.value = ''
  read.value = null
}
function show(body: object, of: string) {
  read.value = body as Imported
  name.value = of
  title.value = (read.value.document as List | undefined)?.title ?? ''
}
const count = computed(() => {
  const d = read.value?.document as List | undefined
  return d?.phases
    ? `${d.phases.reduce((n, p) => n + p.items.length, 0)} items in ${d.phases.length} phases`
    : ''
})
async function keep() {
  problem.value = ''
  await ready('rules')
  const document = { ...(read.value!.document as Record<string, unknown>) }
  if (titled.value) {
    document.title = title.value
    document.id = document.id || rules.slug(title.value)
  }
  if (kind.value === 'list') {
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
    problem.value = inWords(e, 'with fields')
  }
}
</script>

<template>
  <AppDialog v-model="shown" title="Bring in a file" :width="760">
    <p class="soft">{{ words }} Nothing is kept before you have seen what is in it.</p>
    <div :class="['what', { one: kinds.length === 1 }]">
      <label v-if="kinds.length > 1"
        >It is a
        <SearchSelect
          v-model="kind"
          name="import-kind"
          :options="kinds.map((k) => [k, kindWords[k]!])"
          @update:model-value="begin"
      /></label>
      <FilePick
        name="import-file"
        words="Choose the file, or drop it here"
        accept=".yaml,.yml,.json,.csv,.tsv,.md,.markdown,.txt"
        method="POST"
        :to="(file) => `/api/v1/import/${kind}?name=${encodeURIComponent(file)}`"
        @begin="begin"
        @answer="show"
        @refused="(why) => (problem = why)"
      />
    </div>
    <ProblemNotice v-model="problem" />
    <template v-if="read">
      <p v-if="count">{{ count }}.</p>
      <p v-if="!read.problems.length" class="within">● No mistake was found.</p>
      <div v-else class="mistakes" data-part="mistakes">
        <p class="attend">▲ {{ countOf(read.problems.length, 'mistake') }}:</p>
        <p v-for="(m, i) in read.problems" :key="i" class="small">
          <span class="figure">line {{ m.line || '–' }}</span> {{ (m.field ?? '').replace(/^\$\.?/, '') }}
          {{ m.reason }}
        </p>
      </div>
      <template v-if="read.document">
        <label v-if="titled">Title <AppInput v-model="title" type="text" name="import-title" /></label>
        <p class="soft small">
          It becomes a draft; drafts may still have mistakes, and the editor shows them at their place.
        </p>
        <AppButton
          class="primary"
          data-action="keep-import"
          :disabled="titled && !title.trim()"
          @click="keep"
        >
          Keep it as a draft
        </AppButton>
      </template>
    </template>
  </AppDialog>
</template>

<style scoped>
.what {
  display: grid;
  grid-template-columns: 180px minmax(0, 1fr);
  gap: 16px;
  margin: 10px 0;
}

.what.one {
  grid-template-columns: minmax(0, 1fr);
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
