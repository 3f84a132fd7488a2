<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Aid, DeskView, Problem } from '@/schema/schemas'
import { boxText, setter } from '@/shared/edit'
import SearchSelect from '@/shared/SearchSelect.vue'

/** A memory aid being written: letters, their words and the items they stand for. */
const props = defineProps<{ aid: Aid; desk: DeskView; problems: Problem[]; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, aid: Aid] }>()
const set = setter(() => props.aid, emit)
const phases = computed(() => props.desk.lists[0]?.phases ?? [])
const items = computed(() => phases.value.find((p) => p.id === props.aid.phase)?.items ?? [])
const covered = computed(() => new Set(props.aid.letters.flatMap((l) => l.items ?? [])))
const uncovered = computed(() => items.value.filter((i) => i.critical && !covered.value.has(i.id)))
const choose = (i: number, ids: readonly string[]) =>
  set(['letters', i, 'items'], ids.length ? [...ids] : undefined)
</script>

<template>
  <div class="aid office">
    <div class="facts">
      <label
        >Title
        <AppInput
          type="text"
          name="title"
          :value="aid.title"
          :readonly="readonly"
          @input="set(['title'], boxText($event))"
      /></label>
      <label
        >Phase
        <SearchSelect
          name="phase"
          :model-value="aid.phase"
          :options="phases.map((p) => [p.id, p.title])"
          :disabled="readonly"
          @update:model-value="set(['phase'], $event)"
        />
      </label>
      <label
        >Document it comes from
        <AppInput
          type="text"
          name="source"
          :value="aid.source"
          :readonly="readonly"
          @input="set(['source'], boxText($event))"
      /></label>
    </div>
    <p v-for="f in problems" :key="f.field + f.reason" class="problem">
      <span class="figure small">{{ f.field.replace('$.', '') }}</span> {{ f.reason }}
    </p>
    <div v-for="(l, i) in aid.letters" :key="i" class="letter">
      <AppInput
        type="text"
        class="big"
        maxlength="3"
        :value="l.letter"
        :readonly="readonly"
        aria-label="Letter"
        @input="set(['letters', i, 'letter'], boxText($event))"
      />
      <AppInput
        type="text"
        :value="l.word"
        :readonly="readonly"
        aria-label="Word"
        @input="set(['letters', i, 'word'], boxText($event))"
      />
      <SearchSelect
        multiple
        label="Items"
        :name="`items-${i}`"
        :model-value="l.items ?? []"
        :options="items.map((it) => [it.id, it.challenge])"
        :disabled="readonly"
        @update:model-value="choose(i, $event as string[])"
      />
      <AppButton
        v-if="!readonly"
        class="quiet"
        @click="
          set(
            ['letters'],
            aid.letters.filter((_, n) => n !== i),
          )
        "
      >
        take out
      </AppButton>
    </div>
    <AppButton
      v-if="!readonly"
      data-action="add-letter"
      @click="set(['letters', aid.letters.length], { letter: '', word: '' })"
    >
      + letter
    </AppButton>
    <p v-if="uncovered.length" class="attend">
      ▲ Critical items that no letter reminds of: {{ uncovered.map((i) => i.challenge).join(', ') }}
    </p>
  </div>
</template>

<style scoped>
.aid {
  display: grid;
  gap: 10px;
}

.facts {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 14px;
}

.letter {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 10px;
  align-items: start;
}

.big {
  font: 700 26px var(--figures) !important;
  text-align: center;
}
</style>
