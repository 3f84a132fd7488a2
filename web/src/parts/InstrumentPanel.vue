<script setup lang="ts">
import { computed, reactive, ref, shallowRef, watch } from 'vue'

import type { Procedure, Verdict } from '../api/client'
import { rules } from '../rules/rules'
import { useLesson, type Place } from '../stores/lesson'
import BandStrip from './BandStrip.vue'
import ProcedureDialog from './ProcedureDialog.vue'
import ReadingBoxes from './ReadingBoxes.vue'
import StepTrace from './StepTrace.vue'
import VerdictSheet from './VerdictSheet.vue'
import { nextWords, outcomeWords } from '../words'
import { build, freshDraft, readingWords, stripsOf, tilesOf } from './reading'

/** The instrument of a measured item: boxes, printed scale, verdict, decision. */
const props = defineProps<{ place: Place }>()
const emit = defineEmits<{ finding: [reading: string, words: string] }>()
const lesson = useLesson()

const def = computed(() => lesson.checks.find((c) => c.name === props.place.item.check)!)
const type = computed(() => lesson.view!.book.type)
const gauges = computed(() =>
  def.value.name === 'engines-differ'
    ? Object.keys((type.value.limits['engines-differ'] ?? {}) as object).map((id) => ({
        id,
        label:
          type.value.gauges.find((g) => g.id === id)?.label ?? id.replaceAll(/([A-Z])/g, ' $1').toLowerCase(),
        unit: type.value.gauges.find((g) => g.id === id)?.unit ?? '',
      }))
    : type.value.gauges.filter((g) => props.place.item.gauges?.includes(g.id)),
)
const kept = computed(() => (lesson.state?.readings ?? []).filter((r) => r.item === props.place.item.id))
const last = computed(() => kept.value.at(-1))

const id = props.place.item.id
/** What both engines have shown so far, for the boxes that compare them. */
function known(): Record<string, string> {
  if (def.value.name !== 'engines-differ') return {}
  const out: Record<string, string> = {}
  for (const r of lesson.state?.readings ?? []) {
    const engine = ['left', 'right'][r.engine - 1]
    if (!engine) continue
    const all = { ...r.reading, ...((r.verdict?.values ?? {}) as Record<string, unknown>) }
    for (const g of gauges.value)
      if (typeof all[g.id] === 'number') out[`${g.id}.${engine}`] = String(all[g.id])
  }
  return out
}
const blank = reactive({ ...freshDraft(def.value), ...known() })
const procedure = shallowRef<Procedure | null>(null)
const entering = computed(() => !last.value || lesson.drafts[id] !== undefined)
const draft = computed(() => lesson.drafts[id] ?? blank)
watch(blank, () => (lesson.drafts[id] ??= blank))
const built = computed(() => build(def.value, draft.value, gauges.value))
const preview = shallowRef<Verdict | null>(null)
const refusal = ref('')

const conditions = computed(() => lesson.state?.opened?.conditions ?? {})
const limits = computed(() => (type.value.limits[def.value.name] ?? {}) as Record<string, unknown>)
const engine = computed(() => props.place.item.engine ?? 1)
/** What the engine beside this one last showed. */
const beside = computed(() =>
  props.place.mates
    .filter((m) => m !== props.place)
    .map((m) => ({
      engine: m.engine,
      last: (lesson.state?.readings ?? []).findLast((r) => r.item === m.item.id),
    })),
)
const attempt = computed(() => kept.value.length + 1)

watch(
  built,
  async () => {
    const b = built.value
    refusal.value = ''
    if (b.missing.length || Object.keys(b.wrong).length || !entering.value) {
      preview.value = null
      return
    }
    const request = {
      aircraftType: type.value.id,
      engine: engine.value,
      attempt: attempt.value,
      reading: b.reading,
      conditions: conditions.value,
    }
    try {
      const verdict = await rules.check(def.value.name, request)
      if (built.value === b) preview.value = verdict
    } catch (e) {
      preview.value = null
      refusal.value = e instanceof Error ? e.message : String(e)
    }
  },
  { immediate: true },
)

async function keep() {
  if (!preview.value) return
  const marks = [
    {
      kind: 'reading',
      payload: { item: id, check: def.value.name, engine: engine.value, reading: built.value.reading },
    },
  ]
  await lesson.touch(marks)
  delete lesson.drafts[id]
}

function repeat() {
  const draft = freshDraft(def.value)
  if (draft.unit !== undefined && last.value) draft.unit = String(last.value.reading.unit)
  lesson.drafts[id] = draft
}

