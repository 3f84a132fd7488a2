<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas, SchoolView } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import StandingBar from '@/shared/StandingBar.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { count as countOf, classWords, dayWords, standings, standingWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

const session = useSession()
const view = ref<SchoolView | null>(null)
const { problem, tried } = useTrying()
const sort = ref<keyof typeof orders>('soon')

function load() {
  return tried(async () => {
    view.value = await take(api.GET('/api/v1/school'))
  })
}
onMounted(load)

type Row = Schemas['SchoolStudent']
const orders = {
  soon: (a: Row, b: Row) => a.inTheWay - b.inTheWay,
  blocked: (a: Row, b: Row) => b.inTheWay - a.inTheWay,
  stuck: (a: Row, b: Row) => Number(!!b.stuck) - Number(!!a.stuck) || a.inTheWay - b.inTheWay,
  name: (a: Row, b: Row) => a.student.name.localeCompare(b.student.name),
  last: (a: Row, b: Row) => b.last.localeCompare(a.last),
}
/** Of which class, of whose students and of which base the sheet is. */
const only = ref('')
const whose = ref('')
const where = ref('')
const bases = computed(() =>
  [...new Set((view.value?.groups ?? []).flatMap((g) => g.students.map((s) => s.base)))]
    .filter(Boolean)
    .toSorted(),
)
const instructors = computed(() =>
  [
    ...new Map(
      (view.value?.groups ?? []).flatMap((g) =>
        g.students.map((s) => [s.student.instructorId, s.student.instructor] as const),
      ),
    ),
  ].toSorted((a, b) => a[1].localeCompare(b[1])),
)
/** A column is as wide as its bars, and as the longest word above them. */
const width = (c: Schemas['SchoolColumn']) =>
  Math.max(c.elements.length * 15, ...c.title.split(' ').map((word) => word.length * 8))
/** Each class with its students in order, and where each column's elements begin. */
const groups = computed(() =>
  (view.value?.groups ?? [])
    .filter((g) => !only.value || g.class === only.value)
    .map((g) => {
      let at = 0
      const columns = g.columns.map((c) => {
        const from = at
        at += c.elements.length
        return { ...c, from }
      })
      return {
        class: g.class,
        columns,
        rows: g.students
          .filter((s) => !whose.value || s.student.instructorId === whose.value)
          .filter((s) => !where.value || s.base === where.value)
          .sort(orders[sort.value]),
        template: `180px ${columns.map((c) => `${width(c)}px`).join(' ')} 76px 64px`,
      }
    }),
)
const count = computed(() => groups.value.reduce((n, g) => n + g.rows.length, 0))
const stuck = computed(() => groups.value.reduce((n, g) => n + g.rows.filter((s) => s.stuck).length, 0))
const filtered = computed(() => only.value || whose.value || where.value)
/** What the finger or the pointer is on, in words: of whom, and what its shape says. */
const told = ref<{ who: string; standing?: string; words: string } | null>(null)
function tell(e: PointerEvent, s: Row, g: { columns: { elements: string[] }[] }) {
  const cell = (e.target as Element).closest<HTMLElement>('[data-cell]')
  if (!cell) return
  const nth = Number(cell.dataset.cell)
  const who = s.student.name
  if (cell.dataset.cell === 'way') told.value = { who, words: s.blocks.join(' ') }
  else {
    const standing = s.standings[nth] ?? 'not seen'
    const element = g.columns.flatMap((c) => c.elements)[nth]
    told.value = { who, standing, words: `${element}: ${standingWords[standing]}` }
  }
}
/** A finger on a cell asks what it is; the student opens by the name. */
function opens(e: MouseEvent) {
  const touched = (e as PointerEvent).pointerType === 'touch'
  if (touched && (e.target as Element).closest('[data-cell]')) e.preventDefault()
}
const sorts = [
  ['soon', 'soon ready'],
  ['blocked', 'most in the way'],
  ['stuck', 'stuck'],
  ['name', 'name'],
  ['last', 'last lesson'],
] as const
</script>

