<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { Pack, Schemas } from '@/schema/schemas'
import { boxText, freeId, setter } from '@/shared/edit'
import { ready, rules } from '@/rules/rules'
import FilePick from '@/shared/FilePick.vue'
import TickList from '@/shared/TickList.vue'
import { classWords } from '@/shared/words'

/** A standards pack being written: tasks, elements, and what of an earlier edition each one is. */
const props = defineProps<{ pack: Pack; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, pack: Pack] }>()
const set = setter(() => props.pack, emit)
const loaded = ref(false)
const said = ref('')
onMounted(async () => {
  await ready('rules')
  loaded.value = true
})
const problems = computed(() => (loaded.value ? (rules.packProblems(props.pack) ?? []) : []))
const fields = [
  ['title', 'Title'],
  ['authority', 'Authority'],
  ['document', 'Document'],
  ['edition', 'Edition'],
  ['note', 'Note, shown wherever the pack is used'],
] as const
const kinds = ['knowledge', 'risk', 'skill']
const classes = computed(() => Object.entries(classWords) as [string, string][])
const replaced = (id: string) =>
  (props.pack.replaces ?? []).map((r, i) => ({ ...r, i })).filter((r) => r.to === id)
function add(task: number, e: Event) {
  const box = e.target as HTMLInputElement
  const words = box.value.trim()
  if (!words) return
  const taken = props.pack.tasks.flatMap((t) => t.elements.map((e) => e.id))
  const id = freeId(rules.slug(words) || 'element', taken)
  const elements = [...props.pack.tasks[task]!.elements, { id, kind: 'skill', text: words }]
  set(['tasks', task, 'elements'], elements)
  box.value = ''
}
function addTask(e: Event) {
  const box = e.target as HTMLInputElement
  const title = box.value.trim()
  const id = rules.slug(title)
  if (!id || props.pack.tasks.some((t) => t.id === id)) return
  set(['tasks'], [...props.pack.tasks, { id, title, elements: [] }])
  box.value = ''
}
function brought(answer: object) {
  const { document, problems } = answer as Schemas['Imported']
  const table = document as Pack | undefined
  said.value = problems.map((m) => `Line ${m.line}: ${m.reason}.`).join(' ')
  if (table && !problems.length)
    emit('change', 'a table', { ...props.pack, tasks: table.tasks, replaces: table.replaces })
}
</script>

<template>
  <div class="pack office">
    <p v-for="f in problems" :key="f.field + f.reason" class="problem">
      <span class="figure small">{{ f.field.replace('$.', '') }}</span> {{ f.reason }}
    </p>
    <p v-if="said" class="problem" role="alert">{{ said }}</p>
    <div class="facts">
      <label v-for="[field, words] in fields" :key="field" :class="{ wide: field === 'note' }"
        >{{ words }}
        <AppInput
          type="text"
          :name="field"
          :value="pack[field]"
          :readonly="readonly"
          @input="set([field], boxText($event))"
      /></label>
    </div>
    <TickList
      v-if="!readonly"
      :model-value="pack.classes"
      :options="classes"
      label="Classes that it covers"
      @update:model-value="set(['classes'], $event)"
    />
    <FilePick
      v-if="!readonly"
      name="pack-table"
      words="Bring in a table of elements"
      accept=".csv,.tsv"
      method="POST"
      :to="(name) => `/api/v1/import/pack?format=csv&name=${encodeURIComponent(name)}`"
      @begin="said = ''"
      @answer="brought"
      @refused="(why) => (said = why)"
    />
    <section v-for="(t, i) in pack.tasks" :key="t.id" :data-task="t.id">
      <h3>
        <AppInput
          type="text"
          :aria-label="`title of ${t.title}`"
          :value="t.title"
          :readonly="readonly"
          @input="set(['tasks', i, 'title'], boxText($event))"
        />
      </h3>
      <div v-for="(e, n) in t.elements" :key="e.id" class="element" :data-element="e.id">
        <AppInput
          type="text"
          class="figure"
          :aria-label="`code of ${e.text}`"
          placeholder="code"
          :value="e.code ?? ''"
          :readonly="readonly"
          @input="set(['tasks', i, 'elements', n, 'code'], boxText($event) || undefined)"
        />
        <AppSelect
          :aria-label="`kind of ${e.text}`"
          :model-value="e.kind"
          :disabled="readonly"
          @update:model-value="set(['tasks', i, 'elements', n, 'kind'], String($event))"
        >
          <option v-for="k in kinds" :key="k">{{ k }}</option>
        </AppSelect>
        <AppInput
          type="text"
          :aria-label="`words of ${e.id}`"
          :value="e.text"
          :readonly="readonly"
          @input="set(['tasks', i, 'elements', n, 'text'], boxText($event))"
        />
        <AppButton
          v-if="!readonly"
          class="quiet"
          :aria-label="`${e.text}: take it away`"
          @click="
            set(
              ['tasks', i, 'elements'],
              t.elements.filter((_, at) => at !== n),
            )
          "
        >
          ×
        </AppButton>
        <p v-for="r in replaced(e.id)" :key="r.i" class="was small">
          <span class="soft">was</span>
          <AppInput
            type="text"
            class="figure"
            aria-label="element of an earlier edition"
            :value="r.from"
            :readonly="readonly"
            @input="set(['replaces', r.i, 'from'], boxText($event))"
          />
          <span class="soft">because</span>
          <AppInput
            type="text"
            aria-label="why its standing carries over"
            :value="r.why"
            :readonly="readonly"
            @input="set(['replaces', r.i, 'why'], boxText($event))"
          />
          <AppButton
            v-if="!readonly"
            class="quiet"
            aria-label="it was none"
            @click="
              set(
                ['replaces'],
                pack.replaces!.filter((_, at) => at !== r.i),
              )
            "
          >
            ×
          </AppButton>
        </p>
        <AppButton
          v-if="!readonly"
          class="quiet was small"
          :data-was="e.id"
          @click="set(['replaces'], [...(pack.replaces ?? []), { from: '', to: e.id, why: '' }])"
        >
          + what it was before
        </AppButton>
      </div>
      <AppInput
        v-if="!readonly"
        type="text"
        :name="`new-element-${t.id}`"
        placeholder="another element: its words, then Enter"
        maxlength="300"
        @change="add(i, $event)"
      />
    </section>
    <AppInput
      v-if="!readonly"
      type="text"
      name="new-task"
      placeholder="another task: its title, then Enter"
      maxlength="100"
      @change="addTask"
    />
  </div>
</template>

<style scoped>
.pack {
  display: grid;
  gap: 12px;
  max-width: 1080px;
}

.facts {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 8px 16px;
}

.wide {
  grid-column: 1 / -1;
}

h3 {
  border-bottom: 1px solid var(--ink);
}

h3 input {
  font-weight: 700;
}

.element {
  display: grid;
  grid-template-columns: 130px 130px minmax(0, 1fr) 40px;
  gap: 4px 8px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--fine);
}

.was {
  grid-column: 3 / -1;
  display: flex;
  gap: 8px;
  align-items: center;
}

button.was {
  justify-self: start;
  min-height: 32px;
  text-decoration: underline;
  color: var(--soft);
}

@media (max-width: 700px) {
  .facts {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }

  .element {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 40px;
  }

  .element > :nth-child(3),
  .was {
    grid-column: 1 / -1;
  }
}
</style>
