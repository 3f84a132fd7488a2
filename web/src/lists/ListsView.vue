<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { DeskView, Library, Version } from '@/schema/schemas'
import { freeId } from '@/shared/edit'
import FlowMap from '@/lists/FlowMap.vue'
import ImportDialog from '@/shared/ImportDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import DescribeType from '@/types/DescribeType.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { classWords, dayWords, rankWords, statusWords } from '@/shared/words'
import { inWords } from '@/shared/errors'
import { useTrying } from '@/shared/trying'

const props = defineProps<{ type?: string }>()
const session = useSession()
const router = useRouter()
const library = shallowRef<Library | null>(null)
const desk = shallowRef<DeskView | null>(null)
const { problem, tried } = useTrying()
const phase = ref(0)
const importing = ref(false)
const describing = ref(false)

const writer = computed(() => session.may('add-draft'))
const chosen = computed(() => (library.value && (props.type || library.value.types[0]?.id)) || '')

function load() {
  return tried(async () => {
    library.value = await take(api.GET('/api/v1/library'))
  })
}
onMounted(load)
watch(
  chosen,
  async (id) => {
    if (!id) return
    try {
      const serves = !!library.value?.types.find((t) => t.id === id)?.class
      const on = serves || !writer.value ? undefined : '9999-12-31'
      const d = await take(api.GET('/api/v1/desk/{type}', { params: { path: { type: id }, query: { on } } }))
      if (chosen.value === id) desk.value = d
      phase.value = Math.min(phase.value, (d.lists[0]?.phases.length ?? 1) - 1)
    } catch (e) {
      problem.value = inWords(e)
    }
  },
  { immediate: true },
)

const of = (kind: string) =>
  (library.value?.versions ?? []).filter((v) => v.aircraftType === chosen.value && v.kind === kind)
const newest = (all: Version[]) => [...all].sort((a, b) => a.id.localeCompare(b.id) || b.version - a.version)
const lists = computed(() => newest(of('list')))
const layers = computed(() => newest(of('layer')))
const aids = computed(() => newest(of('aid')))
const types = computed(() => newest(of('type')))
const list = computed(() => desk.value?.lists[0])
const phases = computed(() => list.value?.phases ?? [])
const shownPhase = computed(() => phases.value[phase.value])
const aidsHere = computed(() => (desk.value?.aids ?? []).filter((a) => a.phase === shownPhase.value?.id))

/** How a version stands today: in words, and how that is drawn. */
function state(v: Version): { words: string; tone: string; shape: string } {
  const attend = { tone: 'attend', shape: '▲' }
  switch (v.standing) {
    case 'withdrawn':
      return { words: `withdrawn from ${dayWords(v.withdrawnFrom)}`, tone: 'soft', shape: '×' }
    case 'coming':
      return { words: `in force from ${dayWords(v.inForceFrom)}`, ...attend }
    case 'serving': {
      const since = v.inForceFrom ? ` since ${dayWords(v.inForceFrom)}` : ''
      return { words: `in force${since}`, tone: 'within', shape: '●' }
    }
    case 'earlier':
      return { words: 'an earlier version', tone: 'soft', shape: '○' }
  }
  return { words: statusWords[v.status]!, ...attend }
}

