<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Draft, Panel, Schemas, StandGuide } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import { oralWords, shape } from '@/shared/words'
import { inWords } from '@/shared/errors'

/** The item that is worked: what to do and why, as far as the mode says, its reading, a question. */
const props = defineProps<{ guide: StandGuide; mode: Schemas['PracticeMode']; moment: number }>()
const emit = defineEmits<{ call: [mark: Record<string, unknown>] }>()
const panel = shallowRef<Panel | null>(null)
const draft = ref<Draft>()
const problem = ref('')
/** A reading is begun when it is asked for: what the stopwatch has counted stands in it. */
function read() {
  draft.value = undefined
  problem.value = ''
  panel.value = rules.standPanel(props.guide.item, {})
  draft.value = panel.value.draft
}
function write(path: string, value: string | boolean) {
  draft.value = { ...draft.value, [path]: value }
  panel.value = rules.standPanel(props.guide.item, draft.value)
}
const needle = (path: string, unit: string) => {
  const at = rules.standRead(props.guide.item, path, unit)
  if (at !== '') write(path, at)
}
function keep() {
  try {
    emit('call', { name: 'reading', item: props.guide.item, draft: draft.value })
    panel.value = null
  } catch (e) {
    problem.value = inWords(e)
  }
}
const boxes = computed(() => panel.value?.boxes ?? [])
const readable = (path: string, unit: string) =>
  props.moment >= 0 && rules.standRead(props.guide.item, path, unit) !== ''
/** Where it is said to be normal or not before the rules say so, they are silent. */
const judged = computed(() => {
  if (!props.guide.kept || !props.mode.judges) return null
  return rules.standPanel(props.guide.item)
})
watch(
  () => props.guide.item,
  () => (panel.value = null),
)
const answered = ref(false)
watch(
  () => props.guide.asked?.id,
  () => (answered.value = false),
)
const oral = (level: number) => {
  const q = props.guide.asked!
  emit('call', { name: 'oral', words: q.ask, bank: q.id, elements: q.elements, level })
}
</script>

