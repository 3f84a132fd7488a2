<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, Refused, take, type Schemas } from '@/api/client'
import { ready, rules } from '@/rules/rules'
import BandStrip from '@/shared/BandStrip.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import StepTrace from '@/shared/StepTrace.vue'
import TopBar from '@/shared/TopBar.vue'
import { ElTable, ElTableColumn } from '@/shared/table'
import { shape } from '@/shared/words'

/** A page for each check: its rule, every type's limits, and readings to drag. */
const props = defineProps<{ check?: string }>()
const router = useRouter()
const data = shallowRef<Schemas['Reference'] | null>(null)
const problem = ref('')
const typeId = ref('')
type Reading = Record<string, unknown>
const reading = ref<Reading>({})
const attempt = ref(1)

onMounted(async () => {
  try {
    const [answer] = await Promise.all([take(api.GET('/api/v1/reference')), ready()])
    data.value = answer
    if (!props.check) await router.replace(`/reference/${answer.checks[0]!.name}`)
  } catch (e) {
    problem.value = e instanceof Refused || e instanceof Error ? e.message : String(e)
  }
})
const def = computed(() => data.value?.checks.find((c) => c.name === props.check))
const limits = computed(() => data.value?.limits[props.check ?? ''])
const types = computed(() => (data.value?.types ?? []).filter((t) => limits.value?.types.includes(t.id)))
const type = computed(() => types.value.find((t) => t.id === typeId.value) ?? types.value[0])
const example = computed(() => data.value?.examples[props.check ?? '']?.[type.value?.id ?? ''])

function reset() {
  reading.value = (example.value?.reading ?? {}) as Reading
  attempt.value = 1
}
watch(example, reset, { immediate: true })

const shown = computed(() =>
  def.value && type.value && example.value
    ? rules.show(
        def.value.name,
        type.value,
        reading.value,
        example.value.reading,
        example.value.conditions,
        attempt.value,
      )
    : null,
)

/** A usual finding, as it looks: its reading is the one to drag from. */
function look(u: { reading: Reading }) {
  reading.value = u.reading
  attempt.value = 1
  document.querySelector('.try')?.scrollIntoView({ block: 'nearest' })
}

/** A copy of the reading with one value replaced. */
function set(path: string, value: unknown) {
  const put = (of: unknown, [key, ...rest]: string[]): unknown => {
    if (key === undefined) return value
    const copy = (Array.isArray(of) ? [...of] : { ...(of as object) }) as Reading
    copy[key] = put(copy[key], rest)
    return copy
  }
  reading.value = put(reading.value, path.split('.')) as Reading
}
</script>

<template>
  <div>
    <TopBar><b>Reference</b> <span class="soft">every check as the rules have it</span></TopBar>
    <ProblemNotice v-model="problem" />
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
            <label v-for="d in shown?.drags" :key="d.path" class="drag">
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
              <b class="figure">{{ d.words }}</b>
            </label>
            <p class="flags">
              <button
                v-for="f in shown?.flags"
                :key="f.path"
                :class="{ chosen: f.on }"
                :aria-pressed="f.on"
                :data-flag="f.path"
                @click="set(f.path, !f.on)"
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
          <div v-if="shown" class="seen">
            <StepTrace v-if="shown.trace" v-bind="shown.trace" :unit="shown.unit" :wide="560" :high="240" />
            <BandStrip v-for="s in shown.strips" :key="s.label" :strip="s" />
            <div v-if="shown.tiles.length" class="tiles">
              <p v-for="t in shown.tiles" :key="t.label">
                <span class="soft">{{ t.label }}</span>
                <b class="figure number">{{ t.value }}</b>
                <span class="soft">{{ t.limit }}</span>
                <b v-if="t.words" :class="t.state">{{ shape(t.state) }} {{ t.words }}</b>
              </p>
            </div>
            <p v-if="shown.refusal" class="problem">{{ shown.refusal }}</p>
            <template v-else-if="shown.verdict">
              <h2 :class="shown.state" data-part="verdict">{{ shape(shown.state) }} {{ shown.words }}</h2>
              <p v-for="f in shown.verdict.findings" :key="f.code + f.side">{{ f.message }}</p>
              <p v-if="shown.verdict.causes.length" class="soft">
                Most often: {{ shown.verdict.causes.map((c) => c.message).join(' ') }}
              </p>
              <p v-for="a in shown.verdict.actions" :key="a.code">→ {{ a.message }}</p>
            </template>
          </div>
        </section>
        <section v-if="example?.usual.length" data-part="usual">
          <h2>What is found here, and what most often lies behind it</h2>
          <div class="usual">
            <button v-for="u in example.usual" :key="u.code" :data-usual="u.code" @click="look(u)">
              <StepTrace
                v-if="u.trace"
                v-bind="u.trace"
                :unit="shown?.unit ?? ''"
                :wide="420"
                :high="130"
                bare
              />
              <BandStrip v-else-if="u.strip" :strip="u.strip" />
              <b>{{ u.message }}</b>
              <span v-if="u.causes.length" class="soft">{{ u.causes.map((c) => c.message).join(' ') }}</span>
              <span v-for="a in u.actions" :key="a.code">→ {{ a.message }}</span>
            </button>
          </div>
        </section>
        <section v-if="limits?.rows.length" class="limits">
          <h2>Limits of each type</h2>
          <ElTable :data="limits.rows" row-key="label">
            <ElTableColumn prop="label" fixed width="210" class-name="soft" />
            <ElTableColumn v-for="(t, i) in types" :key="t.id" :label="t.name" min-width="104">
              <template #default="{ row }">
                <span class="figure">{{ row.cells[i] }}</span>
              </template>
            </ElTableColumn>
          </ElTable>
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

.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 8px;
  padding: 8px 0;
}

.tiles p {
  display: grid;
  line-height: 1.25;
}

.number {
  font-size: 26px;
}

.usual {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 12px;
  padding-top: 8px;
}

.usual button {
  display: grid;
  align-content: start;
  gap: 4px;
  text-align: left;
  padding: 10px 12px;
  border-color: var(--hair);
  background: var(--sheet);
  line-height: 1.3;
}

.try {
  display: grid;
  grid-template-columns: minmax(0, 9fr) minmax(0, 11fr);
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