async function begin(kind: 'list' | 'layer' | 'aid') {
  problem.value = ''
  const name = desk.value!.type.name
  const taken = library.value!.versions.map((v) => v.id)
  const documents = {
    list: list.value as object,
    layer: {
      id: freeId(`${chosen.value}-layer`, taken),
      title: `New layer, ${name}`,
      rank: 'school',
      aircraftType: chosen.value,
      source: '',
      date: library.value!.day,
      author: session.current!.name,
      approval: '',
      changes: [],
    },
    aid: {
      id: freeId(`${chosen.value}-aid`, taken),
      title: 'New memory aid',
      aircraftType: chosen.value,
      phase: shownPhase.value?.id ?? '',
      source: '',
      letters: [],
    },
  }
  try {
    const view = await take(
      api.POST('/api/v1/library/{kind}', { params: { path: { kind } }, body: { document: documents[kind] } }),
    )
    await router.push(`/documents/${kind}/${view.id}/${view.version}`)
  } catch (e) {
    problem.value = inWords(e, 'with fields')
  }
}
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Lists</b>
      <span v-if="library" class="soft">what serves on {{ dayWords(library.day) }}</span>
      <template #side>
        <AppButton v-if="writer" class="quiet" data-action="import" @click="importing = true">
          Bring in a file
        </AppButton>
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <main v-if="library">
      <nav class="types" aria-label="Aircraft types">
        <router-link
          v-for="t in library.types"
          :key="t.id"
          :to="`/lists/${t.id}`"
          :class="{ on: t.id === chosen }"
          :data-type="t.id"
        >
          <b>{{ t.name }}</b><small class="soft">{{
            t.class ? (classWords[t.class] ?? t.class) : 'being described'
          }}</small>
        </router-link>
        <AppButton
          v-if="writer"
          class="quiet describe"
          data-action="describe-type"
          @click="describing = true"
        >
          + describe a type
        </AppButton>
      </nav>
      <div v-if="desk" class="middle">
        <section
          v-for="[kind, title, rows] in [
            ['list', 'Checklist', lists],
            ['layer', 'Layers over it', layers],
            ['aid', 'Memory aids', aids],
            ['type', 'Type data', types],
          ] as const"
          :key="kind"
          :aria-label="title"
        >
          <h2>
            {{ title }}
            <AppButton
              v-if="writer && kind !== 'type'"
              class="quiet"
              :data-action="`new-${kind}`"
              @click="begin(kind)"
            >
              {{ kind === 'list' ? 'write the next version' : '+ new' }}
            </AppButton>
          </h2>
          <router-link
            v-for="v in rows"
            :key="v.id + v.version"
            :to="`/documents/${v.kind}/${v.id}/${v.version}`"
            class="version"
            :data-version="`${v.id} ${v.version}`"
          >
            <span
              >{{ v.title
              }}<small v-if="kind === 'layer'" class="soft">{{
                rankWords[desk.layers.find((l) => l.id === v.id)?.rank ?? 'instructor']
              }}</small></span
            >
            <span class="figure">v{{ v.version }}</span>
            <span :class="['small', state(v).tone]">{{ state(v).shape }} {{ state(v).words }}</span>
          </router-link>
          <p v-if="!rows.length" class="soft">None yet.</p>
        </section>
      </div>
      <div v-if="desk && shownPhase" class="phase">
        <div class="phases" role="tablist">
          <AppButton
            v-for="(p, i) in phases"
            :key="p.id"
            role="tab"
            :aria-selected="phase === i"
            :class="['quiet', { on: phase === i }]"
            :data-phase="p.id"
            @click="phase = i"
          >
            {{ p.title }} <span class="figure small soft">{{ p.items.length }}</span>
          </AppButton>
        </div>
        <FlowMap :type="desk.type" :items="shownPhase.items" :title="shownPhase.title" />
        <section v-for="a in aidsHere" :key="a.id" class="aid">
          <b>{{ a.title }}</b>
          <p>
            <span v-for="l in a.letters" :key="l.letter + l.word"
              ><b class="figure">{{ l.letter }}</b> {{ l.word }}</span
            >
          </p>
        </section>
        <div class="items">
          <p v-for="(it, i) in shownPhase.items" :key="it.id">
            <span class="figure soft">{{ phase + 1 }}.{{ i + 1 }}</span>
            <span :class="{ critical: it.critical }">{{ it.challenge }}</span>
            <span class="soft">{{ it.response }}</span>
            <span class="small soft">{{ it.when ? `if ${desk.when[it.when]}` : '' }}</span>
          </p>
        </div>
      </div>
    </main>
    <DescribeType v-if="describing" v-model="describing" />
    <ImportDialog
      v-if="importing"
      v-model="importing"
      :kinds="['list', 'layer', 'aid', 'type']"
      words="Types, lists, layers and memory aids as YAML or JSON; lists also from a table (CSV) or a Markdown task list."
      :aircraft-type="chosen"
    />
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: 170px minmax(0, 5fr) minmax(0, 7fr);
  gap: 28px;
  padding: 12px 24px 32px;
}

.types a {
  display: block;
  text-decoration: none;
  padding: 8px 10px;
  border-left: 3px solid transparent;
  line-height: 1.25;
}

.describe {
  text-align: left;
  text-decoration: underline;
}

.types .on {
  border-color: var(--ink);
  background: var(--live);
}

small {
  display: block;
  font-size: 12px;
}

h2 {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  font-size: 18px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
  margin-top: 8px;
}

h2 button {
  min-height: 32px;
  text-decoration: underline;
  color: var(--soft);
}

.version {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 34px 150px;
  gap: 10px;
  align-items: center;
  text-decoration: none;
  min-height: 42px;
  border-bottom: 1px solid var(--fine);
  line-height: 1.2;
}

.version:hover {
  background: var(--live);
}

.phases {
  display: flex;
  flex-wrap: wrap;
  gap: 0 4px;
  border-bottom: 1px solid var(--hair);
  margin-bottom: 8px;
}

.phases button {
  min-height: 36px;
}

.aid p {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
}

.items p {
  display: grid;
  grid-template-columns: 44px minmax(0, 5fr) minmax(0, 6fr) minmax(0, 3fr);
  gap: 8px;
  border-bottom: 1px solid var(--fine);
  padding: 3px 0;
  line-height: 1.25;
}

.critical {
  font-weight: 700;
}

.notice {
  margin: 8px 24px;
}

@media (max-width: 1000px) {
  main {
    grid-template-columns: minmax(0, 1fr);
    padding: 10px 12px 24px;
  }

  .types {
    display: flex;
    flex-wrap: wrap;
  }

  .version {
    grid-template-columns: minmax(0, 1fr) 30px 120px;
  }

  .items p {
    grid-template-columns: 40px minmax(0, 1fr) minmax(0, 1fr);
  }

  .items p > :last-child {
    grid-column: 2 / -1;
  }

  h2 {
    flex-wrap: wrap;
  }
}
</style>