<template>
  <section class="item" aria-label="The item that is worked" :data-live="guide.item">
    <p class="what">
      <b>{{ guide.number }} {{ guide.challenge }}</b>
      <span v-if="guide.response">{{ guide.response }}</span>
      <span class="soft small place">{{ guide.place }} of {{ guide.of }}</span>
    </p>
    <p v-if="mode.explains" class="soft small">
      {{ guide.why }} <template v-if="guide.look">Look: {{ guide.look }}.</template>
    </p>
    <p v-if="guide.caution" class="attend small">▲ {{ guide.caution }}</p>
    <p v-if="guide.told" class="attend" role="status" data-part="told">▲ {{ guide.told }}</p>
    <div v-if="guide.asked" class="asked" data-part="asked">
      <p>
        <b>{{ guide.asked.ask }}</b>
      </p>
      <AppButton v-if="!answered" data-action="said" @click="answered = true">Said aloud</AppButton>
      <template v-else>
        <p>{{ guide.asked.answer }}</p>
        <span class="row">
          <AppButton v-for="(said, id) in oralWords" :key="id" :data-oral="id" @click="oral(Number(id))">
            {{ said }}
          </AppButton>
        </span>
      </template>
    </div>
    <template v-if="mode.worked">
      <form v-if="panel" class="reading" @submit.prevent="keep">
        <label
          v-for="b in boxes.filter((b) => b.kind === 'number' && b.taken !== 'timed')"
          :key="b.path"
          class="box"
        >
          <span class="soft small">{{ b.label }} {{ b.row ? b.row.split(' ').at(-1) : '' }}</span>
          <span class="entry">
            <AppInput
              type="text"
              inputmode="decimal"
              autocomplete="off"
              :name="b.path"
              :value="draft?.[b.path]"
              @input="write(b.path, ($event.target as HTMLInputElement).value)"
            />
            <small>{{ b.unit }}</small>
            <AppButton
              v-if="readable(b.path, b.unit)"
              class="quiet"
              :data-read="b.path"
              @click="needle(b.path, b.unit)"
            >
              read
            </AppButton>
            <AppButton
              v-else-if="b.nullable"
              :class="['quiet', { chosen: draft?.[`${b.path}!`] === true }]"
              @click="write(`${b.path}!`, draft?.[`${b.path}!`] !== true)"
            >
              none
            </AppButton>
          </span>
        </label>
        <span class="row">
          <AppButton
            v-for="b in boxes.filter((b) => b.kind === 'flag')"
            :key="b.path"
            :class="{ chosen: draft?.[b.path] === true }"
            :aria-pressed="draft?.[b.path] === true"
            :data-flag="b.path"
            @click="write(b.path, draft?.[b.path] !== true)"
          >
            {{ b.label }}
          </AppButton>
          <template v-for="b in boxes.filter((b) => b.kind === 'choice')" :key="b.path">
            <AppButton
              v-for="v in b.choices"
              :key="v"
              :class="{ chosen: draft?.[b.path] === v }"
              @click="write(b.path, v)"
            >
              {{ v }}
            </AppButton>
          </template>
        </span>
        <p v-if="panel.refusal || problem" class="problem" role="alert">{{ panel.refusal || problem }}</p>
        <span class="row">
          <AppButton type="submit" class="primary" :disabled="!panel.verdict" data-action="keep-reading">
            Keep the reading
          </AppButton>
          <AppButton class="quiet" @click="panel = null">not now</AppButton>
        </span>
      </form>
      <template v-else>
        <p v-if="judged?.verdict" :class="judged.state" data-part="judged">
          {{ shape(judged.state) }} {{ judged.words }}.
          <template v-for="f in judged.verdict.findings" :key="f.code">{{ f.message }} </template>
        </p>
        <span class="row">
          <AppButton v-if="guide.measured" :class="{ primary: !guide.kept }" data-action="read" @click="read">
            {{ guide.kept ? 'Read again' : 'Read' }}
          </AppButton>
          <AppButton
            v-if="!guide.measured || guide.kept"
            class="primary"
            data-action="done"
            @click="emit('call', { name: guide.call })"
          >
            {{ guide.callWords }}
          </AppButton>
          <AppButton data-action="abnormal" @click="emit('call', { name: 'abnormal' })">Not normal</AppButton>
          <AppButton
            v-if="mode.answers"
            class="quiet"
            data-action="ask"
            @click="emit('call', { name: 'ask' })"
          >
            what now?
          </AppButton>
          <AppButton class="quiet" data-action="undo" @click="emit('call', { name: 'undo' })"
            >take back</AppButton
          >
          <slot />
        </span>
      </template>
    </template>
  </section>
</template>

<style scoped>
.item {
  display: grid;
  gap: 6px;
  padding: 10px 24px 12px;
  margin-inline: -24px;
  background: var(--live);
  border-top: 2px solid var(--ink);
  position: sticky;
  bottom: 0;
  z-index: 2;
  max-height: 56vh;
  overflow-y: auto;
}

.what {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
  font-size: 17px;
}

.place {
  margin-left: auto;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.reading {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 6px 10px;
}

.reading .row button {
  min-height: 40px;
  padding-block: 2px;
}

.reading > .row,
.reading > p {
  grid-column: 1 / -1;
}

.box {
  display: grid;
}

.entry {
  display: flex;
  align-items: baseline;
  gap: 4px;
  border: 1px solid var(--ink);
  border-radius: 3px;
  padding-left: 6px;
  background: var(--sheet);
}

.entry input {
  border: 0;
  padding: 0;
  width: 100%;
  min-width: 0;
  font: 700 17px var(--figures);
  background: transparent;
}

.asked {
  display: grid;
  gap: 6px;
  border-left: 3px solid var(--ink);
  padding-left: 10px;
}

@media (max-width: 600px) {
  .item {
    max-height: 38vh;
  }
}
</style>
