<script setup lang="ts">
import Sortable from 'sortablejs'
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { DeskView, Item, List, Problem } from '@/schema/schemas'
import ConditionWords from '@/lists/ConditionWords.vue'
import ListPhase from '@/lists/ListPhase.vue'
import { put } from '@/shared/edit'

/** A list being written: phases and items, by pointer or by keys. */
const props = defineProps<{ list: List; desk: DeskView; problems: Problem[]; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, list: List] }>()
const chosen = ref('')
const root = ref<HTMLElement>()

/** The problems by phase, item and field; a phase whose problems stay keeps its map. */
let kept = new Map<number, { text: string; problems: Map<number, Record<string, string>> }>()
const problemsOf = computed(() => {
  const found = new Map<number, Map<number, Record<string, string>>>()
  for (const f of props.problems) {
    const m = /^\$\.phases\[(\d+)\]\.items\[(\d+)\](?:\.(\w+))?/.exec(f.field)
    if (!m) continue
    const [p, i] = [Number(m[1]), Number(m[2])]
    const phase = found.get(p) ?? new Map<number, Record<string, string>>()
    phase.set(i, { ...phase.get(i), [m[3] ?? 'item']: f.reason })
    found.set(p, phase)
  }
  const next: typeof kept = new Map()
  for (const [p, problems] of found) {
    const text = JSON.stringify([...problems])
    const before = kept.get(p)
    next.set(p, before?.text === text ? before : { text, problems })
  }
  kept = next
  return next
})
const others = computed(() => props.problems.filter((f) => !/\.items\[\d+\]/.test(f.field)))
const before = computed(() => {
  const out: { id: string; challenge: string }[] = []
  for (const phase of props.list.phases)
    for (const item of phase.items) {
      if (item.id === chosen.value) return out
      out.push({ id: item.id, challenge: item.challenge })
    }
  return []
})
const none: { id: string; challenge: string }[] = []

function set(p: number, i: number, field: string, value: unknown) {
  const id = props.list.phases[p]!.items[i]!.id
  emit('change', `${id} ${field}`, put(props.list, ['phases', p, 'items', i, field], value))
}

/** Takes an item out of its place and puts it at another. */
function shift(fromPhase: number, from: number, toPhase: number, to: number) {
  const item = props.list.phases[fromPhase]!.items[from]!
  let next = put(
    props.list,
    ['phases', fromPhase, 'items'],
    props.list.phases[fromPhase]!.items.filter((_, i) => i !== from),
  )
  next = put(next, ['phases', toPhase, 'items'], next.phases[toPhase]!.items.toSpliced(to, 0, item))
  emit('change', `place of ${item.id}`, next)
}

async function move(p: number, i: number, by: number) {
  const items = props.list.phases[p]!.items
  const to = i + by
  if (to >= 0 && to < items.length) shift(p, i, p, to)
  else if (props.list.phases[p + by])
    shift(p, i, p + by, by > 0 ? 0 : props.list.phases[p + by]!.items.length)
  const id = items[i]!.id
  await nextTick()
  root.value?.querySelector<HTMLElement>(`[data-item="${id}"] .plain`)?.focus()
}

function remove(p: number, i: number) {
  const items = props.list.phases[p]!.items
  emit(
    'change',
    `without ${items[i]!.id}`,
    put(
      props.list,
      ['phases', p, 'items'],
      items.filter((_, n) => n !== i),
    ),
  )
}

async function add(p: number, at: number) {
  const taken = new Set(props.list.phases.flatMap((phase) => phase.items.map((i) => i.id)))
  let n = 1
  while (taken.has(`new-item-${n}`)) n++
  const item: Item = { id: `new-item-${n}`, challenge: '', response: '', why: '' }
  emit(
    'change',
    `new ${item.id}`,
    put(props.list, ['phases', p, 'items'], props.list.phases[p]!.items.toSpliced(at, 0, item)),
  )
  chosen.value = item.id
  await nextTick()
  root.value?.querySelector<HTMLInputElement>(`[data-item="${item.id}"] input[name=challenge]`)?.focus()
}

function addPhase() {
  const taken = new Set(props.list.phases.map((p) => p.id))
  let n = props.list.phases.length + 1
  while (taken.has(`phase-${n}`)) n++
  emit(
    'change',
    'new phase',
    put(props.list, ['phases', props.list.phases.length], {
      id: `phase-${n}`,
      title: `Phase ${n}`,
      items: [],
    }),
  )
}

let sortables: Sortable[] = []
onMounted(() => {
  if (props.readonly || !root.value) return
  sortables = Array.from(root.value.querySelectorAll<HTMLElement>('.items')).map((el) =>
    Sortable.create(el, {
      group: 'items',
      handle: '.grip',
      animation: 120,
      forceFallback: true,
      onEnd(e) {
        const [fromPhase, toPhase] = [Number(e.from.dataset.phase), Number(e.to.dataset.phase)]
        const [from, to] = [e.oldIndex!, e.newIndex!]
        // The element goes back: what is drawn follows the list, not the other way.
        e.from.insertBefore(e.item, e.from.children[from < to && e.from === e.to ? from : from] ?? null)
        if (fromPhase !== toPhase || from !== to) shift(fromPhase, from, toPhase, to)
      },
    }),
  )
})
onBeforeUnmount(() => sortables.forEach((s) => s.destroy()))
</script>

<template>
  <div ref="root" class="editor">
    <p v-for="f in others" :key="f.field + f.reason" class="problem">
      <span class="figure small">{{ f.field.replace('$.', '') }}</span> {{ f.reason }}
    </p>
    <ListPhase
      v-for="(phase, p) in list.phases"
      :key="phase.id"
      :phase="phase"
      :index="p"
      :chosen="phase.items.some((i) => i.id === chosen) ? chosen : ''"
      :problems="problemsOf.get(p)?.problems"
      :desk="desk"
      :before="phase.items.some((i) => i.id === chosen) ? before : none"
      :readonly="readonly"
      @title="emit('change', `title of ${phase.id}`, put(list, ['phases', p, 'title'], $event))"
      @choose="chosen = chosen === $event ? '' : $event"
      @set="(i, field, value) => set(p, i, field, value)"
      @move="(i, by) => move(p, i, by)"
      @remove="remove(p, $event)"
      @add="add(p, $event)"
    />
    <AppButton v-if="!readonly" class="quiet add" @click="addPhase">+ phase</AppButton>
    <ConditionWords v-if="!readonly" :desk="desk" />
  </div>
</template>

<style scoped>
.add {
  min-height: 34px;
  color: var(--soft);
}
</style>
