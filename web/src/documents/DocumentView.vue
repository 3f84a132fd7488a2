<script setup lang="ts">
import 'element-plus/es/components/popconfirm/style/css'

import { useEventListener, watchDebounced } from '@vueuse/core'
import { ElPopconfirm } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { rules, ready } from '@/rules/rules'
import type { DeskView, List, Problem, Version } from '@/schema/schemas'
import { inWords } from '@/shared/errors'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { count, formats, kindWords } from '@/shared/words'
import ComparedWith from './ComparedWith.vue'
import { useDraft } from './draft'
import { kinds, type Doc, type Shown } from './kinds'
import VersionSteps from './VersionSteps.vue'

const props = defineProps<{ kind: string; id: string; version: number }>()
const session = useSession()
const router = useRouter()
const draft = useDraft<Doc>(props.kind, props.id, props.version)
const { meta, doc, problem, dirty, writable, busy, past, future } = draft
const of = computed(() => kinds[props.kind]!)
const desk = shallowRef<DeskView | null>(null)
const versions = shallowRef<Version[]>([])
const problems = shallowRef<Problem[]>([])
const tab = ref('text')
const today = ref('')
const from = ref('')

/** Where one comes from. */
const home = computed(() =>
  meta.value?.aircraftType ? `/lists/${meta.value.aircraftType}` : (of.value.home ?? '/lists'),
)
const chief = computed(() => session.may('approve-version'))
const writer = computed(() => session.may('save-draft'))
const readonly = computed(() => !writable.value || !writer.value)

onMounted(async () => {
  await draft.load()
  if (!meta.value) return
  try {
    const [d, library] = await Promise.all([
      meta.value.aircraftType
        ? take(
            api.GET('/api/v1/desk/{type}', {
              params: { path: { type: meta.value.aircraftType }, query: { on: '9999-12-31' } },
            }),
          )
        : null,
      take(api.GET('/api/v1/library')),
      ready('rules'),
    ])
    desk.value = d
    versions.value = library.versions
    today.value = library.day
    const tomorrow = new Date(`${library.day}T00:00:00Z`)
    tomorrow.setUTCDate(tomorrow.getUTCDate() + 1)
    from.value = tomorrow.toISOString().slice(0, 10)
  } catch (e) {
    problem.value = inWords(e)
  }
})

/** What is shown, once what it refers to is here. */
const shown = computed<Shown | null>(() => {
  if (!doc.value || !meta.value || (meta.value.aircraftType && !desk.value)) return null
  return {
    doc: doc.value,
    meta: meta.value,
    desk: desk.value,
    versions: versions.value,
    problems: problems.value,
    readonly: readonly.value,
    writer: writer.value,
    busy: busy.value,
    dirty: dirty.value,
  }
})
const views = computed(() => of.value.views.filter((v) => shown.value && (v.when?.(shown.value) ?? true)))
const view = computed(() => views.value.find((v) => v.id === tab.value))
const handlers = {
  change: draft.change,
  confirm: (paths: string[]) => draft.step('review', undefined, paths),
}
/** Only what the view itself emits: a box inside it has a change event of its own. */
const listeners = computed(() =>
  view.value?.emits ? { [view.value.emits]: handlers[view.value.emits] } : {},
)

watchDebounced(
  [doc, desk],
  async () => {
    const asked = shown.value
    if (!asked?.desk || !of.value.checked) return
    const found = await rules.problems(of.value.checked({ ...asked, desk: asked.desk }))
    if (doc.value === asked.doc) problems.value = found
  },
  { debounce: 150 },
)

const exports = computed(() => formats.filter((f) => !f.kinds || f.kinds.includes(props.kind)))
const exported = (format: string) =>
  `/api/v1/library/${props.kind}/${props.id}/${props.version}/export?format=${format}`

async function another() {
  problem.value = ''
  try {
    const made = await take(
      api.POST('/api/v1/library/{kind}', {
        params: { path: { kind: props.kind as 'list' } },
        body: { document: doc.value as object },
      }),
    )
    await router.push(`/documents/${props.kind}/${props.id}/${made.version}`)
  } catch (e) {
    problem.value = inWords(e)
  }
}

async function drop() {
  await draft.drop()
  if (!problem.value) await router.push(home.value)
}

useEventListener(window, 'keydown', (e) => {
  if (!(e.ctrlKey || e.metaKey)) return
  const name = e.key.toLowerCase()
  if (name === 's' && writable.value) void draft.save()
  else if (name === 'z' && !e.shiftKey) draft.undo()
  else if (name === 'y' || (name === 'z' && e.shiftKey)) draft.redo()
  else return
  e.preventDefault()
})
onBeforeRouteLeave(async () => {
  if (dirty.value && writable.value) await draft.save()
  return !problem.value
})
</script>

