<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import DeferDialog from '@/fleet/DeferDialog.vue'
import DeferralLine from '@/fleet/DeferralLine.vue'
import RunDialog from '@/fleet/RunDialog.vue'
import FindingBehind from '@/lesson/FindingBehind.vue'
import SeriesChart from '@/fleet/SeriesChart.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import ReturnDialog from '@/fleet/ReturnDialog.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { dayWords, decisionWords, shape } from '@/shared/words'

/** One aircraft: what is read on it again and again, where that goes, and what stands open. */
const props = defineProps<{ registration: string }>()
const session = useSession()
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['AircraftTrends'] | null>(null)
const chosen = ref('')
const load = () =>
  tried(async () => {
    const params = { path: { registration: props.registration } }
    view.value = await take(api.GET('/api/v1/aircraft/{registration}/trends', { params }))
    chosen.value ||= view.value.series[0]?.id ?? ''
  })
onMounted(load)
type Series = Schemas['CompareSeries']
const series = computed(() => view.value?.series ?? [])
const shown = computed(() => series.value.find((s) => s.id === chosen.value) ?? null)
const newest = (s: Series) => s.points.at(-1)!.value
const figures = (v: number) => Number(v.toPrecision(5)).toString()
const limits = (s: Series) =>
  s.low !== undefined && s.high !== undefined
    ? `, ${figures(s.low)} to ${figures(s.high)}`
    : s.high !== undefined
      ? ` of ${figures(s.high)}`
      : `, at least ${figures(s.low!)}`
