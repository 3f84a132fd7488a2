<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, Refused, take, type Schemas, type Verdict } from '../api/client'
import BandStrip from '../parts/BandStrip.vue'
import TopBar from '../parts/TopBar.vue'
import { stripsOf, tilesOf } from '../parts/reading'
import { rules } from '../rules/rules'
import { nextWords, outcomeWords } from '../words'

/** A page for each check: its rule, every type's limits, and readings to drag. */
const props = defineProps<{ check?: string }>()
const router = useRouter()
const data = shallowRef<Schemas['Reference'] | null>(null)
const problem = ref('')
const typeId = ref('')
const reading = reactive<Record<string, unknown>>({})
const attempt = ref(1)
const verdict = shallowRef<Verdict | null>(null)
const refusal = ref('')

onMounted(async () => {
  try {
    data.value = await take(api.GET('/api/v1/reference'))
    if (!props.check) await router.replace(`/reference/${data.value.checks[0]!.name}`)
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})
const def = computed(() => data.value?.checks.find((c) => c.name === props.check))
const types = computed(() => (data.value?.types ?? []).filter((t) => t.limits[props.check ?? '']))
const type = computed(() => types.value.find((t) => t.id === typeId.value) ?? types.value[0])
const limits = computed(() => (type.value?.limits[props.check ?? ''] ?? {}) as Record<string, unknown>)
const example = computed(() => data.value?.examples[props.check ?? '']?.[type.value?.id ?? ''])

function reset() {
  Object.keys(reading).forEach((k) => delete reading[k])
  Object.assign(reading, structuredClone(JSON.parse(JSON.stringify(example.value?.reading ?? {})) as object))
  attempt.value = 1
}
watch(example, reset, { immediate: true })
watch(
  [reading, attempt, type],
  async () => {
    if (!def.value || !type.value || !Object.keys(reading).length) return
    try {
      verdict.value = await rules.judge(
        def.value.name,
        {
          aircraftType: type.value.id,
          attempt: attempt.value,
          reading: JSON.parse(JSON.stringify(reading)) as object,
          conditions: example.value?.conditions ?? {},
        },
        type.value,
      )
      refusal.value = ''
    } catch (e) {
      refusal.value = e instanceof Error ? e.message : String(e)
    }
  },
  { deep: true, immediate: true },
)

const gauges = computed(() =>
  Object.keys(def.value?.namedReading ? reading : {}).map((id) => {
    const g = type.value?.gauges.find((o) => o.id === id)
    return { id, label: g?.label ?? id.replaceAll(/([A-Z])/g, ' $1').toLowerCase(), unit: g?.unit ?? '' }
  }),
)
const speed = computed(() => (reading.unit === 'percent' ? '%' : 'rpm'))
const strips = computed(() =>
  def.value
    ? stripsOf(
        def.value,
        reading,
        limits.value,
        gauges.value,
        (example.value?.conditions ?? {}) as Record<string, unknown>,
      )
    : [],
)
const tiles = computed(() =>
  def.value && verdict.value ? tilesOf(def.value, verdict.value, speed.value) : [],
)

/** Every number of the reading with a range to drag it through. */
type Drag = {
  path: string
  label: string
  unit: string
  value: number
  min: number
  max: number
  step: number
}
const drags = computed<Drag[]>(() => {
  const out: Drag[] = []
  const add = (path: string, label: string, unit: string, value: unknown, step: number) => {
    if (typeof value !== 'number') return
    const strip = strips.value.find((s) => s.path === path)
    const start = get(example.value?.reading ?? {}, path)
    const middle = typeof start === 'number' ? start : value
    const ends = [strip?.min, strip?.max, strip?.low, strip?.high, middle].filter((n) => n !== undefined)
    const [low, high] = [Math.min(...ends), Math.max(...ends)]
    const room = Math.max((high - low) * 0.4, Math.abs(middle) * 0.12, 2 * step)
    out.push({
      path,
      label,
      unit,
      value,
      min: Math.max(path.includes('Ft') ? -999 : 0, low - room),
      max: high + room,
      step,
    })
  }
  if (def.value?.namedReading)
    for (const g of gauges.value) {
      if (def.value.namedReading.each?.length)
        for (const f of def.value.namedReading.each)
          add(`${g.id}.${f.name}`, `${g.label}, ${f.name}`, g.unit, get(reading, `${g.id}.${f.name}`), 0.1)
      else add(g.id, g.label, g.unit, reading[g.id], 0.1)
    }
  for (const f of def.value?.fields ?? []) {
    const unit = f.unit === 'speed' ? speed.value : (f.unit ?? '')
    const step = f.unit === 'speed' ? (speed.value === '%' ? 0.1 : 1) : 1 / 10 ** f.decimals
    if (f.kind === 'number') add(f.name, f.label, unit, reading[f.name], step)
    if (f.kind === 'rows' && Array.isArray(reading[f.name]))
      (reading[f.name] as unknown[]).forEach((_, i) =>
        f.each?.forEach((inner) =>
          add(
            `${f.name}.${i}.${inner.name}`,
            inner.label,
            inner.unit ?? '',
            get(reading, `${f.name}.${i}.${inner.name}`),
            1 / 10 ** inner.decimals,
          ),
        ),
      )
  }
  return out
})
const flags = computed(() => (def.value?.fields ?? []).filter((f) => f.kind === 'flag'))

function get(of: unknown, path: string): unknown {
  return path.split('.').reduce<unknown>((o, k) => (o as Record<string, unknown> | undefined)?.[k], of)
}
function set(path: string, value: number) {
  const keys = path.split('.')
  const last = keys.pop()!
  const at = keys.length ? (get(reading, keys.join('.')) as Record<string, unknown>) : reading
  at[last] = value
}
const limitNames = computed(() => {
  const names = new Map<string, string>()
  for (const l of def.value?.limits ?? [])
    names.set(l.name, `${l.label}${l.unit && l.unit !== 'speed' ? `, ${l.unit}` : ''}`)
  if (def.value?.namedLimits)
    for (const t of types.value)
      for (const k of Object.keys(t.limits[props.check!] as object))
        names.set(k, k.replaceAll(/([A-Z])/g, ' $1').toLowerCase())
  return [...names]
})
const cell = (t: Schemas['AircraftType'], name: string) => {
  const v = (t.limits[props.check ?? ''] as Record<string, unknown>)[name]
  if (v === undefined) return ''
  if (typeof v !== 'object' || v === null) return String(v)
  const o = v as Record<string, number>
  return o.apartMax !== undefined
    ? String(o.apartMax)
    : `${o.min ?? ''} … ${o.cautionMin ?? ''} – ${o.cautionMax ?? ''} … ${o.max ?? ''}`
}
const tone = computed(
  () =>
    ({ normal: 'within', caution: 'attend', invalid: 'attend', abnormal: 'out' })[
      (verdict.value?.outcome ?? 'normal') as 'normal'
    ],
)
</script>

<template>
  <div>
    <TopBar><b>Reference</b> <span class="soft">every check as the rules have it</span></TopBar>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <main v-if="data && def">
      <nav aria-label="Checks">
        <router-link
          v-for="c in data.checks"
          :key="c.name"
          :to="`/reference/${c.name}`"
          :data-check="c.name"
          >{{ c.title }}</router-link
        >
      </nav>
      <article>
        <h1>{{ def.title }}</h1>
        <p class="rule">{{ def.rule }}</p>
        <div class="types">
          <button
            v-for="t in types"
            :key="t.id"
            :class="['quiet', { on: t.id === type?.id }]"
            :data-type="t.id"
            @click="typeId = t.id"
          >
            {{ t.name }}
          </button>
        </div>
        <section class="try" aria-label="Try it">
          <div class="drags">
            <label v-for="d in drags" :key="d.path" class="drag">
              <span>{{ d.label }}</span>
              <input
                type="range"
                :name="d.path"
                :min="d.min"
                :max="d.max"
                :step="d.step"
                :value="d.value"
                @input="set(d.path, Number(($event.target as HTMLInputElement).value))"
              />
              <b class="mono">{{ d.value }} {{ d.unit }}</b>
            </label>
            <p class="flags">
              <button
                v-for="f in flags"
                :key="f.name"
                :class="{ chosen: reading[f.name] === true }"
                :aria-pressed="reading[f.name] === true"
                :data-flag="f.name"
                @click="reading[f.name] = reading[f.name] !== true"
              >
                {{ f.label }}
              </button>
              <button
                :class="{ chosen: attempt > 1 }"
                data-action="second"
                @click="attempt = attempt > 1 ? 1 : 2"
              >
                second try
              </button>
              <button class="quiet" data-action="reset" @click="reset">as at first</button>
            </p>
            <p class="soft small">Drag a reading and watch the verdict.</p>
          </div>
          <div class="seen">
            <BandStrip v-for="s in strips" :key="s.label" :strip="s" />
            <p v-for="t in tiles" :key="t.label">
              {{ t.label }} <b class="mono">{{ t.value }}</b> <span class="soft">{{ t.of }}</span>&ensp;<b
                :class="t.tone"
                >{{ t.word }}</b
              >
            </p>
            <p v-if="refusal" class="problem">{{ refusal }}</p>
            <template v-else-if="verdict">
              <h2 :class="tone" data-part="verdict">
                {{ { within: '●', attend: '▲', out: '■' }[tone as 'within'] }}
                {{ outcomeWords[verdict.outcome as 'normal']
                }}{{ verdict.outcome === 'normal' ? '' : `: ${nextWords[verdict.decision as 'stop']}` }}
              </h2>
              <p v-for="f in verdict.findings" :key="f.code + f.side">{{ f.message }}</p>
              <p v-if="verdict.causes.length" class="soft">
                Most often: {{ verdict.causes.map((c) => c.message).join(' ') }}
              </p>
              <p v-for="a in verdict.actions" :key="a.code">→ {{ a.message }}</p>
            </template>
          </div>
        </section>
        <section v-if="limitNames.length" class="limits">
          <h2>Limits of each type</h2>
          <table class="plain">
            <thead>
              <tr>
                <th></th>
                <th v-for="t in types" :key="t.id">{{ t.name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="[name, words] in limitNames" :key="name">
                <th class="soft">{{ words }}</th>
                <td v-for="t in types" :key="t.id" class="mono">{{ cell(t, name) }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="example?.usual.length" data-part="usual">
          <h2>What is found here, and what most often lies behind it</h2>
          <p v-for="u in example.usual" :key="u.code">
            <b>{{ u.message }}</b>{{ ' '
            }}<span v-if="u.causes.length" class="soft"> {{ u.causes.map((c) => c.message).join(' ') }}</span>
            <template v-for="a in u.actions" :key="a.code"> → {{ a.message }}</template>
          </p>
        </section>
        <p class="soft small">
          The approved handbook has the limits; these are the data’s. A licensed person decides.
        </p>
      </article>
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 28px;
  padding: 10px 24px 32px;
}

nav a {
  display: block;
  text-decoration: none;
  padding: 4px 8px;
  border-left: 3px solid transparent;
}

nav .router-link-active {
  border-color: var(--ink);
  background: var(--live);
  font-weight: 700;
}

h1 {
  font-size: 26px;
  font-weight: 700;
}

h2 {
  font-size: 19px;
  font-weight: 700;
  margin-top: 10px;
}

.rule {
  font-size: 18px;
  max-width: 70ch;
}

.try {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
  background: var(--sheet);
  border: 1px solid var(--hair);
  padding: 12px 16px;
}

.drag {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr) 110px;
  gap: 10px;
  align-items: center;
  min-height: 40px;
}

.drag b {
  text-align: right;
}

input[type='range'] {
  accent-color: var(--ink);
  min-height: 40px;
}

.flags {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.flags button {
  min-height: 40px;
  padding: 2px 10px;
  border-color: var(--hair);
}

.limits {
  overflow-x: auto;
}

@media (max-width: 900px) {
  main,
  .try {
    grid-template-columns: minmax(0, 1fr);
  }

  main {
    padding: 8px 12px 24px;
  }

  nav {
    columns: 2;
  }
}
</style>