const shown = computed(() => (entering.value ? preview.value : (last.value?.verdict ?? null)))
const reading = computed(() => (entering.value ? built.value.reading : (last.value?.reading ?? {})))
const speed = computed(() => (reading.value.unit === 'percent' ? '%' : 'rpm'))
const tiles = computed(() => (shown.value ? tilesOf(def.value, shown.value, speed.value) : []))
const strips = computed(() =>
  stripsOf(def.value, reading.value, limits.value, gauges.value, conditions.value as Record<string, unknown>),
)
const trace = computed(() => {
  const r = reading.value as Record<string, number | undefined>
  const names = {
    magneto: ['base', 'left', 'bothAfterLeft', 'right', 'bothAfterRight'],
    lanes: ['base', 'a', 'bothAfterA', 'b', 'bothAfterB'],
    propeller: ['base', 'low', 'after'],
    feather: ['base', 'low', 'after'],
    'carb-heat': ['base', 'hot', 'coldAfter'],
  }[def.value.name]
  if (!names) return null
  const top = typeof r.base === 'number' ? r.base : Number(limits.value.base ?? lessonBase.value)
  return {
    top,
    dropMax: Number(limits.value.dropMax),
    points: names.map((n) => ({
      label: def.value.fields.find((f) => f.name === n)?.label.replace(/ (again|at the end)$/, '') ?? n,
      value: typeof r[n] === 'number' ? r[n] : undefined,
    })),
  }
})
const lessonBase = computed(() =>
  Number((type.value.limits.magneto as Record<string, unknown> | undefined)?.base ?? 1800),
)
/** The verdict in the button itself: it stands where the eye already is. */
const headline = computed(() => {
  if (!preview.value) return ''
  const o = preview.value.outcome as 'normal'
  const shape = { normal: '●', caution: '▲', invalid: '▲', abnormal: '■' }[o]
  return `${shape} ${outcomeWords[o]}${o === 'normal' ? '' : `: ${nextWords[preview.value.decision as 'stop']}`}`
})
const tries = ['first try', 'second try', 'third try', 'fourth try']
</script>

<template>
  <section class="panel" :aria-label="def.title">
    <p class="title">
      <b>{{ def.title }}</b>
      <span class="soft"
        >{{ tries[(entering ? attempt : (last?.attempt ?? 1)) - 1] ?? `try ${attempt}`
        }}{{ place.engine ? `, ${place.engine} engine` : '' }}</span
      >
      <span class="soft source">limits: {{ type.source.replace('fictional type, ', '') }}</span>
    </p>
    <p v-for="b in beside" :key="b.engine" class="soft small" data-part="beside">
      {{ b.engine }} engine:
      <template v-if="b.last">
        {{ outcomeWords[b.last.verdict?.outcome as 'normal'] ?? 'not judged' }},
        <span class="mono">{{ readingWords(b.last.reading, def, gauges) }}</span></template
      >
      <template v-else>not read yet</template>
    </p>
    <template v-if="entering">
      <p v-for="k in kept" :key="k.event" class="soft small" data-part="previous">
        Try {{ k.attempt }}: {{ outcomeWords[k.verdict?.outcome as 'normal'] ?? 'not judged' }},
        <span class="mono">{{ readingWords(k.reading, def, gauges) }}</span>
      </p>
    </template>
    <StepTrace v-if="trace" v-bind="trace" :unit="speed" />
    <div v-if="strips.length && (!entering || lesson.closed)" class="strips">
      <BandStrip v-for="s in strips" :key="s.label" :strip="s" />
    </div>
    <form v-if="entering && !lesson.closed" class="entry" @submit.prevent="keep">
      <ReadingBoxes
        :key="place.item.id"
        :def="def"
        :draft="draft"
        :gauges="gauges"
        :built="built"
        :strips="strips"
        :item="place.item.id"
      />
      <p v-if="refusal" class="problem">{{ refusal }}</p>
      <button type="submit" class="primary" :disabled="!preview" data-action="keep-reading">
        <template v-if="preview">{{ headline }}. Keep this reading</template>
        <template v-else>Fill the boxes in</template><small class="mono">enter</small>
      </button>
    </form>
    <VerdictSheet
      v-if="shown"
      :verdict="shown"
      :tiles="tiles"
      :reading="entering ? undefined : last"
      :earlier="entering ? kept : kept.slice(0, -1)"
      :closed="lesson.closed"
      @repeat="repeat"
      @finding="emit('finding', last!.event, $event)"
      @procedure="procedure = $event"
    />
    <p v-else-if="!entering && last?.unusable" class="problem">{{ last.unusable }}</p>
    <p v-else class="soft rule">{{ def.rule }}</p>
    <ProcedureDialog v-if="procedure" :procedure="procedure" @done="procedure = null" />
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 10px;
}

.title {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}

.title b {
  font-size: 19px;
}

.source {
  margin-left: auto;
  font-size: 13px;
}

.strips {
  display: grid;
  gap: 2px;
}

.entry {
  display: grid;
  gap: 10px;
}

.entry .primary {
  font-size: 18px;
}

.entry .primary:not(:disabled) {
  position: sticky;
  bottom: -12px;
}

small {
  font-weight: 400;
  font-size: 12px;
  margin-left: 12px;
  opacity: 0.8;
}
</style>
