<script setup lang="ts">
import { nextTick, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { Schemas } from '@/schema/schemas'
import { boxText } from '@/shared/edit'

/** The numbers of one part, as the handbook has them, each beside its page. */
const props = defineProps<{
  part: Schemas['HandbookPart']
  refused: Record<string, string>
  readonly: boolean
}>()
const emit = defineEmits<{
  edit: [edit: Schemas['HandbookEdit']]
  leaveOff: []
  ask: [check: string]
}>()
type Row = Schemas['HandbookRow']
/** What is being typed, as long as it is; core's number comes back after. */
const typing = ref<Record<string, string>>({})
function type(r: Row, e: Event) {
  typing.value = { ...typing.value, [r.path]: boxText(e) }
  emit('edit', { path: r.path, text: boxText(e) })
}
function done(r: Row) {
  if (props.refused[r.path]) return
  typing.value = Object.fromEntries(Object.entries(typing.value).filter(([path]) => path !== r.path))
}
/** The page of the row above is mostly that of the next as well. */
function page(r: Row, e: Event) {
  emit('edit', { path: r.path, page: boxText(e) })
}
function pageAbove(r: Row, i: number, e: Event) {
  const box = e.target as HTMLInputElement
  const above = props.part.rows
    .slice(0, i)
    .reverse()
    .find((o) => o.page)
  if (!r.page && r.text && r.source === '' && above && !props.readonly)
    emit('edit', { path: r.path, page: above.page })
  void nextTick(() => box.select()) // what is typed takes its place
}
</script>

<template>
  <section :aria-label="part.title" data-part="numbers">
    <h2>{{ part.title }}</h2>
    <p class="soft">{{ part.words }}</p>
    <p v-if="!part.rows.length" class="soft">No number is asked for: it is seen or not.</p>
    <div v-else class="head soft small">
      <span>{{ part.check ? 'limit' : 'number' }}</span><span>as the handbook has it</span><span>page</span>
    </div>
    <div
      v-for="(r, i) in part.rows"
      :key="r.path"
      :class="['row', { lacks: r.lacks === 'number' }]"
      :data-number="r.path"
    >
      <label :for="r.path">{{ r.label }}</label>
      <AppSelect
        v-if="r.choices?.length"
        :id="r.path"
        :name="r.path"
        :model-value="r.text"
        :disabled="readonly"
        @update:model-value="emit('edit', { path: r.path, text: String($event) })"
      >
        <option value="">stop</option>
        <option v-for="c in r.choices" :key="c" :value="c">{{ c.replaceAll('-', ' ') }}</option>
      </AppSelect>
      <template v-else>
        <span class="value">
          <AppInput
            :id="r.path"
            :name="r.path"
            type="text"
            inputmode="decimal"
            class="figure"
            :value="typing[r.path] ?? r.text"
            :readonly="readonly || r.table"
            :aria-invalid="!!refused[r.path] || !!r.problem"
            @input="type(r, $event)"
            @change="done(r)"
          />
          <span class="soft">{{ r.unit }}</span>
        </span>
        <AppInput
          type="text"
          class="figure page"
          :name="`${r.path}:page`"
          :aria-label="`page of ${r.label}`"
          :value="r.page"
          :placeholder="r.source === 'habit' ? 'habit' : r.source === 'left' ? 'left out' : r.text ? '?' : ''"
          maxlength="24"
          :readonly="readonly"
          @focus="pageAbove(r, i, $event)"
          @input="page(r, $event)"
        />
      </template>
      <p v-if="refused[r.path]" class="note out">■ {{ r.label }} {{ refused[r.path] }}.</p>
      <p v-else-if="r.problem" class="note out">■ {{ r.problem }}</p>
      <p v-else-if="r.kept || r.was !== undefined" class="note soft small">
        <template v-if="r.kept">kept as {{ r.kept }}</template>
        <template v-if="r.kept && r.was !== undefined">; </template>
        <template v-if="r.was !== undefined">was {{ r.was || 'none' }}</template>
      </p>
      <div v-if="!readonly && r.lacks === 'number' && (r.mayLeave || r.habit)" class="note silent">
        <span class="soft small">{{ r.words }}</span>
        <AppButton v-if="r.mayLeave" :data-leave="r.path" @click="emit('edit', { path: r.path, left: true })">
          Leave it out
        </AppButton>
        <AppButton v-if="r.habit" :data-habit="r.path" @click="emit('edit', { path: r.path, habit: true })">
          Take {{ r.habit }} {{ r.unit }}, our habit
        </AppButton>
      </div>
      <AppButton
        v-else-if="!readonly && r.source === 'left'"
        class="quiet note small"
        @click="emit('edit', { path: r.path, left: false })"
      >
        ask for it after all
      </AppButton>
    </div>
    <AppButton v-if="part.check && !readonly" class="quiet" data-action="leave-off" @click="emit('leaveOff')">
      The handbook gives no limits: leave this check off
    </AppButton>
    <AppButton
      v-else-if="part.equipment && !readonly"
      class="quiet"
      data-action="leave-off"
      @click="emit('leaveOff')"
    >
      It changes no limits of this check
    </AppButton>
    <div v-if="part.fitted?.length && !readonly" class="fitted">
      <span class="soft small">other limits with</span>
      <AppButton v-for="f in part.fitted" :key="f.check" :data-fitted="f.check" @click="emit('ask', f.check)">
        {{ f.title }}
      </AppButton>
    </div>
  </section>
</template>

<style scoped>
h2 {
  font-size: 22px;
  font-weight: 700;
}

.head,
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 190px 84px;
  gap: 4px 10px;
  align-items: center;
}

.head {
  padding-top: 8px;
}

.row {
  padding: 3px 0;
}

.fitted {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  padding-top: 6px;
}

.fitted span {
  flex-basis: 100%;
}

.fitted button {
  min-height: 42px;
}

.value {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
}

.asked .row input[type='text'] {
  text-align: right;
  min-height: 42px;
  font-size: 18px;
  font-weight: 700;
}

.asked .row .page {
  text-align: center;
  font-size: 15px;
  font-weight: 400;
}

.lacks .value input {
  background: var(--live);
}

.page::placeholder {
  color: var(--attend);
  opacity: 1;
  font-size: 13px;
}

select {
  grid-column: 2 / -1;
}

.note {
  grid-column: 1 / -1;
  line-height: 1.3;
  justify-self: start;
}

.silent {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.silent span {
  flex: 1 1 100%;
}

.silent button {
  min-height: 44px;
}

button.note {
  min-height: 32px;
  text-decoration: underline;
}

@media (max-width: 500px) {
  .head,
  .row {
    grid-template-columns: minmax(0, 1fr) 70px;
  }

  .row label,
  .head :first-child {
    grid-column: 1 / -1;
  }

  select {
    grid-column: 1 / -1;
  }
}
</style>
