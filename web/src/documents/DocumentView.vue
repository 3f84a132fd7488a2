<script setup lang="ts">
import 'element-plus/es/components/popconfirm/style/css'

import { ElPopconfirm } from 'element-plus'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type {
  Aid,
  AircraftType,
  DeskView,
  Layer,
  List,
  Pack,
  Policy,
  Problem,
  Version,
} from '@/schema/schemas'
import AidEditor from '@/lists/AidEditor.vue'
import ComparedWith from '@/documents/ComparedWith.vue'
import DifferenceList from '@/lists/DifferenceList.vue'
import FlownPreview from '@/lists/FlownPreview.vue'
import LayerEditor from '@/lists/LayerEditor.vue'
import ListEditor from '@/lists/ListEditor.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import VersionSteps from '@/documents/VersionSteps.vue'
import TrainedPanel from '@/lists/TrainedPanel.vue'
import PagesPanel from '@/types/PagesPanel.vue'
import CoverageView from '@/standards/CoverageView.vue'
import EditionsPanel from '@/standards/EditionsPanel.vue'
import PackCoverage from '@/standards/PackCoverage.vue'
import PackEditor from '@/standards/PackEditor.vue'
import PolicyEditor from '@/policy/PolicyEditor.vue'
import PolicyPreview from '@/policy/PolicyPreview.vue'
import TypeBuilder from '@/types/TypeBuilder.vue'
import TypeSheet from '@/types/TypeSheet.vue'
import { ready, rules } from '@/rules/rules'
import { useDraft } from '@/documents/draft'
import { useSession } from '@/shared/session'
import { count, formats, kindWords } from '@/shared/words'
import { inWords } from '@/shared/errors'

const props = defineProps<{ kind: string; id: string; version: number }>()
const session = useSession()
const router = useRouter()
const draft = useDraft<List | Layer | Aid | AircraftType | Policy | Pack>(props.kind, props.id, props.version)
const { meta, doc, problem, dirty, writable, busy, past, future } = draft
const desk = shallowRef<DeskView | null>(null)
const versions = shallowRef<Version[]>([])
const problems = shallowRef<Problem[]>([])
const tab = ref('text')
const today = ref('')
const from = ref('')

const list = computed(() => (props.kind === 'list' ? (doc.value as List) : null))
const layer = computed(() => (props.kind === 'layer' ? (doc.value as Layer) : null))
const aid = computed(() => (props.kind === 'aid' ? (doc.value as Aid) : null))
const type = computed(() => (props.kind === 'type' ? (doc.value as AircraftType) : null))
const decided = computed(() => (props.kind === 'policy' ? (doc.value as Policy) : null))
const pack = computed(() => (props.kind === 'pack' ? (doc.value as Pack) : null))
/** Where one comes from. */
const home = computed(() => {
  if (meta.value?.aircraftType) return `/lists/${meta.value.aircraftType}`
  return props.kind === 'pack' ? '/standards' : '/policy'
})
const chief = computed(() => session.may('approve-version'))
const writer = computed(() => session.may('save-draft'))