/** A strip of the values, between the limits where there are both. */
function spark(s: Series) {
  const values = s.points.map((p) => p.value)
  const all = [...values, ...[s.low, s.high].filter((v) => v !== undefined)]
  const [from, to] = [Math.min(...all), Math.max(...all)]
  const y = (v: number) => 3 + (18 * (to - v)) / (to - from || 1)
  const x = (i: number) => 2 + (196 * i) / Math.max(1, values.length - 1)
  return values.map((v, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`).join(' ')
}
/** The aircraft of the type side by side on the chosen number. */
const alike = computed(() => {
  const s = shown.value
  if (!s || !view.value) return []
  const own = { registration: view.value.registration, value: s.points.at(-1)!.average, own: true }
  const others = view.value.alike
    .filter((a) => a.newest[s.id] !== undefined)
    .map((a) => ({ registration: a.registration, value: a.newest[s.id]!, own: false }))
  const all = [own, ...others].sort((a, b) => a.registration.localeCompare(b.registration))
  const ends = [...all.map((a) => a.value), ...[s.low, s.high].filter((v) => v !== undefined)]
  const [from, to] = [Math.min(...ends), Math.max(...ends)]
  const at = (v: number) => 4 + (92 * (v - from)) / (to - from || 1)
  return all.map((a) => ({
    ...a,
    at: at(a.value),
    limits: [s.low, s.high].filter((v) => v !== undefined).map(at),
  }))
})
const open = computed(() => view.value?.findings.filter((f) => f.condition !== 'closed') ?? [])
const closed = computed(() => view.value?.findings.filter((f) => f.condition === 'closed') ?? [])
const returning = shallowRef<Schemas['StoreFinding'] | null>(null)
const deferring = shallowRef<Schemas['StoreFinding'] | null>(null)
/** A maintenance run is asked for, here or by a link that names the finding. */
const route = useRoute()
const router = useRouter()
const running = ref(false)
const about = shallowRef<Schemas['StoreFinding'] | undefined>()
function begin(f?: Schemas['StoreFinding']) {
  returning.value = null
  about.value = f
  running.value = true
}
watch(
  () => [route.query.run, view.value] as const,
  ([event, shown]) => {
    if (!event || !shown || !session.may('open-run')) return
    begin(shown.findings.find((f) => f.event === event))
    void router.replace({ query: {} })
  },
)
const print = () => window.print()
</script>

<template>
  <div class="place">
    <TopBar>
      <router-link to="/aircraft" class="back" aria-label="Back">‹</router-link>
      <b class="figure">{{ registration }}</b>
      <span v-if="view" class="soft"
        >{{ view.typeName }}, {{ view.base
        }}<template v-if="view.hours !== undefined">, {{ view.hours.toFixed(1) }} h</template></span
      >
      <template #side
        ><router-link
          v-if="session.may('read-recording')"
          :to="`/aircraft/${registration}/recorder`"
          data-action="recorder"
          >Engine recorder</router-link
        >
        <AppButton v-if="session.may('open-run')" class="quiet" data-action="run" @click="begin()">
          Maintenance run
        </AppButton>
        <a :href="`/api/v1/aircraft/${registration}/readings.csv`" download>Export</a>
        <AppButton class="quiet" @click="print">Print</AppButton></template
      >
    </TopBar>
    <ProblemNotice v-model="problem" />
    <ReturnDialog
      v-if="returning"
      :finding="returning"
      :model-value="true"
      @update:model-value="returning = null"
      @returned="load"
    />
    <RunDialog v-if="running" v-model="running" :registration="registration" :finding="about" />
    <DeferDialog
      v-if="deferring"
      :finding="deferring"
      :model-value="true"
      @update:model-value="deferring = null"
      @kept="load"
    />
    <main v-if="view" class="sided">
      <section>
        <template v-if="shown">
          <h2>
            {{ shown.title }}, {{ shown.label
            }}<template v-if="(shown.engine ?? 1) > 1"> {{ shown.engine }}</template>
          </h2>
          <SeriesChart :key="shown.id" :series="shown" />
          <p :class="['says', shown.state]" data-part="trend">
            <b>{{ shape(shown.state) }} {{ shown.words }}</b> {{ shown.long }}
          </p>
        </template>
        <p v-else class="soft">
          Nothing was measured on this aircraft yet: the readings of its lessons come here as soon as a lesson
          is over.
        </p>
        <template v-if="series.length">
          <h3 class="ruled">Every repeated reading</h3>
          <AppButton
            v-for="s in series"
            :key="s.id"
            class="row"
            :data-series="s.id"
            :aria-pressed="s.id === chosen"
            @click="chosen = s.id"
          >
            <span
              >{{ s.label }}
              <small class="soft"
                >{{ s.title }}{{ s.item === s.check ? '' : `, ${s.item.replaceAll('-', ' ')}` }}</small
              ></span
            >
            <b class="figure"
              >{{ figures(newest(s)) }}<span class="soft">{{ limits(s) }} {{ s.unit }}</span></b
            >
            <svg viewBox="0 0 200 24" preserveAspectRatio="none" aria-hidden="true">
              <rect width="200" height="24" class="band" />
              <path :d="spark(s)" :class="s.state" />
            </svg>
            <span :class="s.state" class="small">{{ shape(s.state) }} {{ s.words }}</span>
          </AppButton>
        </template>
      </section>
      <aside>
        <h3 class="ruled">Open</h3>
        <p v-if="!open.length" class="within">● nothing stands open</p>
        <p v-for="f in open" :key="f.event" data-part="finding">
          <b>{{ f.words }}</b>
          <span class="soft small block">
            <router-link :to="`/lessons/${f.lesson}/debrief`">{{ dayWords(f.on) }}</router-link>,
            {{ decisionWords[f.decision] ?? 'no decision yet'
            }}<template v-if="f.told">, told {{ f.told }}</template
            ><template v-if="f.why">: {{ f.why }}</template>
          </span>
          <FindingBehind :lesson="f.lesson" :words="f.words" :tries="f.tries" :pictures="f.pictures" />
          <DeferralLine :finding="f" />
          <AppButton
            v-if="session.may('defer-finding') && f.deferrable"
            class="quiet"
            :data-defer="f.event"
            @click="deferring = f"
          >
            {{ f.until ? 'Another limit' : 'Until when' }}
          </AppButton>
          <AppButton v-if="session.may('open-run')" class="quiet" :data-run="f.event" @click="begin(f)">
            Measure it again
          </AppButton>
          <AppButton
            v-if="session.may('return-aircraft')"
            class="quiet"
            :data-return="f.event"
            @click="returning = f"
          >
            {{ f.grounds ? 'Return to service' : 'It is done: close it' }}
          </AppButton>
        </p>
        <template v-if="view.runs.length">
          <h3 class="ruled">Maintenance runs</h3>
          <p v-for="r in view.runs" :key="r.id">
            <router-link :to="r.status === 'open' ? `/lessons/${r.id}` : `/lessons/${r.id}/debrief`"
              >{{ dayWords(r.openedAt.slice(0, 10)) }}, {{ r.instructor }}</router-link
            >
            <span :class="r.status === 'signed' ? 'soft' : 'attend'">{{
              r.status === 'signed' ? ' signed' : ' ▲ not signed'
            }}</span>
          </p>
        </template>
        <template v-if="closed.length">
          <h3 class="ruled">What came back</h3>
          <p v-for="f in closed.slice(0, 10)" :key="f.event">
            {{ f.words }}
            <span class="soft small block"
              >{{ f.returnedBy }}: {{ f.returned }}; tested again:
              <router-link v-if="f.run" :to="`/lessons/${f.run}/debrief`">{{
                f.retest
              }}</router-link><template v-else>{{ f.retest }}</template></span
            >
          </p>
        </template>
        <template v-if="alike.length > 1">
          <h3 class="ruled">The {{ view.typeName }}s side by side</h3>
          <div v-for="a in alike" :key="a.registration" class="alike">
            <component
              :is="a.own ? 'b' : 'router-link'"
              :to="a.own ? undefined : `/aircraft/${a.registration}`"
              class="figure"
              >{{ a.registration }}</component
            >
            <svg viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
              <line x1="0" x2="100" y1="10" y2="10" class="grid" />
              <line v-for="l in a.limits" :key="l" :x1="l" :x2="l" y1="1" y2="19" class="limit" />
              <line :x1="a.at" :x2="a.at" y1="3" y2="17" :class="['tick', { own: a.own }]" />
            </svg>
            <span class="figure">{{ figures(Number(a.value.toPrecision(3))) }}</span>
          </div>
          <p class="soft small">the weighted average of each now</p>
        </template>
        <p class="soft small">{{ view.caution }}</p>
      </aside>
    </main>
  </div>
</template>

<style scoped>
.back {
  font-size: 24px;
  text-decoration: none;
}

h2 {
  font-size: 18px;
  font-weight: 700;
}

h3 {
  margin-top: 8px;
}

.says b {
  font-size: 18px;
}

.row {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1.2fr) minmax(0, 1fr) 130px;
  gap: 12px;
  align-items: center;
  width: 100%;
  min-height: 44px;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--fine);
  padding: 2px 0;
  line-height: 1.2;
}

.row[aria-pressed='true'] {
  background: var(--live);
}

.row small {
  display: block;
}

.row b span {
  font-weight: 400;
}

.row svg {
  width: 100%;
  height: 26px;
}

.band {
  fill: var(--within);
  opacity: 0.12;
}

path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}

path.attend {
  stroke: var(--attend);
}

path.out {
  stroke: var(--out);
}

.alike {
  display: grid;
  grid-template-columns: 80px minmax(0, 1fr) 50px;
  gap: 10px;
  align-items: center;
}

.alike svg {
  width: 100%;
  height: 26px;
}

.alike line {
  vector-effect: non-scaling-stroke;
}

.grid {
  stroke: var(--fine);
}

.limit {
  stroke: var(--out);
  stroke-width: 2;
}

.tick {
  stroke: var(--ink);
  stroke-width: 4;
}

.tick.own {
  stroke: var(--attend);
}

.block {
  display: block;
}

/* What stands open comes before thirty readings. */
@media (max-width: 1000px) {
  aside {
    order: -1;
  }
}

@media (max-width: 600px) {
  .row {
    grid-template-columns: minmax(0, 1fr) auto;
  }

  .row > svg {
    grid-column: 1 / -1;
    order: 3;
  }

  .row > .small {
    grid-column: 1 / -1;
  }
}
</style>
