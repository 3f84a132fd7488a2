<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { DeskView, Item, Layer, Problem } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import ConditionWords from '@/lists/ConditionWords.vue'
import { put, setter } from '@/shared/edit'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import { changeFields, rankWords } from '@/shared/words'

/** A layer being written: where it comes from, and its changes one by one. */
const props = defineProps<{ layer: Layer; desk: DeskView; problems: Problem[]; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, layer: Layer] }>()
const session = useSession()

type Change = Layer['changes'][number]
const set = setter(() => props.layer, emit)
const text = (e: Event) => (e.target as HTMLInputElement).value || undefined
const facts = [
  ['title', 'Title'],
  ['source', 'Document it comes from'],
  ['date', 'Its day'],
  ['author', 'Author'],
  ['approval', 'Approved by'],
] as const
const fact = (field: string) => String((props.layer as unknown as Record<string, unknown>)[field] ?? '')
const items = computed(() =>
  (props.desk.lists[0]?.phases ?? []).flatMap((p) => p.items.map((i) => ({ phase: p, item: i }))),
)
const itemOf = (id?: string) => items.value.find((i) => i.item.id === id)?.item
const problemsOf = (i: number) => props.problems.filter((f) => f.field.startsWith(`$.changes[${i}]`))
const general = computed(() => props.problems.filter((f) => !f.field.startsWith('$.changes[')))
const operations = [
  ['change', 'changes'],
  ['add', 'adds'],
  ['drop', 'leaves off'],
] as const

function rank(value: string) {
  let next = put(props.layer, ['rank'], value)
  next = put(next, ['instructor'], value === 'instructor' ? session.current!.account : undefined)
  emit('change', 'rank', next)
}

function add() {
  set(['changes', props.layer.changes.length], { op: 'change', item: '', set: {}, why: '' })
}

/** Another operation keeps what both have: the reason, the condition and the item. */
function operation(i: number, op: string) {
  const c = props.layer.changes[i]!
  const next: Change = { op, why: c.why, when: c.when }
  if (op === 'add') {
    const phase = props.desk.lists[0]?.phases[0]
    Object.assign(next, {
      phase: phase?.id,
      follows: phase?.items.at(-1)?.id,
      new: { id: '', challenge: '', response: '', why: '', noStandard: 'No standard names it.' },
    })
  } else Object.assign(next, { item: c.item ?? '', ...(op === 'change' ? { set: c.set ?? {} } : {}) })
  set(['changes', i], next)
}

function setField(i: number, field: string, value: string) {
  const c = props.layer.changes[i]!
  const own = { ...((c.set ?? {}) as Record<string, unknown>) }
  if (value === '') delete own[field]
  else own[field] = field !== 'critical' ? value : value === 'yes' ? true : value === 'no' ? false : value
  set(['changes', i, 'set'], own)
}
const setText = (c: Change, field: string) => {
  const v = (c.set as Record<string, unknown> | undefined)?.[field]
  return v === undefined ? '' : v === true ? 'yes' : v === false ? 'no' : String(v)
}
const oldText = (c: Change, field: string) => {
  const v = (itemOf(c.item) as unknown as Record<string, unknown> | undefined)?.[field]
  return v === true ? 'yes' : String(v ?? '')
}
const newItem = (c: Change) => (c.new ?? {}) as Item & Record<string, unknown>
function setNew(i: number, field: string, value: string) {
  const c = props.layer.changes[i]!
  const next = { ...newItem(c), [field]: value || undefined } as Item
  // The id is made of the first words, and stays once the layer is saved with it.
  if (field === 'challenge' && (!c.new?.id || c.new.id === rules.slug(String(c.new.challenge ?? ''))))
    next.id = rules.slug(value)
  for (const must of ['id', 'challenge', 'response', 'why'] as const) next[must] ??= ''
  set(['changes', i, 'new'], next)
}
const phaseItems = (id?: string) => props.desk.lists[0]?.phases.find((p) => p.id === id)?.items ?? []
</script>