onMounted(async () => {
  window.addEventListener('keydown', key)
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
onBeforeUnmount(() => window.removeEventListener('keydown', key))

let checking: ReturnType<typeof setTimeout> | undefined
watch([doc, desk], () => {
  clearTimeout(checking)
  checking = setTimeout(async () => {
    if (!doc.value || !desk.value || props.kind === 'type') return
    const asked = doc.value
    const found = await rules.problems({
      surroundings: desk.value.surroundings,
      list: props.kind === 'list' ? (asked as List) : props.kind === 'aid' ? desk.value.lists[0] : undefined,
      layer: layer.value ?? undefined,
      aid: aid.value ?? undefined,
    })
    if (doc.value === asked) problems.value = found
  }, 150)
})

/** The layers that serve, with the one being written in the place of its own. */
const layers = computed(() => {
  const serving = desk.value?.layers ?? []
  return layer.value ? [...serving.filter((l) => l.id !== layer.value!.id), layer.value] : serving
})
const tabs = computed(() => {
  const out = [['text', writable.value ? 'Write' : 'Read']]
  if (props.kind === 'list' || pack.value) out.push(['coverage', 'Coverage'])
  if (decided.value) out.push(['moves', 'Whom it moves'])
  if (type.value?.handbook) out.push(['pages', 'Page by page'])
  if (props.kind === 'list' || props.kind === 'layer') out.push(['flown', 'As flown'])
  if (props.kind === 'list') out.push(['differences', 'Differences'])
  if (pack.value) out.push(['differences', 'Beside another edition'])
  const approved = versions.value.some(
    (v) => v.kind === props.kind && v.id === props.id && !['draft', 'reviewed'].includes(v.standing),
  )
  if ((props.kind === 'list' || props.kind === 'layer') && writer.value && approved)
    out.push(['trained', 'Who knows it'])
  return out
})
const exports = computed(() =>
  formats.filter((f) => props.kind === 'list' || !f.lists || (props.kind === 'pack' && f.id === 'csv')),
)
const exported = (format: string) =>
  `/api/v1/library/${props.kind}/${props.id}/${props.version}/export?format=${format}`

async function another() {
  problem.value = ''
  try {
    const view = await take(
      api.POST('/api/v1/library/{kind}', {
        params: { path: { kind: props.kind as 'list' } },
        body: { document: doc.value as object },
      }),
    )
    await router.push(`/documents/${props.kind}/${props.id}/${view.version}`)
  } catch (e) {
    problem.value = inWords(e)
  }
}

async function drop() {
  await draft.drop()
  if (!problem.value) await router.push(home.value)
}

function key(e: KeyboardEvent) {
  if (!(e.ctrlKey || e.metaKey)) return
  const name = e.key.toLowerCase()
  if (name === 's' && writable.value) void draft.save()
  else if (name === 'z' && !e.shiftKey) draft.undo()
  else if (name === 'y' || (name === 'z' && e.shiftKey)) draft.redo()
  else return
  e.preventDefault()
}
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
            v-if="!type"
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
        v-for="[t, words] in tabs"
        :key="t"
        :class="['quiet', { on: tab === t }]"
        :data-tab="t"
        @click="tab = t!"
      >
        {{ words }}
      </AppButton>
      <span v-if="kind !== 'type' && problems.length" class="out" role="status" data-part="faults"
        >■ {{ count(problems.length, 'mistake') }}</span
      >
      <span v-else-if="kind !== 'type' && desk" class="within" role="status" data-part="faults"
        >● no mistake</span
      >
      <span class="exports">
        Export:
        <a v-for="f in exports" :key="f.id" :href="exported(f.id)" :data-export="f.id" download>{{
          f.label
        }}</a>
      </span>
    </nav>
    <main v-if="doc && (desk || decided || pack)">
      <template v-if="tab === 'text'">
        <ListEditor
          v-if="list && desk"
          :key="String(writable)"
          :list="list"
          :desk="desk"
          :problems="problems"
          :readonly="!writable || !writer"
          @change="draft.change"
        />
        <LayerEditor
          v-else-if="layer && desk"
          :layer="layer"
          :desk="desk"
          :problems="problems"
          :readonly="!writable || !writer"
          @change="draft.change"
        />
        <AidEditor
          v-else-if="aid && desk"
          :aid="aid"
          :desk="desk"
          :problems="problems"
          :readonly="!writable || !writer"
          @change="draft.change"
        />
        <TypeBuilder
          v-else-if="type && type.handbook"
          :type="type"
          :versions="versions"
          :readonly="!writable || !writer"
          @change="draft.change"
        />
        <TypeSheet v-else-if="type" :type="type" />
        <PackEditor v-else-if="pack" :pack="pack" :readonly="!writable || !writer" @change="draft.change" />
        <PolicyEditor
          v-else-if="decided"
          :policy="decided"
          :version="version"
          :readonly="!writable || !writer"
          @change="draft.change"
        />
      </template>
      <FlownPreview
        v-else-if="tab === 'flown' && desk && (list ?? desk.lists[0])"
        :list="(list ?? desk.lists[0])!"
        :layers="layers"
        :desk="desk"
      />
      <ComparedWith
        v-else-if="tab === 'differences' && (list || pack)"
        :id
        v-slot="{ older }"
        :kind
        :version
        :versions
      >
        <DifferenceList v-if="list" :list="list" :older="older as List" />
        <EditionsPanel
          v-else
          :pack="pack!"
          :older="older as Pack"
          :readonly="!writable || !writer"
          @change="draft.change"
        />
      </ComparedWith>
      <PagesPanel
        v-else-if="tab === 'pages' && type"
        :type="type"
        :meta="meta!"
        :writer="writer"
        :busy="busy"
        @confirm="(paths) => draft.step('review', undefined, paths)"
      />
      <CoverageView
        v-else-if="tab === 'coverage' && list && desk"
        :list="list"
        :type="desk.type"
        :readonly="!writable || !writer"
        @change="draft.change"
      />
      <PackCoverage v-else-if="tab === 'coverage' && pack" :pack="pack" />
      <PolicyPreview v-else-if="tab === 'moves' && decided" :version="version" :dirty="dirty" />
      <TrainedPanel v-else-if="tab === 'trained'" :id="id" :kind="kind as 'list'" />
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