<template>
  <div class="place">
    <TopBar>
      <b>School</b>
      <span v-if="view" class="soft"
        >{{ countOf(count, 'student') }}, standing as of {{ dayWords(view.asOf)
        }}{{ stuck ? `, ${stuck} stuck` : '' }}</span
      >
    </TopBar>
    <ProblemNotice v-model="problem" />
    <p v-if="view && !count && !filtered" class="soft said">No student is enrolled yet.</p>
    <p v-if="view && (filtered || count)" class="filters">
      <SearchSelect
        v-model="only"
        name="class"
        label="class"
        none="every class"
        :options="view.groups.map((g) => [g.class, classWords[g.class] ?? g.class] as const)"
      />
      <SearchSelect
        v-model="whose"
        name="whose"
        label="instructor"
        none="every instructor"
        :options="instructors"
      />
      <SearchSelect
        v-if="bases.length > 1"
        v-model="where"
        name="where"
        label="base"
        none="every base"
        :options="bases.map((b) => [b, b] as const)"
      />
      <span class="sorts">
        <span class="soft">sort</span>
        <AppButton
          v-for="[key, words] in sorts"
          :key="key"
          :class="['quiet', { on: sort === key }]"
          :data-sort="key"
          @click="sort = key"
        >
          {{ words }}
        </AppButton>
      </span>
    </p>
    <p v-if="view && filtered && !count" class="soft said">Nobody is all of this.</p>
    <main v-if="view && count">
      <section
        v-for="g in groups.filter((g) => g.rows.length)"
        :key="g.class"
        :aria-label="classWords[g.class] ?? g.class"
      >
        <h2>{{ classWords[g.class] ?? g.class }}</h2>
        <div class="row head soft small" :style="{ gridTemplateColumns: g.template }">
          <span></span>
          <span v-for="c in g.columns" :key="c.title" class="column">{{ c.title }}</span>
          <span>in the way</span>
          <span>last</span>
        </div>
        <router-link
          v-for="s in g.rows"
          :key="s.student.id"
          :to="`/students/${s.student.id}`"
          class="row"
          :style="{ gridTemplateColumns: g.template }"
          :data-student="s.student.id"
          @pointerover="tell($event, s, g)"
          @pointerdown="tell($event, s, g)"
          @click.capture="opens"
        >
          <span
            >{{ s.student.name
            }}<small class="soft">{{ s.student.instructor }}, {{ countOf(s.lessons, 'lesson') }}</small
            ><small v-if="s.stuck" class="attend" :title="s.stuck" data-stuck>▲ stuck</small></span
          >
          <span v-for="c in g.columns" :key="c.title" class="strip" :data-title="c.title">
            <StandingBar
              v-for="(text, i) in c.elements"
              :key="text"
              :standing="s.standings[c.from + i] ?? 'not seen'"
              :title="`${text}: ${standingWords[s.standings[c.from + i] ?? 'not seen']}`"
              :data-cell="c.from + i"
              :size="14"
            />
          </span>
          <b v-if="s.ready" class="within way">ready</b>
          <b v-else class="way" data-cell="way">{{ s.inTheWay }}</b>
          <span class="figure small last">{{ s.last ? dayWords(s.last) : 'none' }}</span>
        </router-link>
      </section>
    </main>
    <p v-if="told" class="told" data-part="told">
      <b>{{ told.who }}</b>
      <StandingBar v-if="told.standing" :standing="told.standing" :size="14" />
      {{ told.words }}
    </p>
    <footer v-if="view">
      <span v-for="k in standings" :key="k.id" class="kind"
        ><StandingBar :standing="k.id" /> {{ k.words }}</span
      >
      <span class="tools">
        <a v-if="session.may('export-school')" href="/api/v1/school.csv" download>Export the table</a>
        <router-link v-if="session.may('outlook')" to="/outlook" data-action="outlook">Outlook</router-link>
        <router-link v-if="session.may('taught')" to="/taught" data-action="taught"
          >What we teach badly</router-link
        >
        <router-link v-if="session.may('compare')" to="/compare" data-action="compare"
          >Instructors compared</router-link
        >
        <router-link v-if="session.may('add-draft')" to="/standards" data-action="standards"
          >Standards</router-link
        >
      </span>
      <p v-for="n in view.notes" :key="n" class="soft small">{{ n }}</p>
    </footer>
  </div>
</template>

<style scoped>
.place {
  min-height: 100%;
  display: flex;
  flex-direction: column;
}

main {
  flex: 1;
  padding: 10px 24px;
  overflow-x: auto;
}

.filters {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 8px 16px;
  padding: 10px 24px 0;
}

.filters > :not(.sorts) {
  width: 240px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  margin-top: 10px;
}

.row {
  display: grid;
  gap: 14px;
  align-items: end;
  min-height: 52px;
  padding: 6px 0;
  text-decoration: none;
  border-bottom: 1px solid var(--fine);
  min-width: max-content;
}

a.row:hover,
a.row:focus-visible {
  background: var(--live);
}

.head {
  min-height: 30px;
  border-bottom: 0;
}

.column {
  border-bottom: 1px solid var(--soft);
  line-height: 1.2;
}

.strip {
  display: flex;
  gap: 1px;
}

small {
  display: block;
  line-height: 1.2;
}

.on {
  font-weight: 700;
  color: var(--ink) !important;
}

.told {
  position: sticky;
  bottom: 0;
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
  padding: 6px 24px;
  background: var(--live);
}

.told b {
  flex: none;
}

footer {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  align-items: center;
  padding: 12px 24px;
  border-top: 1px solid var(--hair);
}

.kind {
  display: flex;
  gap: 6px;
  align-items: end;
}

.tools {
  margin-left: auto;
  display: flex;
  gap: 18px;
}

footer p {
  width: 100%;
}

@media (max-width: 700px) {
  main {
    padding: 4px 12px;
  }

  .head {
    display: none;
  }

  .row {
    grid-template-columns: minmax(0, 1fr) auto auto !important;
    gap: 4px 14px;
    min-width: 0;
    align-items: center;
    padding: 10px 0;
  }

  .way {
    order: 1;
    font-size: 18px;
  }

  .way:not(.within)::after {
    content: ' in the way';
    font-size: 13px;
    font-weight: 400;
  }

  .last {
    order: 2;
  }

  .strip {
    order: 3;
    grid-column: 1 / -1;
    align-items: end;
    flex-wrap: wrap;
  }

  .strip::before {
    content: attr(data-title);
    flex: none;
    width: 128px;
    font-size: 13px;
    line-height: 1.15;
    color: var(--soft);
  }
}

.said,
.place > .notice {
  margin: 10px 24px;
}
</style>