<template>
  <div class="place">
    <TopBar>
      <router-link v-if="meta" :to="home" class="back" aria-label="Back">‹</router-link>
      <b>{{ (doc as List | null)?.title ?? meta?.title }}</b>
      <span v-if="meta" class="soft">{{ kindWords[kind] }}, version {{ version }}</span>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <p v-if="draft.restored.value" class="attend said">
      ▲ What you typed on this device and had not saved is back. Undo takes it away.
    </p>
    <div v-if="meta && doc" class="bar">
      <VersionSteps :meta="meta" />
      <div class="doing">
        <template v-if="writable && writer">
          <AppButton
            class="quiet"
            :disabled="!past.length"
            title="Ctrl+Z"
            data-action="undo"
            @click="draft.undo"
          >
            Undo
          </AppButton>
          <AppButton
            class="quiet"
            :disabled="!future.length"
            title="Ctrl+Y"
            data-action="redo"
            @click="draft.redo"
          >
            Redo
          </AppButton>
          <AppButton :disabled="!dirty || busy" title="Ctrl+S" data-action="save" @click="draft.save">
            {{ dirty ? 'Save' : 'Saved' }}
          </AppButton>
          <AppButton
            v-if="!of.byPages"
            :disabled="busy || problems.length > 0"
            data-action="review"
            @click="draft.step('review')"
          >
            Mark as reviewed
          </AppButton>
          <ElPopconfirm
            title="Delete this draft for good?"
            confirm-button-text="Delete it"
            cancel-button-text="Keep it"
            width="240"
            @confirm="drop"
          >
            <template #reference
              ><AppButton class="quiet" data-action="drop">Delete the draft</AppButton></template
            >
          </ElPopconfirm>
        </template>
        <template v-else-if="meta.status === 'reviewed' && writer">
          <AppButton class="quiet" data-action="reopen" @click="draft.step('reopen')"
            >Back to draft</AppButton
          >
          <template v-if="chief">
            <label>from <AppInput v-model="from" type="date" name="from" :min="today" /></label>
            <AppButton
              class="primary"
              :disabled="busy || !from"
              data-action="approve"
              @click="draft.step('approve', from)"
            >
              Approve
            </AppButton>
          </template>
          <span v-else class="soft">waits for the chief instructor</span>
        </template>
        <template v-else-if="writer">
          <template v-if="meta.status === 'in-force' && !meta.shipped && chief">
            <label>from <AppInput v-model="from" type="date" name="from" :min="today" /></label>
            <AppButton class="quiet" data-action="withdraw" @click="draft.step('withdraw', from)">
              Withdraw
            </AppButton>
          </template>
          <AppButton data-action="another" @click="another">Write a new version</AppButton>
        </template>
      </div>
    </div>
    <nav v-if="meta && doc" class="tabs" aria-label="Views of the document">
      <AppButton
        v-for="v in views"
        :key="v.id"
        :class="['quiet', { on: tab === v.id }]"
        :data-tab="v.id"
        @click="tab = v.id"
      >
        {{ v === views[0] && !writable ? 'Read' : v.words }}
      </AppButton>
      <span v-if="problems.length" class="out" role="status" data-part="faults"
        >■ {{ count(problems.length, 'mistake') }}</span
      >
      <span v-else-if="of.checked && desk" class="within" role="status" data-part="faults">● no mistake</span>
      <span class="exports">
        Export:
        <a v-for="f in exports" :key="f.id" :href="exported(f.id)" :data-export="f.id" download>{{
          f.label
        }}</a>
      </span>
    </nav>
    <main v-if="shown && view">
      <ComparedWith v-if="view.beside" :id v-slot="{ older }" :kind :version :versions>
        <component :is="view.component" v-bind="view.props(shown)" :older="older" v-on="listeners" />
      </ComparedWith>
      <component
        :is="view.component"
        v-else
        :key="`${view.id} ${readonly}`"
        v-bind="view.props(shown)"
        v-on="listeners"
      />
    </main>
  </div>
</template>

<style scoped>
.back {
  font-size: 24px;
  text-decoration: none;
}

.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
  align-items: center;
  padding: 6px 24px;
  border-bottom: 1px solid var(--hair);
}

.doing {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.doing button {
  min-height: 44px;
}

.doing input[type='date'] {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--hair);
  padding: 8px;
}

.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  padding: 0 24px;
  border-bottom: 1px solid var(--hair);
}

.exports {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  font-size: 13px;
}

main {
  padding: 12px 24px 40px;
}

.notice,
.said {
  margin: 8px 24px;
}
</style>