<template>
  <div class="layer office">
    <div class="facts">
      <label
        >Rank
        <SearchSelect
          name="rank"
          :model-value="layer.rank"
          :options="desk.ranks.map((r) => [r, rankWords[r] ?? r])"
          :disabled="readonly"
          @update:model-value="rank(String($event))"
        />
      </label>
      <label v-for="[field, label] in facts" :key="field"
        >{{ label }}
        <AppInput
          :type="field === 'date' ? 'date' : 'text'"
          :name="field"
          :value="fact(field)"
          :readonly="readonly"
          @input="set([field], ($event.target as HTMLInputElement).value)"
        />
      </label>
    </div>
    <p class="soft small">
      Where two layers change the same thing, the higher rank stands: bulletin over handbook over school over
      instructor.
    </p>
    <p v-for="f in general" :key="f.field + f.reason" class="problem">
      <span class="figure small">{{ f.field.replace('$.', '') }}</span> {{ f.reason }}
    </p>
    <section v-for="(c, i) in layer.changes" :key="i" class="change" :data-change="i">
      <h3>
        <span class="figure soft">{{ i + 1 }}</span> It
        <SearchSelect
          :name="`op-${i}`"
          label="What it does"
          :model-value="c.op"
          :options="operations"
          :disabled="readonly"
          @update:model-value="operation(i, String($event))"
        />
        <SearchSelect
          v-if="c.op !== 'add'"
          :name="`item-${i}`"
          label="Item"
          :model-value="c.item ?? ''"
          :options="items.map((it) => [it.item.id, `${it.phase.title}: ${it.item.challenge}`])"
          none="choose the item"
          :disabled="readonly"
          @update:model-value="set(['changes', i, 'item'], $event)"
        />
        <template v-else>
          an item in
          <SearchSelect
            :name="`phase-${i}`"
            label="Phase"
            :model-value="c.phase ?? ''"
            :options="(desk.lists[0]?.phases ?? []).map((p) => [p.id, p.title])"
            :disabled="readonly"
            @update:model-value="set(['changes', i, 'phase'], $event)"
          />
          behind
          <SearchSelect
            :name="`follows-${i}`"
            label="Behind"
            :model-value="c.follows ?? ''"
            :options="phaseItems(c.phase).map((it) => [it.id, it.challenge])"
            none="the beginning"
            :disabled="readonly"
            @update:model-value="set(['changes', i, 'follows'], $event || undefined)"
          />
        </template>
        <AppButton
          v-if="!readonly"
          class="quiet"
          @click="
            set(
              ['changes'],
              layer.changes.filter((_, n) => n !== i),
            )
          "
        >
          take out
        </AppButton>
      </h3>
      <div v-if="c.op === 'change' && c.item" class="pairs">
        <template v-for="f in changeFields.filter((f) => !readonly || setText(c, f) !== '')" :key="f">
          <span class="soft">{{ f }}</span>
          <span class="was">{{ oldText(c, f) || '—' }}</span>
          <AppInput
            type="text"
            :name="`set-${i}-${f}`"
            :placeholder="f === 'critical' ? 'yes or no' : 'stays'"
            :value="setText(c, f)"
            :readonly="readonly"
            @input="setField(i, f, ($event.target as HTMLInputElement).value)"
          />
        </template>
      </div>
      <div v-else-if="c.op === 'add'" class="pairs two">
        <template v-for="f in ['challenge', 'response', 'why', 'look', 'abnormal', 'caution']" :key="f">
          <span class="soft">{{ f }}</span>
          <AppInput
            type="text"
            :name="`new-${i}-${f}`"
            :value="newItem(c)[f]"
            :readonly="readonly"
            @input="setNew(i, f, ($event.target as HTMLInputElement).value)"
          />
        </template>
      </div>
      <div class="pairs two">
        <span class="soft">only when</span>
        <AppInput
          class="figure"
          type="text"
          :name="`when-${i}`"
          placeholder="always; or such as: night or oat &lt; 5 °C"
          :value="c.when"
          :readonly="readonly"
          @input="set(['changes', i, 'when'], text($event))"
        />
        <span class="soft">why</span>
        <AppInput
          type="text"
          :name="`why-${i}`"
          :value="c.why"
          :readonly="readonly"
          @input="set(['changes', i, 'why'], ($event.target as HTMLInputElement).value)"
        />
      </div>
      <p v-for="f in problemsOf(i)" :key="f.field + f.reason" class="problem">
        {{ f.field.replace(/^\$\.changes\[\d+\]\.?/, '') }} {{ f.reason }}
      </p>
    </section>
    <AppButton v-if="!readonly" data-action="add-change" @click="add">+ change</AppButton>
    <ConditionWords :desk="desk" />
  </div>
</template>

<style scoped>
.layer {
  display: grid;
  gap: 12px;
}

.facts {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 14px;
}

.facts input[type='date'] {
  width: 100%;
}

.layer > button {
  justify-self: start;
}

.change {
  border-top: 2px solid var(--ink);
  padding-top: 6px;
  display: grid;
  gap: 6px;
}

h3 {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

h3 .el-select {
  width: 330px;
}

h3 .el-select:first-of-type {
  width: 130px;
}

.pairs {
  display: grid;
  grid-template-columns: 90px minmax(0, 1fr) minmax(0, 1fr);
  gap: 4px 12px;
  align-items: center;
}

.pairs.two {
  grid-template-columns: 90px minmax(0, 1fr);
}

.was {
  line-height: 1.2;
}
</style>
